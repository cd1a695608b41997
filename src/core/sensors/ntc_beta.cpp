#include "sensors/ntc_beta.h"

#include "units/number_format.h"

namespace fg {

Expected<NtcBeta> ntcBeta(double r0_ohm, double beta_K, double t0_degC, Interval range_degC) {
    if (!(r0_ohm > 0) || !std::isfinite(r0_ohm))
        return fail(ErrorCode::Range, "r25_ohm", plainNumber(r0_ohm), "a resistance above 0 Ω");
    if (!(beta_K > 0) || !std::isfinite(beta_K))
        return fail(ErrorCode::Range, "beta_K", plainNumber(beta_K), "a B-value above 0 K (usually 3000 … 4500)");
    if (!(t0_degC > -kKelvinAt0degC) || !std::isfinite(t0_degC))
        return fail(ErrorCode::Range, "t0_degC", plainNumber(t0_degC), "a temperature above −273.15 °C");
    NtcBeta ntc;
    ntc.r0 = r0_ohm;
    ntc.beta = beta_K;
    ntc.t0 = t0_degC;
    ntc.fixed.range_degC = range_degC;
    return ntc;
}

}  // namespace fg
