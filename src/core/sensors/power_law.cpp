#include "sensors/power_law.h"

#include <fmt/format.h>
#include "units/number_format.h"

namespace fg {

Expected<PowerLaw> powerLaw(double r10_ohm, double gamma, Interval range_lx) {
    if (!(r10_ohm > 0) || !std::isfinite(r10_ohm))
        return fail(ErrorCode::Range, "r10_ohm", plainNumber(r10_ohm), "a resistance above 0 Ω at 10 lx");
    if (!(gamma > 0) || !std::isfinite(gamma))
        return fail(ErrorCode::Range, "gamma", plainNumber(gamma), "a gamma above 0 (usually 0.5 … 0.9)");
    PowerLaw cell;
    cell.r10 = r10_ohm;
    cell.gamma = gamma;
    cell.fixed.range_lx = range_lx;
    return cell;
}

Expected<PowerLaw> powerLawThrough(double first_lx, double first_ohm, double second_lx, double second_ohm,
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
    return powerLaw(first_ohm * std::pow(first_lx / 10, gamma), gamma, range_lx);
}

}  // namespace fg
