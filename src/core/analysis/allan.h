#pragma once

#include "units/error.h"

#include <span>
#include <vector>

namespace fg {

/// A point of an Allan deviation plot.
struct AllanPoint {
    double averaging_s = 0;  ///< over how long is averaged
    double deviation = 0;    ///< in the unit of the readings
    std::size_t count = 0;   ///< of differences it rests on
};

/// Overlapping Allan deviation of readings at an even interval (IEEE Std 1139-2008, annex; readings in the place of
/// fractional frequencies): how much neighbouring means differ, by how long each is. It falls with more averaging while
/// noise rules, and rises again where drift does: the lowest point is the longest averaging that pays. Averaging times
/// double from one interval to a third of the run. Errors: Missing for fewer than six readings; Range for an interval
/// that is not above 0.
[[nodiscard]] Expected<std::vector<AllanPoint>> allanDeviation(std::span<const double> readings, double interval_s);

}  // namespace fg
