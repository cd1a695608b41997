#include "sensors/straight_line.h"

#include "numeric/least_squares.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

Expected<std::array<std::array<double, 2>, 2>> endsOfLine(std::span<const std::array<double, 2>> points,
                                                          const std::string& field) {
    if (points.size() == 2) return std::array{points[0], points[1]};
    const auto count = static_cast<Eigen::Index>(points.size());
    Eigen::MatrixXd design(count, 2);
    Eigen::VectorXd y(count);
    double low = INFINITY, high = -INFINITY;
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto& [x, value] = points[static_cast<std::size_t>(i)];
        design.row(i) << 1, x;
        y(i) = value;
        low = std::min(low, x);
        high = std::max(high, x);
    }
    const auto line = leastSquares(design, y);
    if (!line) return tl::unexpected(line.error().within(field));
    const auto at = [&](double x) { return std::array{x, line->coefficients(0) + line->coefficients(1) * x}; };
    return std::array{at(low), at(high)};
}

Expected<LineThroughPoints> lineThroughPoints(std::array<double, 2> first, std::array<double, 2> second,
                                              Quantity measurand, Quantity output, Interval range,
                                              const std::string& field) {
    if (first[0] == second[0])
        return fail(ErrorCode::Range, field, fmt::format("two points at {}", plainNumber(first[0])),
                    "two different values of the measurand");
    if (first[1] == second[1])
        return fail(ErrorCode::Range, field, fmt::format("the output {} at both points", plainNumber(first[1])),
                    "an output that changes");
    LineThroughPoints line;
    line.x1 = first[0];
    line.y1 = first[1];
    line.x2 = second[0];
    line.y2 = second[1];
    line.fixed.argument = symbolOf(measurand);
    line.fixed.result = symbolOf(output);
    line.fixed.range = range;
    line.fixed.source = "straight line through two points";
    line.fixed.slopeUnit = slopeUnit(output, measurand);
    return checkedLine(line, field, field);
}

}  // namespace fg
