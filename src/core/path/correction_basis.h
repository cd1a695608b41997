#pragma once

#include "numeric/least_squares.h"
#include "path/gauge_spec.h"

#include <functional>
#include <optional>
#include <span>
#include <string_view>

namespace fg {

/// The functions a correction is made of: powers of (reading − centre), or straight lines between points.
struct CorrectionBasis {
    std::size_t count = 1;  ///< powers: 1 offset, 2 line, 3 quadratic, 4 cubic
    double centre = 0;
    bool isTable = false;
    bool isHeld = true;  ///< a curved one stays beyond its points what it is at their ends

    /// Nothing for a kind that is none of the five.
    [[nodiscard]] static std::optional<CorrectionBasis> of(std::string_view kind, double centre);
    [[nodiscard]] bool isCurved() const { return !isTable && isHeld && count > 2; }

    [[nodiscard]] Eigen::RowVectorXd rowAt(double reading) const;
    /// Reference less reading fitted to the readings, weighted by the points' standard uncertainties where all have
    /// one. Errors: those of leastSquares().
    [[nodiscard]] Expected<LeastSquares> fit(std::span<const CalibrationPoint> points) const;
};

/// The same for any functions: `rowAt` gives the `columns` of them at a reading.
[[nodiscard]] Expected<LeastSquares> fitAmounts(std::span<const CalibrationPoint> points, Eigen::Index columns,
                                                const std::function<Eigen::RowVectorXd(double reading)>& rowAt);

}  // namespace fg
