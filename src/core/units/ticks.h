#pragma once

#include <cstdint>
#include <vector>

namespace fg {

/// Round values of an axis.
struct Ticks {
    std::vector<double> values;
    int decimals = 0;  ///< that tell them apart
};

/// About so many of them, at steps of 1, 2 or 5 times a power of ten; from the last below `low` to the first above
/// `high`, so that an axis from end to end holds both. `low` < `high`, `about` at least 1.
[[nodiscard]] Ticks ticksOver(double low, double high, int about);

/// The step of a time axis, in microseconds: a usual part of a second, minute, hour or day that gives at most `most`
/// ticks over a length.
[[nodiscard]] std::int64_t timeStepOver(std::int64_t length_us, int most);

}  // namespace fg
