#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

#include <cmath>

namespace fg {

inline constexpr double kKelvinAt0degC = 273.15;

/// NTC thermistor by the two-parameter (Beta) equation:  R(T) = R0 · exp(B · (1/T − 1/T0)),  T in kelvin.
///
/// Units: temperatures in °C, R0 in Ω at T0 (25 °C unless the data sheet says otherwise), B in K. Domain: T > −273.15
/// °C, R > 0; elsewhere NaN. The equation is an approximation: a B taken between 25 °C and 85 °C is typically good to
/// 0.1 … 1 °C in between and worse beyond; use SteinhartHart or a table where that matters. Source: IEC 60539-1, 3.12
/// (B-value) and the R–T relation given there.
class NtcBeta {
  public:
    [[nodiscard]] static Expected<NtcBeta> make(double r0_ohm, double beta_K, double t0_degC, Interval range_degC);

    [[nodiscard]] double forward(double temperature_degC) const {
        const double temperature_K = temperature_degC + kKelvinAt0degC;
        return temperature_K > 0 ? resistance_ohm(m_r0_ohm, m_beta_K, m_inverseT0, temperature_K) : std::nan("");
    }

    /// The equation itself; kelvin above 0, inverseT0 in 1/K.
    [[nodiscard]] static double resistance_ohm(double r0_ohm, double beta_K, double inverseT0, double temperature_K) {
        return r0_ohm * std::exp(beta_K * (1 / temperature_K - inverseT0));
    }

    [[nodiscard]] double inverse(double sensor_ohm) const {
        // log of a negative resistance is NaN by itself; 0 Ω and ∞ Ω leave the domain through 1/T <= 0.
        const double inverse_T = m_inverseT0 + std::log(sensor_ohm / m_r0_ohm) / m_beta_K;
        return inverse_T > 0 ? 1 / inverse_T - kKelvinAt0degC : std::nan("");
    }
    [[nodiscard]] Interval range() const { return m_range_degC; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Beta equation"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double resistance_ohm) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double temperature_degC) const;

  private:
    NtcBeta() = default;
    double m_r0_ohm = 0;
    double m_beta_K = 0;
    double m_t0_K = 0;
    double m_inverseT0 = 0;
    Interval m_range_degC;
};

}  // namespace fg
