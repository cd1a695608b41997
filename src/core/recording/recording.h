// Room `recording`: raw values kept over time, with the gauge settings that make sense of them.
#pragma once

#include "acquisition/line_reader.h"
#include "path/gauge_spec.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fg {

/// Microseconds since 1970-01-01T00:00:00Z.
using Micros = std::int64_t;
inline constexpr Micros kMicrosASecond = 1'000'000;
[[nodiscard]] Micros microsOf(double seconds);  ///< to the nearest

/// A stretch of time, both ends in it.
struct TimeSpan {
    Micros from_us = 0, to_us = 0;
    [[nodiscard]] bool holds(Micros time_us) const { return time_us >= from_us && time_us <= to_us; }
    [[nodiscard]] double seconds() const {
        return static_cast<double>(to_us - from_us) / static_cast<double>(kMicrosASecond);
    }
    bool operator==(const TimeSpan&) const = default;
};

/// A raw value and when it was measured.
struct RecordedSample {
    Micros time_us = 0;
    Raw raw;
    bool operator==(const RecordedSample&) const = default;
};

/// A gauge as it was described from a time on: with the correction that held then.
struct Description {
    Micros from_us = 0;
    GaugeSpec gauge;
    bool operator==(const Description&) const = default;
};

/// What was recorded of one gauge.
struct Track {
    std::int64_t id = 0;
    std::int64_t gauge = 0;                 ///< its id on the bench
    std::vector<Description> descriptions;  ///< by time; at least one
    std::uint64_t count = 0;                ///< of its samples
    std::optional<TimeSpan> span = {};      ///< from the first to the last of them
    bool isWorkedOut = false;  ///< a derived gauge that was not recorded: `id` and times are those of an input's track

    /// The description in force at a time: the first one before all of them.
    [[nodiscard]] const GaugeSpec& gaugeAt(Micros time_us) const;
    [[nodiscard]] const GaugeSpec& newest() const { return descriptions.back().gauge; }
};

/// What is written beside the samples.
enum class MarkKind {
    Marker,  ///< set by a person
    Gap,     ///< nothing came: the source was away
    Clock,   ///< the computer's clock was set
    Alarm    ///< an alarm was on
};
/// "marker", "gap", "clock", "alarm".
[[nodiscard]] std::string_view markKindName(MarkKind kind);
[[nodiscard]] std::optional<MarkKind> markKindOf(std::string_view name);

struct TimeMark {
    std::int64_t id = 0;
    MarkKind kind = MarkKind::Marker;
    TimeSpan span;           ///< a marker has no length
    std::int64_t gauge = 0;  ///< 0: of all
    std::string text;
    bool operator==(const TimeMark&) const = default;
};

/// Several gauges over one stretch of time.
struct BenchRecording {
    std::int64_t id = 0;
    std::string name;
    std::string source;  ///< where the values came from: "Simulated bench"
    Micros started_us = 0;
    std::optional<Micros> ended_us = {};  ///< nothing: it runs, or the program died
    std::vector<Track> tracks = {};
    std::vector<TimeMark> marks = {};  ///< by time

    /// From the start to the end, or to the last sample.
    [[nodiscard]] TimeSpan span() const;
    [[nodiscard]] const Track* trackOf(std::int64_t gauge) const;
    [[nodiscard]] std::uint64_t samples() const;  ///< of all gauges that were recorded
};

}  // namespace fg
