#pragma once

#include "numeric/bracketed.h"
#include "units/error.h"

#include <string>
#include <vector>

namespace fg {

/// A formula of the user's own for a part nobody has heard of: the sensor's output as a polynomial or an expression in
/// x, the measurand.
///
/// Units: x in the measurand's canonical unit, the result in the canonical unit of `output`. Must be finite and
/// monotonic over `range`, which must be finite; the inverse is found by bracketing (numeric/bracketed.h). Outside the
/// range it still runs forwards; the inverse is NaN.
class UserFunction {
  public:
    /// c0 + c1·x + c2·x² + …; at least two coefficients.
    [[nodiscard]] static Expected<UserFunction> polynomial(std::vector<double> coefficients, Quantity measurand,
                                                           Quantity output, Interval range);

    /// An expression such as `0.5 + 0.01*x` or `2.5*exp(-x/40)` (muParser syntax; functions sin … log10, sqrt, abs;
    /// constants _pi, _e). A syntax error is told with its position.
    [[nodiscard]] static Expected<UserFunction> expression(const std::string& text, Quantity measurand, Quantity output,
                                                           Interval range);

    [[nodiscard]] double forward(double x) const { return m_function.forward(x); }
    [[nodiscard]] double inverse(double y) const { return m_function.inverse(y); }
    [[nodiscard]] Interval range() const { return m_function.range(); }
    [[nodiscard]] bool isRising() const { return m_function.isRising(); }
    [[nodiscard]] std::string title() const { return "Formula of your own"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double output) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const;

  private:
    UserFunction(Bracketed function, std::string text, Quantity measurand, Quantity output)
        : m_function(std::move(function)), m_text(std::move(text)), m_measurand(measurand), m_output(output) {}
    Bracketed m_function;
    std::string m_text;
    Quantity m_measurand;
    Quantity m_output;
};

}  // namespace fg
