#include "analysis/pairing.h"

#include <algorithm>

namespace fg {

Pairs pairsOf(const Selection& first, const Selection& second, double longest_s, std::size_t most) {
    Pairs pairs;
    if (first.times_s.empty() || second.times_s.empty()) return pairs;
    const double later_s = static_cast<double>(second.first_us - first.first_us) / static_cast<double>(kMicrosASecond);
    const std::size_t step = std::max<std::size_t>(1, first.times_s.size() / most);
    for (std::size_t i = 0; i < first.times_s.size(); i += step) {
        const double time_s = first.times_s[i] - later_s;
        const auto after = std::lower_bound(second.times_s.begin(), second.times_s.end(), time_s);
        if (after == second.times_s.end()) break;
        const auto at = static_cast<std::size_t>(after - second.times_s.begin());
        double value = second.values[at];
        if (*after != time_s) {
            if (at == 0) continue;
            const double before_s = second.times_s[at - 1];
            if (*after - before_s > longest_s) continue;
            const double part = (time_s - before_s) / (*after - before_s);
            value = second.values[at - 1] + part * (value - second.values[at - 1]);
        }
        pairs.times_s.push_back(first.times_s[i]);
        pairs.first.push_back(first.values[i]);
        pairs.second.push_back(value);
    }
    return pairs;
}

}  // namespace fg
