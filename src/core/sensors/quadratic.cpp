#include "sensors/quadratic.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {

Expected<void> checkParabola(double slope, double curvature, double t0_degC, Interval range_degC) {
    if (slope == 0)
        return fail(ErrorCode::Range, "slope", "0", "a slope that is not zero at the reference temperature");
    for (const double t : {range_degC.low, range_degC.high}) {
        const double slopeThere = slope + 2 * curvature * (t - t0_degC);
        if (std::isfinite(t) && slopeThere * slope <= 0)
            return fail(ErrorCode::Range, "curvature", plainNumber(curvature),
                        fmt::format("a parabola that does not turn back before {} °C", plainNumber(t)));
    }
    return {};
}

Expected<Quadratic> quadratic(double y0, double slope, double curvature, double t0_degC, Interval range_degC) {
    for (const double value : {y0, slope, curvature, t0_degC})
        if (!std::isfinite(value)) return fail(ErrorCode::Range, "y0", plainNumber(value), "finite coefficients");
    if (const auto fine = checkParabola(slope, curvature, t0_degC, range_degC); !fine)
        return tl::unexpected(fine.error());
    Quadratic curve;
    curve.y0 = y0;
    curve.slope = slope;
    curve.curvature = curvature;
    curve.t0 = t0_degC;
    curve.fixed.range_degC = range_degC;
    return curve;
}

}  // namespace fg
