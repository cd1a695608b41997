#pragma once

#include "numeric/bracketed.h"

#include <string>
#include <vector>

namespace fg {

/// A part whose curve is stated relative to its own nominal value: y = y0 · (c0 + c1·x + c2·x² + c3·x³).
///
/// x in the measurand's canonical unit, y and y0 in that of `output`. Must rise or fall throughout the (finite) range;
/// the inverse is found by bracketing. Source: the part's data sheet, such as the capacitance and the frequency of
/// humidity parts over %RH.
class ScaledPolynomial {
  public:
    /// Errors: Range when y0 is not above 0 (at `field`) or the curve turns back.
    [[nodiscard]] static Expected<ScaledPolynomial> make(double nominal, std::vector<double> coefficients,
                                                         Quantity measurand, Quantity output, Interval range,
                                                         const std::string& field);

    [[nodiscard]] double forward(double x) const { return m_function.forward(x); }
    [[nodiscard]] double inverse(double y) const { return m_function.inverse(y); }
    [[nodiscard]] Interval range() const { return m_function.range(); }
    [[nodiscard]] bool isRising() const { return m_function.isRising(); }
    [[nodiscard]] std::string title() const { return "Polynomial of its nominal value"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double output) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const;

  private:
    ScaledPolynomial(Bracketed function, double nominal, std::string text, Quantity measurand, Quantity output)
        : m_function(std::move(function)),
          m_nominal(nominal),
          m_text(std::move(text)),
          m_measurand(measurand),
          m_output(output) {}
    Bracketed m_function;
    double m_nominal;
    std::string m_text;
    Quantity m_measurand;
    Quantity m_output;
};

}  // namespace fg
