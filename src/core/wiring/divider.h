// Room `wiring`: the networks between a sensor and a converter pin. Each is a Transfer from the sensor's signal to the pin's voltage.
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

/// A resistive sensor in a two-resistor divider, no load at the tap.
///
/// forward: sensor resistance in Ω (0 … ∞) to tap voltage in V (0 … Us). inverse: NaN at and beyond the voltages that no resistance gives
/// (below 0, at or above the source for a low-side sensor). Exact for a converter whose input draws no current.
/// Source: Ohm's and Kirchhoff's laws.
class Divider {
  public:
    [[nodiscard]] static Expected<Divider> make(SensorSide side, double fixed_ohm, double source_V);

    [[nodiscard]] double forward(double sensor_ohm) const {
        if (m_side == SensorSide::High) return m_source_V * m_fixed_ohm / (sensor_ohm + m_fixed_ohm);
        // an open sensor leaves the tap at the source
        return std::isinf(sensor_ohm) ? m_source_V : m_source_V * sensor_ohm / (sensor_ohm + m_fixed_ohm);
    }
    [[nodiscard]] double inverse(double tap_V) const {
        const double across = m_source_V - tap_V;
        const double ohm = m_side == SensorSide::Low ? m_fixed_ohm * tap_V / across : m_fixed_ohm * across / tap_V;
        return ohm >= 0 && ohm < std::numeric_limits<double>::infinity() ? ohm : std::nan("");
    }
    [[nodiscard]] Interval range() const { return {0, std::numeric_limits<double>::infinity()}; }
    [[nodiscard]] bool isRising() const { return m_side == SensorSide::Low; }
    [[nodiscard]] std::string title() const {
        return m_side == SensorSide::Low ? "Divider, sensor to ground" : "Divider, sensor to source";
    }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double tap_V) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double sensor_ohm) const;

  private:
    Divider() = default;
    SensorSide m_side = SensorSide::Low;
    double m_fixed_ohm = 0;
    double m_source_V = 0;
};

}  // namespace fg
