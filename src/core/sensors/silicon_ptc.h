#pragma once

#include "sensors/quadratic.h"

namespace fg {

/// Silicon PTC: R = R0·(1 + α·d + β·d²), d = t − t0, less R0·C·(t − t1)^D above a knee t1.
///
/// Units: °C, Ω; α in 1/K, β in 1/K², C in 1/K^D. Monotonic over `range` (checked at its end). Inverse above the knee
/// by Newton's method from the parabola's root, to the last bits of a double; NaN where there is none. Source: KTY81
/// series data sheet, "resistance versus temperature"; without a knee (C = 0) the parabola alone.
class SiliconPtc {
  public:
    struct Knee {
        double t1_degC = 0;
        double factor = 0;  ///< C; 0: no knee
        double power = 1;   ///< D
    };
    [[nodiscard]] static Expected<SiliconPtc> make(const Quadratic::Coefficients& parabola, double r0_ohm, Knee knee,
                                                   Interval range_degC);

    [[nodiscard]] double forward(double t_degC) const {
        const double above = t_degC - m_knee.t1_degC;
        const double parabola = m_parabola.forward(t_degC);
        return m_knee.factor > 0 && above > 0 ? parabola - m_r0_ohm * m_knee.factor * std::pow(above, m_knee.power)
                                              : parabola;
    }
    [[nodiscard]] double inverse(double ohm) const {
        const double t = m_parabola.inverse(ohm);
        return m_knee.factor > 0 && ohm > m_kneeOhm ? refine(ohm, t) : t;
    }
    [[nodiscard]] Interval range() const { return m_parabola.range(); }
    [[nodiscard]] bool isRising() const { return m_parabola.isRising(); }
    [[nodiscard]] std::string title() const { return "Silicon PTC"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double ohm) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double t_degC) const;

  private:
    SiliconPtc(Quadratic parabola, double slopeAtT0, double curvature, double t0_degC)
        : m_parabola(parabola), m_slope(slopeAtT0), m_curvature(curvature), m_t0_degC(t0_degC) {}
    [[nodiscard]] double slopeAt(double t_degC) const;
    [[nodiscard]] double refine(double ohm, double from_degC) const;
    Quadratic m_parabola;
    double m_slope, m_curvature, m_t0_degC;
    double m_r0_ohm = 0, m_kneeOhm = 0;
    Knee m_knee;
};

}  // namespace fg
