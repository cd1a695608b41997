#pragma once

#include <cmath>
#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// Industrial platinum resistance thermometer (Pt100, Pt1000 …), α = 0.00385:
///   t >= 0 °C:  R = R0 · (1 + A·t + B·t²)          t < 0 °C:  R = R0 · (1 + A·t + B·t² + C·(t − 100)·t³)
/// with A = 3.9083e-3 /°C, B = −5.775e-7 /°C², C = −4.183e-12 /°C⁴.
///
/// Units: t in °C (−200 … 850), R0 and R in Ω. The inverse is closed above 0 °C; below it Newton's method on the same
/// polynomial, to the last digits. NaN outside −250 … 1000 °C. Source: IEC 60751:2008, 4.2 (reference function) and
/// table 1.
class Platinum {
  public:
    static constexpr double kA = 3.9083e-3;
    static constexpr double kB = -5.775e-7;
    static constexpr double kC = -4.183e-12;

    [[nodiscard]] static Expected<Platinum> make(double r0_ohm, Interval range_degC);

    [[nodiscard]] double forward(double t) const {
        if (!(t >= -250 && t <= 1000)) return std::nan("");
        const double cold = t < 0 ? kC * (t - 100) * t * t * t : 0;
        return m_r0_ohm * (1 + t * (kA + t * kB) + cold);
    }
    [[nodiscard]] double inverse(double resistance_ohm) const {
        const double ratio = resistance_ohm / m_r0_ohm;
        const double hot = (std::sqrt(kA * kA - 4 * kB * (1 - ratio)) - kA) * (1 / (2 * kB));
        if (!(ratio < 1)) return hot <= 1000 ? hot : std::nan("");
        return coldInverse(ratio, hot);
    }
    [[nodiscard]] Interval range() const { return m_range_degC; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return "Platinum, IEC 60751"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double resistance_ohm) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double temperature_degC) const;

  private:
    Platinum() = default;
    [[nodiscard]] static double coldInverse(double ratio, double start_degC);
    double m_r0_ohm = 100;
    Interval m_range_degC;
};

}  // namespace fg
