#pragma once

#include "calibration/fit.h"
#include "findings/finding.h"

#include <functional>

namespace fg {

/// The simplest curve that the points support.
struct Recommended {
    FitKind kind = FitKind::Offset;
    std::string why;  ///< one sentence with the numbers
};

/// Compares offset, line, quadratic and cubic by what each point would be off if it had not been used; one power more
/// must take at least a fifth off that, leave two points over, and its coefficient must stand out of its own
/// uncertainty. Errors: those of fitCurve() for the offset.
[[nodiscard]] Expected<Recommended> recommendedFit(std::span<const Comparison> points, double centre,
                                                   bool isOfCorrection, const Unit& unit);

/// What the points are held against; everything in the fit's unit.
struct AdviceContext {
    std::optional<Interval> span;                         ///< of the gauge
    std::optional<double> at;                             ///< where a prediction is wanted
    std::function<double(double reading)> expanded = {};  ///< U of the gauge without calibration; empty: not known
    const Unit* unit = nullptr;
};

/// What is wrong with the comparisons and the curve: too few points, points close together, one that does not fit,
/// a place outside them, a reference no better than the gauge,
/// points that cannot be of this gauge, no uncertainty given, a correction that does not help, a
/// curve that falls. Worst first.
[[nodiscard]] std::vector<Finding> calibrationFindings(std::span<const Comparison> points, const CurveFit& fit,
                                                       const AdviceContext& context);

}  // namespace fg
