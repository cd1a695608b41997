#include "wiring/proportional.h"

#include <fmt/format.h>
#include <cmath>
#include <limits>
#include "units/number_format.h"
#include "units/unit.h"

namespace fg {

Expected<Proportional> Proportional::make(double factor, double offset, Quantity input, std::string title,
                                          std::string formula, const std::string& field, Quantity output) {
    if (!(factor > 0) || !std::isfinite(factor))
        return fail(ErrorCode::Range, "wiring." + field, plainNumber(factor), "values above 0");
    if (!std::isfinite(offset)) return fail(ErrorCode::Range, "wiring.offset_V", plainNumber(offset), "a voltage");
    Proportional network;
    network.m_factor = factor;
    network.m_offset = offset;
    network.m_input = input;
    network.m_output = output;
    network.m_title = std::move(title);
    network.m_formula = std::move(formula);
    return network;
}

Interval Proportional::range() const {
    constexpr double infinite = std::numeric_limits<double>::infinity();
    return {m_input == Quantity::Resistance || m_input == Quantity::Capacitance ? 0 : -infinite, infinite};
}

namespace {

std::string symbolOf(Quantity quantity) {
    switch (quantity) {
        case Quantity::Current:
            return "I";
        case Quantity::Resistance:
            return "R";
        case Quantity::Capacitance:
            return "C";
        case Quantity::Time:
            return "T";
        default:
            return "U";
    }
}

}  // namespace

std::vector<TraceLine> Proportional::explainInverse(double output) const {
    const Unit &unit = canonicalUnit(m_input), &outUnit = canonicalUnit(m_output);
    const std::string value = fmt::format("{} {}", plainNumber(output, 7), outUnit.symbol);
    const std::string above =
        m_offset == 0 ? value : fmt::format("({} − {} {})", value, term(m_offset), outUnit.symbol);
    return {{m_input == Quantity::Voltage ? "U0" : symbolOf(m_input), fmt::format("{}/({})", above, m_formula),
             inverse(output), std::string(unit.id), m_title}};
}

std::vector<TraceLine> Proportional::explainForward(double signal) const {
    const Unit& outUnit = canonicalUnit(m_output);
    const std::string offset = m_offset == 0 ? "" : fmt::format(" + {} {}", term(m_offset), outUnit.symbol);
    return {{symbolOf(m_output),
             fmt::format("{} {} × ({}){}", plainNumber(signal, 7), canonicalUnit(m_input).symbol, m_formula, offset),
             forward(signal), std::string(outUnit.id), m_title}};
}

}  // namespace fg
