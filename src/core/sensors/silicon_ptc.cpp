#include "sensors/silicon_ptc.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {

Expected<SiliconPtc> SiliconPtc::make(const Quadratic::Coefficients& c, double r0_ohm, Knee knee, Interval range_degC) {
    auto parabola = Quadratic::make(c, Quantity::Resistance, range_degC);
    if (!parabola) return tl::unexpected(parabola.error());
    if (!(knee.factor >= 0) || !std::isfinite(knee.factor) || (knee.factor > 0 && !(knee.power > 1)))
        return fail(ErrorCode::Range, "knee_factor", plainNumber(knee.factor),
                    "0, or a factor above 0 with a power above 1");
    SiliconPtc ptc(*parabola, c.slope, c.curvature, c.t0_degC);
    ptc.m_r0_ohm = r0_ohm;
    ptc.m_knee = knee;
    ptc.m_kneeOhm = parabola->forward(knee.t1_degC);
    if (knee.factor > 0 && std::isfinite(range_degC.high) && !(ptc.slopeAt(range_degC.high) > 0))
        return fail(ErrorCode::Range, "knee_factor", plainNumber(knee.factor),
                    fmt::format("a resistance that still rises at {} °C", plainNumber(range_degC.high)));
    return ptc;
}

double SiliconPtc::slopeAt(double t_degC) const {
    const double above = t_degC - m_knee.t1_degC, parabola = m_slope + 2 * m_curvature * (t_degC - m_t0_degC);
    return above > 0 ? parabola - m_r0_ohm * m_knee.factor * m_knee.power * std::pow(above, m_knee.power - 1)
                     : parabola;
}

double SiliconPtc::refine(double ohm, double t) const {
    constexpr int kMostSteps = 50;
    for (int i = 0; i < kMostSteps; ++i) {
        const double slope = slopeAt(t);
        if (!(slope > 0)) return std::nan("");  // beyond the top of the curve: no temperature gives it
        const double step = (ohm - forward(t)) / slope;
        t += step;
        if (std::abs(step) <= 1e-13 * (1 + std::abs(t))) return t;
    }
    return std::nan("");
}

std::vector<TraceLine> SiliconPtc::explainInverse(double ohm) const {
    auto lines = m_parabola.explainInverse(ohm);
    if (!(m_knee.factor > 0 && ohm > m_kneeOhm)) return lines;
    const double t = inverse(ohm), above = t - m_knee.t1_degC;
    lines.push_back({"ΔR",
                     fmt::format("{} Ω × {} × {}^{}", plainNumber(m_r0_ohm), plainNumber(m_knee.factor),
                                 plainNumber(above, 7), plainNumber(m_knee.power)),
                     m_r0_ohm * m_knee.factor * std::pow(above, m_knee.power), "ohm",
                     "what the sensor has less above its knee"});
    lines.push_back(
        {"t", fmt::format("where the parabola less ΔR is {} Ω", plainNumber(ohm, 7)), t, "degC", "Newton's method"});
    return lines;
}

std::vector<TraceLine> SiliconPtc::explainForward(double t_degC) const {
    auto lines = m_parabola.explainForward(t_degC);
    if (m_knee.factor > 0 && t_degC > m_knee.t1_degC)
        lines.push_back({"R",
                         fmt::format("y − {} Ω × {} × ({} − {})^{}", plainNumber(m_r0_ohm), plainNumber(m_knee.factor),
                                     plainNumber(t_degC, 7), plainNumber(m_knee.t1_degC), plainNumber(m_knee.power)),
                         forward(t_degC), "ohm", "less above the knee"});
    return lines;
}

}  // namespace fg
