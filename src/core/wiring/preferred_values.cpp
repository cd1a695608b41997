#include "wiring/preferred_values.h"

#include <cmath>
#include <map>

namespace fg {
namespace {

const std::vector<double> kE24{1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                               3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};

std::vector<double> computed(int count) {
    std::vector<double> values;
    for (int i = 0; i < count; ++i)
        values.push_back(std::round(100 * std::pow(10.0, static_cast<double>(i) / count)) / 100);
    // The one value of the standard that the rule misses: 10^(185/192) rounds to 9.19.
    if (count == 192) values[185] = 9.20;
    return values;
}

}  // namespace

const std::vector<double>& mantissas(Series series) {
    static const std::map<Series, std::vector<double>> all = [] {
        std::map<Series, std::vector<double>> map;
        for (const Series coarse : {Series::E3, Series::E6, Series::E12, Series::E24})
            for (std::size_t i = 0; i < kE24.size(); i += 24 / static_cast<std::size_t>(coarse))
                map[coarse].push_back(kE24[i]);
        for (const Series fine : {Series::E48, Series::E96, Series::E192}) map[fine] = computed(static_cast<int>(fine));
        return map;
    }();
    return all.at(series);
}

std::vector<double> preferredValues(Series series, Interval within) {
    std::vector<double> values;
    if (!(within.low > 0) || !(within.high >= within.low) || !std::isfinite(within.high)) return values;
    constexpr double kRounding = 1e-9;
    const int firstDecade = static_cast<int>(std::floor(std::log10(within.low) + kRounding));
    const int lastDecade = static_cast<int>(std::floor(std::log10(within.high) + kRounding));
    for (int decade = firstDecade; decade <= lastDecade; ++decade)
        for (const double mantissa : mantissas(series)) {
            // From a whole number of hundredths by one operation: 33/100 is the double nearest to 0.33, 3.3 × 0.1 is
            // not.
            const double hundredths = std::round(100 * mantissa);
            const double value =
                decade >= 2 ? hundredths * std::pow(10.0, decade - 2) : hundredths / std::pow(10.0, 2 - decade);
            if (value >= within.low * (1 - kRounding) && value <= within.high * (1 + kRounding))
                values.push_back(value);
        }
    return values;
}

}  // namespace fg
