#pragma once

#include "numeric/transfer.h"
#include "sensors/parameters.h"
#include "units/error.h"

#include <cmath>

namespace fg {

/// NTC thermistor by the three-coefficient equation:  1/T = a + b·ln R + c·(ln R)³,  T in kelvin, R in Ω.
///
/// Units: a in 1/K, b and c in 1/K with ln of the resistance in Ω; temperatures in °C. Domain: R > 0 and 1/T > 0;
/// elsewhere NaN. The resistance for a temperature is the closed solution of the cubic in ln R (Cardano), which exists
/// and is unique for b > 0, c > 0; with c = 0 it is the Beta equation. Error over 200 °C of span is typically below
/// 0.02 °C with coefficients of the same part. Source: J. S. Steinhart, S. R. Hart, "Calibration curves for
/// thermistors", Deep-Sea Research 15 (1968), 497–503.
class SteinhartHart {
  public:
    [[nodiscard]] static Expected<SteinhartHart> make(double a, double b, double c, Interval range_degC);

    /// Through three pairs (t in °C, R in Ω), in any order, solved exactly. Error when two temperatures or two
    /// resistances are equal, when resistance does not fall with temperature, or when the points give coefficients that
    /// are not monotonic.
    [[nodiscard]] static Expected<SteinhartHart> throughPoints(const std::vector<Point>& points_degC_ohm,
                                                               Interval range_degC);

    [[nodiscard]] double forward(double temperature_degC) const;
    [[nodiscard]] double inverse(double resistance_ohm) const {
        const double logR = std::log(resistance_ohm);
        const double inverse_T = m_a + logR * (m_b + m_c * logR * logR);
        return inverse_T > 0 ? 1 / inverse_T - 273.15 : std::nan("");
    }
    [[nodiscard]] Interval range() const { return m_range_degC; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Steinhart–Hart equation"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double resistance_ohm) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double temperature_degC) const;

    [[nodiscard]] double a() const { return m_a; }
    [[nodiscard]] double b() const { return m_b; }
    [[nodiscard]] double c() const { return m_c; }

  private:
    SteinhartHart() = default;
    double m_a = 0;
    double m_b = 0;
    double m_c = 0;
    Interval m_range_degC;
};

}  // namespace fg
