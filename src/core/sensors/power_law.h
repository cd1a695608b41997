#pragma once

#include <cmath>
#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// Photoresistor: R = R10 · (E/10 lx)^(−γ).
///
/// Units: E in lx (> 0), R and R10 in Ω; γ without unit, 0.4 … 1.2 for cadmium cells. NaN for E or R not above 0. The
/// law holds over two or three decades around 10 lx; parts scatter by a factor of two, so without a calibration the
/// result is an order of magnitude, not a measurement. Source: photocell data sheets, definition of gamma: γ =
/// log(R10/R100)/log(100/10).
class PowerLaw {
  public:
    [[nodiscard]] static Expected<PowerLaw> make(double r10_ohm, double gamma, Interval range_lx);

    /// γ and R10 from two measured points (lx, Ω).
    [[nodiscard]] static Expected<PowerLaw> throughPoints(double first_lx, double first_ohm, double second_lx,
                                                          double second_ohm, Interval range_lx);

    [[nodiscard]] double forward(double illuminance_lx) const {
        return illuminance_lx > 0 ? m_r10_ohm * std::pow(illuminance_lx / 10, -m_gamma) : std::nan("");
    }
    [[nodiscard]] double inverse(double resistance_ohm) const {
        return resistance_ohm > 0 ? 10 * std::pow(resistance_ohm / m_r10_ohm, -1 / m_gamma) : std::nan("");
    }
    [[nodiscard]] Interval range() const { return m_range_lx; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Power law, R10 and γ"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double resistance_ohm) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double illuminance_lx) const;
    [[nodiscard]] double r10_ohm() const { return m_r10_ohm; }
    [[nodiscard]] double gamma() const { return m_gamma; }

  private:
    PowerLaw() = default;
    double m_r10_ohm = 0;
    double m_gamma = 0;
    Interval m_range_lx;
};

}  // namespace fg
