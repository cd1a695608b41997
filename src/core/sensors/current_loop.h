#pragma once

#include "sensors/straight_line.h"

namespace fg {

/// A two-wire transmitter, 4 mA at the low end of its span and 20 mA at the high end (IEC 60381-1).
///
/// forward: measurand (canonical) to current in A, straight on beyond the span. inverse: NaN at kFaultLow_A and below,
/// and at kFaultHigh_A and above: such currents are no values but say that the transmitter or its loop has failed
/// (NAMUR NE 43).
class CurrentLoop {
  public:
    static constexpr double kSpanLow_A = 0.004, kSpanHigh_A = 0.020;
    static constexpr double kFaultLow_A = 0.0036, kFaultHigh_A = 0.021;

    /// `low` and `high`: the values at 4 and 20 mA. Error: Range at `field` when they are equal.
    [[nodiscard]] static Expected<CurrentLoop> make(double low, double high, Quantity measurand, Interval range,
                                                    const std::string& field);

    [[nodiscard]] static bool isFault(double current_A) {
        return !(current_A > kFaultLow_A && current_A < kFaultHigh_A);
    }
    [[nodiscard]] double forward(double measurand) const { return m_line.forward(measurand); }
    [[nodiscard]] double inverse(double current_A) const {
        return isFault(current_A) ? std::nan("") : m_line.inverse(current_A);
    }
    [[nodiscard]] Interval range() const { return m_line.range(); }
    [[nodiscard]] bool isRising() const { return m_line.isRising(); }
    [[nodiscard]] std::string title() const { return "4–20 mA loop"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double current_A) const {
        return m_line.explainInverse(current_A);
    }
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const {
        return m_line.explainForward(measurand);
    }
    [[nodiscard]] std::string refusal(double current_A) const;

  private:
    explicit CurrentLoop(StraightLine line) : m_line(line) {}
    StraightLine m_line;
};

}  // namespace fg
