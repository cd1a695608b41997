#include "path/correction_basis.h"

#include <algorithm>
#include <array>

namespace fg {

std::optional<CorrectionBasis> CorrectionBasis::of(std::string_view kind, double centre) {
    constexpr std::array<std::string_view, 4> kPowers{"offset", "line", "quadratic", "cubic"};
    if (kind == "table") return CorrectionBasis{0, 0, true};
    const auto* const it = std::find(kPowers.begin(), kPowers.end(), kind);
    if (it == kPowers.end()) return std::nullopt;
    return CorrectionBasis{static_cast<std::size_t>(it - kPowers.begin()) + 1, centre, false};
}

Eigen::RowVectorXd CorrectionBasis::rowAt(double reading) const {
    Eigen::RowVectorXd row(static_cast<Eigen::Index>(count));
    double power = 1;
    for (double& one : row) {
        one = power;
        power *= reading - centre;
    }
    return row;
}

Expected<LeastSquares> CorrectionBasis::fit(std::span<const CalibrationPoint> points) const {
    return fitAmounts(points, static_cast<Eigen::Index>(count), [this](double reading) { return rowAt(reading); });
}

Expected<LeastSquares> fitAmounts(std::span<const CalibrationPoint> points, Eigen::Index columns,
                                  const std::function<Eigen::RowVectorXd(double reading)>& rowAt) {
    const auto size = static_cast<Eigen::Index>(points.size());
    Eigen::MatrixXd design(size, columns);
    Eigen::VectorXd amounts(size), u(size);
    for (Eigen::Index i = 0; i < size; ++i) {
        const CalibrationPoint& point = points[static_cast<std::size_t>(i)];
        design.row(i) = rowAt(point.reading);
        amounts(i) = point.reference - point.reading;
        u(i) = point.u;
    }
    const bool isWeighted = size > 0 && u.minCoeff() > 0;
    return leastSquares(design, amounts, isWeighted ? u : Eigen::VectorXd());
}

}  // namespace fg
