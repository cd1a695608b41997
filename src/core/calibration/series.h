#pragma once

#include "units/error.h"

#include <span>

namespace fg {

/// What a run of readings of one thing says of its noise.
struct SeriesStatistics {
    std::size_t count = 0;
    double mean = 0;
    double deviation = 0;  ///< standard deviation of one reading (JCGM 100:2008, 4.2.2)
    /// Of the mean: deviation/√n where the noise is white (4.2.3), wider where neighbours are alike.
    double meanStandard = 0;
    double scatter = 0;        ///< standard deviation about a straight line through them: the noise without the drift
    double drift = 0;          ///< slope of a straight line, a reading (or a second, with times)
    double driftStandard = 0;  ///< its standard uncertainty, taken as white
    bool isDrifting = false;   ///< it stands out of its uncertainty, and out of the noise over the run
    double neighbours = 0;     ///< correlation of a reading with the next one, the drift taken off; −1 … 1
    bool isWhite = true;       ///< that correlation could be chance
    double independent = 0;    ///< as many readings as would be worth the same if they were independent
};

/// `times` are empty or as many as the values, ascending. Errors: Missing for fewer than two values; Range for times
/// that do not rise.
[[nodiscard]] Expected<SeriesStatistics> statisticsOf(std::span<const double> values,
                                                      std::span<const double> times = {});

}  // namespace fg
