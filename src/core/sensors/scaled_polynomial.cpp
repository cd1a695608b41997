#include "sensors/scaled_polynomial.h"

#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {

double polynomial(const std::vector<double>& c, double x) {
    double value = 0;
    for (std::size_t i = c.size(); i-- > 0;) value = value * x + c[i];
    return value;
}

std::string textOf(const std::vector<double>& c) {
    std::string text = plainNumber(c.empty() ? 0 : c[0]);
    for (std::size_t i = 1; i < c.size(); ++i)
        text += fmt::format(" + {}·x{}", term(c[i], 8),
                            i == 1 ? "" : (i == 2 ? "²" : (i == 3 ? "³" : "^" + std::to_string(i))));
    return text;
}

}  // namespace

Expected<ScaledPolynomial> ScaledPolynomial::make(double nominal, std::vector<double> coefficients, Quantity measurand,
                                                  Quantity output, Interval range, const std::string& field) {
    if (!(nominal > 0) || !std::isfinite(nominal))
        return fail(ErrorCode::Range, field, plainNumber(nominal),
                    fmt::format("a value above 0 {}", canonicalUnit(output).symbol));
    std::string text = textOf(coefficients);
    auto function =
        Bracketed::make([nominal, c = std::move(coefficients)](double x) { return nominal * polynomial(c, x); }, range,
                        "c1");
    if (!function) return tl::unexpected(function.error());
    return ScaledPolynomial(std::move(*function), nominal, std::move(text), measurand, output);
}

std::vector<TraceLine> ScaledPolynomial::explainInverse(double output) const {
    const Unit& unit = canonicalUnit(m_measurand);
    const std::string_view out = canonicalUnit(m_output).symbol;
    return {{"y/y0", fmt::format("{} {}/{} {}", plainNumber(output, 7), out, plainNumber(m_nominal), out),
             output / m_nominal, "1", "relative to the part's nominal value"},
            {"x", fmt::format("root of {} = {}", m_text, plainNumber(output / m_nominal, 7)), inverse(output),
             std::string(unit.id), "part's data sheet, solved by bracketing"}};
}

std::vector<TraceLine> ScaledPolynomial::explainForward(double measurand) const {
    const Unit& out = canonicalUnit(m_output);
    return {
        {"y",
         fmt::format("{} {} × ({}) at x = {}", plainNumber(m_nominal), out.symbol, m_text, plainNumber(measurand, 7)),
         forward(measurand), std::string(out.id), "part's data sheet"}};
}

}  // namespace fg
