#include "sensors/quadratic.h"

#include <fmt/format.h>
#include "units/number_format.h"
#include "units/unit.h"

namespace fg {
namespace {
constexpr const char* kSource = "part's parabola: y = y0 + s·d + q·d²";
}

Expected<Quadratic> Quadratic::make(const Coefficients& c, Quantity output, Interval range_degC) {
    for (const double value : {c.y0, c.slope, c.curvature, c.t0_degC})
        if (!std::isfinite(value)) return fail(ErrorCode::Range, "y0", plainNumber(value), "finite coefficients");
    if (c.slope == 0)
        return fail(ErrorCode::Range, "slope", "0", "a slope that is not zero at the reference temperature");
    for (const double t : {range_degC.low, range_degC.high}) {
        const double slopeThere = c.slope + 2 * c.curvature * (t - c.t0_degC);
        if (std::isfinite(t) && slopeThere * c.slope <= 0)
            return fail(ErrorCode::Range, "curvature", plainNumber(c.curvature),
                        fmt::format("a parabola that does not turn back before {} °C", plainNumber(t)));
    }
    Quadratic curve;
    curve.m_c = c;
    curve.m_sign = c.slope > 0 ? 1 : -1;
    curve.m_output = output;
    curve.m_range_degC = range_degC;
    return curve;
}

std::vector<TraceLine> Quadratic::explainInverse(double output) const {
    const std::string_view unit = canonicalUnit(m_output).symbol;
    const double r = output - m_c.y0;
    const double root = std::sqrt(m_c.slope * m_c.slope + 4 * m_c.curvature * r);
    return {{"r", fmt::format("{} {} − {} {}", plainNumber(output, 7), unit, plainNumber(m_c.y0), unit), r,
             std::string(canonicalUnit(m_output).id), kSource},
            {"√D", fmt::format("√({}² + 4 × {} × {})", term(m_c.slope), term(m_c.curvature), term(r)), root, "",
             "discriminant"},
            {"t",
             fmt::format("{} °C + 2 × {}/({} {} {})", plainNumber(m_c.t0_degC), term(r), plainNumber(m_c.slope),
                         m_c.slope > 0 ? "+" : "−", plainNumber(root, 7)),
             inverse(output), "degC", "root on the branch of the range"}};
}

std::vector<TraceLine> Quadratic::explainForward(double temperature_degC) const {
    const double d = temperature_degC - m_c.t0_degC;
    const Unit& unit = canonicalUnit(m_output);
    return {{"d", fmt::format("{} °C − {} °C", plainNumber(temperature_degC, 8), plainNumber(m_c.t0_degC)), d, "degC",
             kSource},
            {"y",
             fmt::format("{} + {} × {} + {} × {}²", plainNumber(m_c.y0), term(m_c.slope, 8), term(d),
                         term(m_c.curvature, 8), term(d)),
             forward(temperature_degC), std::string(unit.id), kSource}};
}

}  // namespace fg
