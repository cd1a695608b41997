// Room `analysis`: what a stretch of a recording says of its noise, its drift, its steps.
#pragma once

#include "calibration/series.h"
#include "recording/track_reader.h"

#include <optional>
#include <vector>

namespace fg {

/// Readings of a stretch, as they are computed with. Canonical.
struct Selection {
    std::vector<double> times_s;  ///< from the first on
    std::vector<double> values;   ///< as many; only readings that have a value and are no limit
    std::vector<double> words;    ///< the raw values of the same; empty for bytes
    std::uint64_t notValid = 0;   ///< without a value, or only a limit
    Micros first_us = 0;
};

/// At most the newest `most` samples of a span of a track. Errors: those of the reader.
[[nodiscard]] Expected<Selection> selectionOf(TrackReader& reader, TimeSpan span, std::size_t most = 2'000'000);

/// How often a code came, about the mean.
struct CodeCount {
    int offset = 0;  ///< codes from the mean code
    std::size_t count = 0;
};

struct SelectionStatistics {
    SeriesStatistics series;            ///< mean, noise (scatter), drift a second
    double peakToPeak = 0;              ///< about the straight line
    std::optional<double> noise_codes;  ///< scatter of the raw values
    std::vector<CodeCount> histogram;   ///< of whole codes, ascending; empty where they spread over more than 40
    std::uint64_t notValid = 0;
    /// How much a mean of so many neighbours scatters, as it was: sixteen of them. Nothing with fewer than four means.
    std::optional<double> meanOf16;
    static constexpr std::size_t kMean = 16;

    [[nodiscard]] double driftPerHour() const { return kHour_s * series.drift; }
    [[nodiscard]] double driftPerHourStandard() const { return kHour_s * series.driftStandard; }
    /// How much the straight line changes over a time.
    [[nodiscard]] double changeOver(double seconds) const { return series.drift * seconds; }

  private:
    static constexpr double kHour_s = 3600;
};

/// Errors: those of statisticsOf(); Missing for fewer than three readings.
[[nodiscard]] Expected<SelectionStatistics> statisticsOf(const Selection& selection);

/// The noise of readings that also move: from second differences of neighbours, in which a slope takes no part (their
/// deviation is √6 times the noise's), by their median, which steps do not disturb. 0 for fewer than three values.
[[nodiscard]] double neighbourNoise(std::span<const Reading> readings);

/// How many neighbours to average so that twice the scatter of their mean is at most `wanted`, from what their means
/// really scattered (neighbours that are alike average less well): 1, 2, 4 … a quarter of the readings. Nothing where
/// none of them is enough: then it is drift, not noise.
[[nodiscard]] std::optional<std::size_t> averageFor(const Selection& selection, double wanted);

}  // namespace fg
