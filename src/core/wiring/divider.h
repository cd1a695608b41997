// Room `wiring`: the networks between a sensor and a converter pin. Each is a Transfer from the sensor's signal to the
// pin's voltage.
#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

#include <cmath>
#include <limits>

namespace fg {

/// Which resistor of the divider is the sensor.
enum class SensorSide {
    Low,  ///< sensor to ground, fixed resistor to the source: U = Us · R/(R + Rf)
    High  ///< sensor to the source, fixed resistor to ground: U = Us · Rf/(R + Rf)
};

/// What may stand around the sensor in its divider besides the fixed resistor.
struct DividerExtras {
    double lead_ohm = 0;      ///< both wires of its cable, in series with it
    double parallel_ohm = 0;  ///< linearising resistor across sensor and cable; 0: none
};

/// A resistive sensor in a two-resistor divider, no load at the tap; its branch is (R + Rlead), or that in parallel
/// with Rp.
///
/// forward: sensor resistance in Ω (0 … ∞) to tap voltage in V (0 … Us). inverse: NaN at and beyond the voltages that
/// no resistance gives (below 0, at or above the source for a low-side sensor). Exact for a converter whose input draws
/// no current. Source: Ohm's and Kirchhoff's laws.
class Divider {
  public:
    [[nodiscard]] static Expected<Divider> make(SensorSide side, double fixed_ohm, double source_V,
                                                DividerExtras extras = {});

    [[nodiscard]] double forward(double sensor_ohm) const {
        return tap_V(m_side, branch(sensor_ohm), m_fixed_ohm, m_source_V);
    }

    /// The formula itself: tap voltage of a branch and a fixed resistor.
    [[nodiscard]] static double tap_V(SensorSide side, double branch_ohm, double fixed_ohm, double source_V) {
        if (side == SensorSide::High) return source_V * fixed_ohm / (branch_ohm + fixed_ohm);
        // an open sensor leaves the tap at the source
        return std::isinf(branch_ohm) ? source_V : source_V * branch_ohm / (branch_ohm + fixed_ohm);
    }
    [[nodiscard]] double inverse(double pin_V) const {
        const double across = m_source_V - pin_V;
        double ohm = m_side == SensorSide::Low ? m_fixed_ohm * pin_V / across : m_fixed_ohm * across / pin_V;
        if (m_isPlain) return ohm >= 0 && ohm < std::numeric_limits<double>::infinity() ? ohm : std::nan("");
        if (m_extras.parallel_ohm > 0)
            ohm = ohm < m_extras.parallel_ohm ? ohm * m_extras.parallel_ohm / (m_extras.parallel_ohm - ohm) : -1;
        ohm -= m_extras.lead_ohm;
        return ohm >= 0 && ohm < std::numeric_limits<double>::infinity() ? ohm : std::nan("");
    }
    /// Through the sensor itself, not through a resistor across it.
    [[nodiscard]] static double sensorCurrent_A(double sensor_ohm, double fixed_ohm, double source_V,
                                                DividerExtras extras) {
        const double own_ohm = sensor_ohm + extras.lead_ohm;
        if (extras.parallel_ohm <= 0) return source_V / (own_ohm + fixed_ohm);
        return source_V * extras.parallel_ohm /
               (own_ohm * extras.parallel_ohm + fixed_ohm * (own_ohm + extras.parallel_ohm));
    }
    [[nodiscard]] Interval range() const { return {0, std::numeric_limits<double>::infinity()}; }
    [[nodiscard]] bool isRising() const { return m_side == SensorSide::Low; }
    [[nodiscard]] std::string title() const {
        return m_side == SensorSide::Low ? "Divider, sensor to ground" : "Divider, sensor to source";
    }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double pin_V) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double sensor_ohm) const;

  private:
    Divider() = default;
    /// Resistance of the sensor's branch.
    [[nodiscard]] double branch(double sensor_ohm) const {
        if (m_isPlain) return sensor_ohm;
        const double wired_ohm = sensor_ohm + m_extras.lead_ohm;
        if (m_extras.parallel_ohm <= 0) return wired_ohm;
        return std::isinf(wired_ohm) ? m_extras.parallel_ohm
                                     : wired_ohm * m_extras.parallel_ohm / (wired_ohm + m_extras.parallel_ohm);
    }
    bool m_isPlain = true;
    DividerExtras m_extras;
    SensorSide m_side = SensorSide::Low;
    double m_fixed_ohm = 0;
    double m_source_V = 0;
};

}  // namespace fg
