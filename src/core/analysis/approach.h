#pragma once

#include "units/error.h"

#include <span>

namespace fg {

/// An exponential approach: end + (start − end)·exp(−t/τ), t from the first reading.
struct Approach {
    double start = 0;
    double end = 0, endStandard = 0;  ///< where it is heading for
    double timeConstant_s = 0, timeConstantStandard_s = 0;
    double scatter = 0;  ///< of the readings about the curve
    [[nodiscard]] double at(double time_s) const;
    /// Expanded uncertainties, k = 2.
    [[nodiscard]] double endExpanded() const { return 2 * endStandard; }
    [[nodiscard]] double timeConstantExpanded_s() const { return 2 * timeConstantStandard_s; }
};

/// Fits it to readings by least squares: for each τ start and end are a straight problem, τ itself is searched for.
/// `times_s` rise, from any beginning. Errors: Missing for fewer than five readings; Domain where the run shows no
/// approach: it does not bend, or only noise moves.
[[nodiscard]] Expected<Approach> fitApproach(std::span<const double> times_s, std::span<const double> readings);

}  // namespace fg
