#include "recording/recording.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr std::array<std::string_view, 4> kKinds{"marker", "gap", "clock", "alarm"};

}  // namespace

Micros microsOf(double seconds) { return std::llround(seconds * static_cast<double>(kMicrosASecond)); }

const GaugeSpec& Track::gaugeAt(Micros time_us) const {
    const auto after = std::upper_bound(descriptions.begin(), descriptions.end(), time_us,
                                        [](Micros time, const Description& one) { return time < one.from_us; });
    return after == descriptions.begin() ? after->gauge : std::prev(after)->gauge;
}

std::string_view markKindName(MarkKind kind) { return kKinds[static_cast<std::size_t>(kind)]; }

std::optional<MarkKind> markKindOf(std::string_view name) {
    const auto it = std::find(kKinds.begin(), kKinds.end(), name);
    if (it == kKinds.end()) return std::nullopt;
    return static_cast<MarkKind>(it - kKinds.begin());
}

TimeSpan BenchRecording::span() const {
    TimeSpan whole{started_us, ended_us.value_or(started_us)};
    for (const Track& track : tracks) {
        if (!track.span) continue;
        whole.from_us = std::min(whole.from_us, track.span->from_us);
        whole.to_us = std::max(whole.to_us, track.span->to_us);
    }
    return whole;
}

std::uint64_t BenchRecording::samples() const {
    std::uint64_t count = 0;
    for (const Track& track : tracks) count += track.isWorkedOut ? 0 : track.count;
    return count;
}

const Track* BenchRecording::trackOf(std::int64_t gauge) const {
    const auto it = std::find_if(tracks.begin(), tracks.end(), [&](const Track& one) { return one.gauge == gauge; });
    return it == tracks.end() ? nullptr : &*it;
}

}  // namespace fg
