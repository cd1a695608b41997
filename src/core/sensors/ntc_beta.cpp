#include "sensors/ntc_beta.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {
constexpr const char* kSource = "Beta equation, IEC 60539-1";
}

Expected<NtcBeta> NtcBeta::make(double r0_ohm, double beta_K, double t0_degC, Interval range_degC) {
    if (!(r0_ohm > 0) || !std::isfinite(r0_ohm))
        return fail(ErrorCode::Range, "r25_ohm", plainNumber(r0_ohm), "a resistance above 0 Ω");
    if (!(beta_K > 0) || !std::isfinite(beta_K))
        return fail(ErrorCode::Range, "beta_K", plainNumber(beta_K), "a B-value above 0 K (usually 3000 … 4500)");
    if (!(t0_degC > -kKelvinAt0degC) || !std::isfinite(t0_degC))
        return fail(ErrorCode::Range, "t0_degC", plainNumber(t0_degC), "a temperature above −273.15 °C");
    NtcBeta ntc;
    ntc.m_r0_ohm = r0_ohm;
    ntc.m_beta_K = beta_K;
    ntc.m_t0_K = t0_degC + kKelvinAt0degC;
    ntc.m_inverseT0 = 1 / ntc.m_t0_K;
    ntc.m_range_degC = range_degC;
    return ntc;
}

std::vector<TraceLine> NtcBeta::explainInverse(double resistance_ohm) const {
    const double logarithm = std::log(resistance_ohm / m_r0_ohm);
    const double temperature_K = 1 / (m_inverseT0 + logarithm / m_beta_K);
    return {
        {"ln(R/R25)", fmt::format("ln({} Ω/{} Ω)", plainNumber(resistance_ohm, 7), plainNumber(m_r0_ohm)), logarithm,
         "", kSource},
        {"T", fmt::format("1/(1/{} K + {}/{} K)", plainNumber(m_t0_K), term(logarithm), plainNumber(m_beta_K)),
         temperature_K, "K", kSource},
        {"t", fmt::format("{} K − 273.15 K", plainNumber(temperature_K, 8)), inverse(resistance_ohm), "degC",
         "Celsius scale, NIST SP 811 B.8"},
    };
}

std::vector<TraceLine> NtcBeta::explainForward(double temperature_degC) const {
    const double temperature_K = temperature_degC + kKelvinAt0degC;
    return {
        {"T", fmt::format("{} °C + 273.15 K", plainNumber(temperature_degC, 8)), temperature_K, "K",
         "Celsius scale, NIST SP 811 B.8"},
        {"R",
         fmt::format("{} Ω × exp({} K × (1/{} K − 1/{} K))", plainNumber(m_r0_ohm), plainNumber(m_beta_K),
                     plainNumber(temperature_K, 8), plainNumber(m_t0_K)),
         forward(temperature_degC), "ohm", kSource},
    };
}

}  // namespace fg
