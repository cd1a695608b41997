#include "sensors/platinum.h"

#include <fmt/format.h>
#include "units/number_format.h"

namespace fg {
namespace {
constexpr const char* kSource = "IEC 60751:2008, 4.2";
}

Expected<Platinum> Platinum::make(double r0_ohm, Interval range_degC) {
    if (!(r0_ohm > 0) || !std::isfinite(r0_ohm))
        return fail(ErrorCode::Range, "r0_ohm", plainNumber(r0_ohm), "a resistance above 0 Ω at 0 °C");
    Platinum element;
    element.m_r0_ohm = r0_ohm;
    element.m_range_degC = range_degC;
    return element;
}

double Platinum::coldInverse(double ratio, double start_degC) {
    // The parabola's root is within 2.5 °C of the solution down to −200 °C; convergence is quadratic from there.
    double t = start_degC;
    for (int step = 0; step < 8; ++step) {
        const double value = 1 + t * (kA + t * kB) + kC * (t - 100) * t * t * t - ratio;
        const double slope = kA + 2 * kB * t + kC * (4 * t - 300) * t * t;
        const double next = t - value / slope;
        if (next == t) break;
        t = next;
    }
    return t >= -250 ? t : std::nan("");
}

std::vector<TraceLine> Platinum::explainInverse(double resistance_ohm) const {
    const double ratio = resistance_ohm / m_r0_ohm;
    std::vector<TraceLine> lines{
        {"R/R0", fmt::format("{} Ω/{} Ω", plainNumber(resistance_ohm, 7), plainNumber(m_r0_ohm)), ratio, "", kSource}};
    if (ratio >= 1)
        lines.push_back({"t", fmt::format("(−A + √(A² − 4B(1 − {})))/(2B)", plainNumber(ratio, 8)),
                         inverse(resistance_ohm), "degC", "IEC 60751, t >= 0 °C: A 3.9083e-3, B −5.775e-7"});
    else
        lines.push_back({"t", fmt::format("solve 1 + At + Bt² + C(t − 100)t³ = {}", plainNumber(ratio, 8)),
                         inverse(resistance_ohm), "degC", "IEC 60751, t < 0 °C: C −4.183e-12; Newton"});
    return lines;
}

std::vector<TraceLine> Platinum::explainForward(double t) const {
    const char* cold = t < 0 ? " + C(t − 100)t³" : "";
    return {{"R", fmt::format("{} Ω × (1 + At + Bt²{}), t = {} °C", plainNumber(m_r0_ohm), cold, plainNumber(t, 8)),
             forward(t), "ohm", kSource}};
}

}  // namespace fg
