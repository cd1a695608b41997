#pragma once

#include "analysis/selection.h"

namespace fg {

/// Two selections at the same times.
struct Pairs {
    std::vector<double> times_s;  ///< from the first one's first sample on
    std::vector<double> first, second;
};

/// The second straight between its samples at each time of the first, where those are no further apart than
/// `longest_s`; other times are left out. Thinned evenly to at most `most`.
[[nodiscard]] Pairs pairsOf(const Selection& first, const Selection& second, double longest_s, std::size_t most = 2000);

}  // namespace fg
