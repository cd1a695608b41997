#include "analysis/allan.h"

#include <cmath>
#include <string>

namespace fg {

Expected<std::vector<AllanPoint>> allanDeviation(std::span<const double> readings, double interval_s) {
    constexpr std::size_t kLeast = 6;
    if (readings.size() < kLeast)
        return fail(ErrorCode::Missing, "readings", std::to_string(readings.size()), "six at least");
    if (!(interval_s > 0))
        return fail(ErrorCode::Range, "interval", std::to_string(interval_s), "a time above 0 between readings");
    // Sums of the readings so far, about the first: means of any stretch are differences of two.
    std::vector<double> sums(readings.size() + 1, 0);
    for (std::size_t i = 0; i < readings.size(); ++i) sums[i + 1] = sums[i] + (readings[i] - readings[0]);
    std::vector<AllanPoint> points;
    for (std::size_t m = 1; 3 * m <= readings.size(); m *= 2) {
        double sum = 0;
        const std::size_t count = readings.size() - 2 * m + 1;
        for (std::size_t i = 0; i < count; ++i) {
            const double difference = (sums[i + 2 * m] - sums[i + m]) - (sums[i + m] - sums[i]);
            sum += difference * difference;
        }
        const auto size = static_cast<double>(m);
        points.push_back({size * interval_s, std::sqrt(sum / (2 * size * size * static_cast<double>(count))), count});
    }
    return points;
}

}  // namespace fg
