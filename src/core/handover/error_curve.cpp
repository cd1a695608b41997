#include "handover/error_curve.h"

#include <algorithm>
#include <cmath>

namespace fg {

std::vector<CodeErrorBand> errorBands(const CodeRange& range, std::size_t bands,
                                      const std::function<double(std::int64_t code)>& errorAt) {
    std::vector<CodeErrorBand> curve;
    const std::int64_t count = range.size();
    constexpr std::int64_t kMostCodes = 20'000;
    const std::int64_t stride = std::max<std::int64_t>(1, count / kMostCodes);
    const std::int64_t width = std::max<std::int64_t>(stride, (count + static_cast<std::int64_t>(bands) - 1) /
                                                                  static_cast<std::int64_t>(bands));
    for (std::int64_t from = range.first; from <= range.last; from += width) {
        const std::int64_t to = std::min(from + width - 1, range.last);
        CodeErrorBand band{from + (to - from) / 2, HUGE_VAL, -HUGE_VAL};
        for (std::int64_t at = from; at <= to; at += stride) {
            const double error = errorAt(at);
            if (std::isnan(error)) continue;
            band.low = std::min(band.low, error);
            band.high = std::max(band.high, error);
        }
        if (band.low <= band.high) curve.push_back(band);
    }
    return curve;
}

}  // namespace fg
