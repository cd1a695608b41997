#include "wiring/reciprocal.h"

#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <cmath>
#include <limits>

namespace fg {

Expected<Reciprocal> Reciprocal::make(double factor, double stray, Quantity input, Quantity output, std::string title,
                                      std::string formula) {
    if (!(factor > 0) || !std::isfinite(factor))
        return fail(ErrorCode::Range, "wiring", plainNumber(factor), "values above 0");
    if (!(stray >= 0) || !std::isfinite(stray))
        return fail(ErrorCode::Range, "wiring.stray_F", plainNumber(stray), "a capacitance of 0 F or above");
    Reciprocal network;
    network.m_factor = factor;
    network.m_stray = stray;
    network.m_input = input;
    network.m_output = output;
    network.m_title = std::move(title);
    network.m_formula = std::move(formula);
    return network;
}

double Reciprocal::forward(double signal) const {
    const double sum = signal + m_stray;
    return sum > 0 ? 1 / (m_factor * sum) : std::nan("");
}

double Reciprocal::inverse(double arriving) const {
    const double signal = arriving > 0 ? 1 / (m_factor * arriving) - m_stray : -1;
    return signal > 0 ? signal : std::nan("");
}

Interval Reciprocal::range() const { return {0, std::numeric_limits<double>::infinity()}; }

std::vector<TraceLine> Reciprocal::explainInverse(double arriving) const {
    const Unit& out = canonicalUnit(m_output);
    const Unit& in = canonicalUnit(m_input);
    const std::string stray = m_stray == 0 ? "" : fmt::format(" − {} {}", plainNumber(m_stray), in.symbol);
    return {{m_input == Quantity::Capacitance ? "C" : "f",
             fmt::format("1/({}{} {}){}", m_formula, plainNumber(arriving, 7), out.symbol, stray), inverse(arriving),
             std::string(in.id), m_title}};
}

std::vector<TraceLine> Reciprocal::explainForward(double signal) const {
    const Unit& in = canonicalUnit(m_input);
    std::string sum = fmt::format("{} {}", plainNumber(signal, 7), in.symbol);
    if (m_stray != 0) sum = fmt::format("({} + {} {})", sum, plainNumber(m_stray), in.symbol);
    return {{m_output == Quantity::Frequency ? "f" : "T", fmt::format("1/({}{})", m_formula, sum), forward(signal),
             std::string(canonicalUnit(m_output).id), m_title}};
}

}  // namespace fg
