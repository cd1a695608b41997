#pragma once

#include <cmath>
#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// A sensor whose output is a parabola around a reference temperature: y = y0 + s·d + q·d², d = t − t0.
///
/// Units: t and t0 in °C; y, y0 in the canonical unit of `output`; s in y/°C, q in y/°C². Monotonic over `range`
/// (checked); the inverse is the root on that branch, NaN where the parabola does not reach. Silicon PTCs give y =
/// R25·(1 + α·d + β·d²): s = R25·α, q = R25·β. Curved analog parts give the parabola of their transfer table. Source:
/// named in the part file. Accuracy of the inverse: rounding only, the stable form of the quadratic formula is used.
class Quadratic {
  public:
    struct Coefficients {
        double y0 = 0;
        double slope = 0;
        double curvature = 0;
        double t0_degC = 25;
    };
    [[nodiscard]] static Expected<Quadratic> make(const Coefficients& coefficients, Quantity output,
                                                  Interval range_degC);

    [[nodiscard]] double forward(double temperature_degC) const {
        const double d = temperature_degC - m_c.t0_degC;
        return m_c.y0 + d * (m_c.slope + d * m_c.curvature);
    }
    [[nodiscard]] double inverse(double output) const {
        // d = r/(h + √(h² + qr)), h = s/2, with the root's sign that of s: no cancellation for small q, and the branch
        // through t0.
        const double r = output - m_c.y0, half = m_c.slope / 2;
        return m_c.t0_degC + r / (half + m_sign * std::sqrt(half * half + m_c.curvature * r));
    }
    [[nodiscard]] Interval range() const { return m_range_degC; }
    [[nodiscard]] bool isRising() const { return m_c.slope > 0; }
    [[nodiscard]] std::string title() const { return "Parabola"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double output) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double temperature_degC) const;

  private:
    Quadratic() = default;
    Coefficients m_c;
    double m_sign = 1;  // of the slope
    Quantity m_output = Quantity::Voltage;
    Interval m_range_degC;
};

}  // namespace fg
