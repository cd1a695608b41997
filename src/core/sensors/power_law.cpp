#include "sensors/power_law.h"

#include <fmt/format.h>
#include "units/number_format.h"

namespace fg {
namespace {
constexpr const char* kSource = "photocell data sheets: γ = log(R10/R100)/log(100/10)";
}

Expected<PowerLaw> PowerLaw::make(double r10_ohm, double gamma, Interval range_lx) {
    if (!(r10_ohm > 0) || !std::isfinite(r10_ohm))
        return fail(ErrorCode::Range, "r10_ohm", plainNumber(r10_ohm), "a resistance above 0 Ω at 10 lx");
    if (!(gamma > 0) || !std::isfinite(gamma))
        return fail(ErrorCode::Range, "gamma", plainNumber(gamma), "a gamma above 0 (usually 0.5 … 0.9)");
    PowerLaw cell;
    cell.m_r10_ohm = r10_ohm;
    cell.m_gamma = gamma;
    cell.m_range_lx = range_lx;
    return cell;
}

Expected<PowerLaw> PowerLaw::throughPoints(double first_lx, double first_ohm, double second_lx, double second_ohm,
                                           Interval range_lx) {
    for (const double value : {first_lx, second_lx, first_ohm, second_ohm})
        if (!(value > 0) || !std::isfinite(value))
            return fail(ErrorCode::Range, "points_lx_ohm", plainNumber(value), "illuminances and resistances above 0");
    if (first_lx == second_lx)
        return fail(ErrorCode::Range, "points_lx_ohm", fmt::format("two points at {} lx", plainNumber(first_lx)),
                    "two different illuminances");
    const double gamma = -std::log(second_ohm / first_ohm) / std::log(second_lx / first_lx);
    if (!(gamma > 0))
        return fail(ErrorCode::Range, "points_lx_ohm", "a resistance that rises with light",
                    "one that falls as it gets brighter");
    return make(first_ohm * std::pow(first_lx / 10, gamma), gamma, range_lx);
}

std::vector<TraceLine> PowerLaw::explainInverse(double resistance_ohm) const {
    return {{"E",
             fmt::format("10 lx × ({} Ω/{} Ω)^(−1/{})", plainNumber(resistance_ohm, 7), plainNumber(m_r10_ohm, 7),
                         plainNumber(m_gamma, 5)),
             inverse(resistance_ohm), "lx", kSource}};
}

std::vector<TraceLine> PowerLaw::explainForward(double illuminance_lx) const {
    return {{"R",
             fmt::format("{} Ω × ({} lx/10 lx)^(−{})", plainNumber(m_r10_ohm, 7), plainNumber(illuminance_lx, 7),
                         plainNumber(m_gamma, 5)),
             forward(illuminance_lx), "ohm", kSource}};
}

}  // namespace fg
