#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

#include <array>

namespace fg {

/// A sensor whose output is a straight line over the measurand: y = offset + slope · x.
///
/// Units: x in the measurand's canonical unit; y in the canonical unit of `output` (V, A, ohm …); slope in y per x (not
/// zero, may be negative), offset in y at x = 0. A ratiometric part's slope and offset are those at its nominal supply,
/// multiplied by actual/nominal supply before they come here. Source: the "transfer function" or "output voltage
/// scaling" table of the part's data sheet; the part file names it.
class StraightLine {
  public:
    /// `slopeField` and `offsetField` name the parameters in errors.
    struct Fields {
        std::string slope;
        std::string offset;
    };
    [[nodiscard]] static Expected<StraightLine> make(double slope, double offset, Quantity measurand, Quantity output,
                                                     Interval range, const Fields& fields);

    /// Through two points (x, y); error when their x or y are equal.
    [[nodiscard]] static Expected<StraightLine> throughPoints(std::array<double, 2> first, std::array<double, 2> second,
                                                              Quantity measurand, Quantity output, Interval range,
                                                              const std::string& field);

    [[nodiscard]] double forward(double measurand) const { return m_offset + m_slope * measurand; }
    [[nodiscard]] double inverse(double output) const { return (output - m_offset) / m_slope; }
    [[nodiscard]] StraightInverse straightInverse() const { return {m_offset, m_slope}; }
    [[nodiscard]] Interval range() const { return m_range; }
    [[nodiscard]] bool isRising() const { return m_slope > 0; }
    [[nodiscard]] std::string title() const { return "Straight line"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double output) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const;

  private:
    StraightLine() = default;
    double m_slope = 1;
    double m_offset = 0;
    Quantity m_measurand = Quantity::Temperature;
    Quantity m_output = Quantity::Voltage;
    Interval m_range;
};

}  // namespace fg
