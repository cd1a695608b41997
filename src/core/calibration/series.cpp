#include "calibration/series.h"

#include "numeric/least_squares.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

Expected<SeriesStatistics> statisticsOf(std::span<const double> values, std::span<const double> times) {
    if (values.size() < 2)
        return fail(ErrorCode::Missing, "readings", fmt::format("{}", values.size()), "two at least");
    for (std::size_t i = 1; i < times.size(); ++i)
        if (!(times[i] > times[i - 1]))
            return fail(ErrorCode::Range, "time", fmt::format("row {} not later than the one before", i + 1),
                        "times that rise");
    const auto size = static_cast<Eigen::Index>(values.size());
    const auto n = static_cast<double>(values.size());
    const Eigen::Map<const Eigen::VectorXd> y(values.data(), size);
    SeriesStatistics series;
    series.count = values.size();
    series.mean = y.mean();
    // About the first value: readings of one thing are large against their differences.
    const Eigen::VectorXd from = y.array() - y(0);
    series.mean = y(0) + from.mean();
    series.deviation = std::sqrt((from.array() - from.mean()).square().sum() / (n - 1));
    series.independent = n;
    if (values.size() >= 3) {
        Eigen::MatrixXd design(size, 2);
        for (Eigen::Index i = 0; i < size; ++i)
            design.row(i) << 1, times.empty() ? static_cast<double>(i) : times[static_cast<std::size_t>(i)] - times[0];
        const auto line = leastSquares(design, from);
        if (!line) return tl::unexpected(line.error());
        series.drift = line->coefficients(1);
        series.scatter = line->scatter();
        series.driftStandard = line->scatter() * std::sqrt(line->covariance(1, 1));
        const double over = std::abs(series.drift) * (design(size - 1, 1) - design(0, 1));
        series.isDrifting = std::abs(series.drift) > 3 * series.driftStandard && over > line->scatter();
        const Eigen::VectorXd& rest = line->residuals;
        const double sum = rest.squaredNorm();
        if (sum > 0 && size >= 8) {
            series.neighbours = rest.head(size - 1).dot(rest.tail(size - 1)) / sum;
            series.isWhite = std::abs(series.neighbours) < 2 / std::sqrt(n);
            // A first-order process: n readings are worth n(1 − r)/(1 + r).
            if (!series.isWhite) {
                const double r = std::clamp(series.neighbours, -0.99, 0.99);
                series.independent = std::max(1.0, n * (1 - r) / (1 + r));
            }
        }
    }
    series.meanStandard = series.deviation / std::sqrt(std::min(n, series.independent));
    return series;
}

}  // namespace fg
