#pragma once

#include "handover/formula_code.h"

#include <functional>

namespace fg {

/// The least and the largest error among neighbouring codes, for a plot.
struct CodeErrorBand {
    std::int64_t code = 0;  ///< in their middle
    double low = 0, high = 0;
};

/// The error over the codes of the range in at most `bands` steps; where there are more codes than can be run in a
/// second, over so many of them. Codes whose error is NaN are left out.
[[nodiscard]] std::vector<CodeErrorBand> errorBands(const CodeRange& range, std::size_t bands,
                                                    const std::function<double(std::int64_t code)>& errorAt);

}  // namespace fg
