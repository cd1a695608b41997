#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// A sensor whose output voltage is a straight line over the measurand: U = offset + slope · x.
///
/// Units: x in the measurand's canonical unit, slope in V per that unit (not zero, may be negative), offset in V at x = 0.
/// A ratiometric part's slope and offset are those at its nominal supply, multiplied by actual/nominal supply before they come here.
/// Source: the "transfer function" or "output voltage scaling" table of the part's datasheet; the part file names it.
class LinearVoltage {
  public:
    [[nodiscard]] static Expected<LinearVoltage> make(double slope_V_per_unit, double offset_V, Quantity measurand, Interval range);

    [[nodiscard]] double forward(double measurand) const { return m_offset_V + m_slope * measurand; }
    [[nodiscard]] double inverse(double voltage_V) const { return (voltage_V - m_offset_V) / m_slope; }
    [[nodiscard]] Interval range() const { return m_range; }
    [[nodiscard]] bool isRising() const { return m_slope > 0; }
    [[nodiscard]] std::string title() const { return "Straight line"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double voltage_V) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const;

  private:
    LinearVoltage() = default;
    double m_slope = 1;
    double m_offset_V = 0;
    Quantity m_measurand = Quantity::Temperature;
    Interval m_range;
};

}  // namespace fg
