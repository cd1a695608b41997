#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// Every network whose output is in proportion to the sensor's signal: U = factor · signal + offset.
///
///   load, shunt        U = I · R                       transimpedance  U = I · Rf
///   attenuator         U = U0 · Rb/(Rt + Rb)           amplifier       U = U0 · G + Uoffset
///   current source     U = R · I0               oscillator's period  T = C · ln 2 · (R1 + 2 R2) + the stray
///   capacitance's
///
/// Units: the signal's canonical unit to V, or to s for the period. Source: Ohm's law; the ideal operational amplifier
/// for the two active ones.
class Proportional {
  public:
    /// `formula` is shown in the trace with numbers put in: "4.7 kΩ × {}" with the signal in place of {}. Error when
    /// the factor is zero or not finite.
    [[nodiscard]] static Expected<Proportional> make(double factor, double offset, Quantity input, std::string title,
                                                     std::string formula, const std::string& field,
                                                     Quantity output = Quantity::Voltage);

    [[nodiscard]] double forward(double signal) const { return m_factor * signal + m_offset; }
    [[nodiscard]] double inverse(double pin_V) const { return (pin_V - m_offset) / m_factor; }
    [[nodiscard]] StraightInverse straightInverse() const { return {m_offset, m_factor}; }
    [[nodiscard]] Interval range() const;
    [[nodiscard]] bool isRising() const { return m_factor > 0; }
    [[nodiscard]] std::string title() const { return m_title; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double pin_V) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double signal) const;

  private:
    Proportional() = default;
    double m_factor = 1;
    double m_offset = 0;
    Quantity m_input = Quantity::Voltage, m_output = Quantity::Voltage;
    std::string m_title;
    std::string m_formula;
};

}  // namespace fg
