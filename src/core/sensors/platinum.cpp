#include "sensors/platinum.h"

#include "units/number_format.h"

namespace fg {

Expected<Platinum> platinum(double r0_ohm, Interval range_degC) {
    if (!(r0_ohm > 0) || !std::isfinite(r0_ohm))
        return fail(ErrorCode::Range, "r0_ohm", plainNumber(r0_ohm), "a resistance above 0 Ω at 0 °C");
    Platinum element;
    element.r0 = r0_ohm;
    element.fixed.range_degC = range_degC;
    return element;
}

}  // namespace fg
