#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// Networks whose output is one over the signal: y = 1/(factor · (x + stray)).
///
///   RC oscillator of a timer circuit in astable connection   f = 1/(ln 2 · (R1 + 2 R2) · (C + Cstray))
///   the period of a frequency                                 T = 1/f
///
/// Units: x in the canonical unit of `input`, y in that of `output`. x + stray must be above 0, else NaN. Source: the
/// charging of a capacitor between one and two thirds of the supply; data sheets of such timers, "astable operation".
class Reciprocal {
  public:
    /// Error when factor is not above 0 or stray below 0. `formula` stands in the trace with numbers put in.
    [[nodiscard]] static Expected<Reciprocal> make(double factor, double stray, Quantity input, Quantity output,
                                                   std::string title, std::string formula);

    [[nodiscard]] double forward(double signal) const;
    [[nodiscard]] double inverse(double arriving) const;
    [[nodiscard]] Interval range() const;
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return m_title; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double arriving) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double signal) const;

  private:
    Reciprocal() = default;
    double m_factor = 1;
    double m_stray = 0;
    Quantity m_input = Quantity::Frequency;
    Quantity m_output = Quantity::Time;
    std::string m_title;
    std::string m_formula;
};

}  // namespace fg
