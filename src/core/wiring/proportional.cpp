#include "wiring/proportional.h"

#include <fmt/format.h>
#include <cmath>
#include <limits>
#include "units/number_format.h"
#include "units/unit.h"

namespace fg {

Expected<Proportional> Proportional::make(double factor, double offset_V, Quantity input, std::string title, std::string formula,
                                          const std::string& field) {
    if (!(factor > 0) || !std::isfinite(factor)) return fail(ErrorCode::Range, "wiring." + field, plainNumber(factor), "values above 0");
    if (!std::isfinite(offset_V)) return fail(ErrorCode::Range, "wiring.offset_V", plainNumber(offset_V), "a voltage");
    Proportional network;
    network.m_factor = factor;
    network.m_offset_V = offset_V;
    network.m_input = input;
    network.m_title = std::move(title);
    network.m_formula = std::move(formula);
    return network;
}

Interval Proportional::range() const {
    constexpr double infinite = std::numeric_limits<double>::infinity();
    return {m_input == Quantity::Resistance ? 0 : -infinite, infinite};
}

std::vector<TraceLine> Proportional::explainInverse(double pin_V) const {
    const Unit& unit = canonicalUnit(m_input);
    const std::string above =
        m_offset_V == 0 ? plainNumber(pin_V, 7) + " V" : fmt::format("({} V − {} V)", plainNumber(pin_V, 7), term(m_offset_V));
    return {{m_input == Quantity::Current      ? "I"
             : m_input == Quantity::Resistance ? "R"
                                               : "U0",
             fmt::format("{}/({})", above, m_formula), inverse(pin_V), std::string(unit.id), m_title}};
}

std::vector<TraceLine> Proportional::explainForward(double signal) const {
    const std::string offset = m_offset_V == 0 ? "" : fmt::format(" + {} V", term(m_offset_V));
    return {{"U", fmt::format("{} {} × ({}){}", plainNumber(signal, 7), canonicalUnit(m_input).symbol, m_formula, offset), forward(signal),
             "V", m_title}};
}

}  // namespace fg
