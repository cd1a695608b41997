#include "wiring/divider.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {
constexpr const char* kSource = "voltage divider (Ohm, Kirchhoff)";
}

Expected<Divider> Divider::make(SensorSide side, double fixed_ohm, double source_V, DividerExtras extras) {
    if (!(fixed_ohm > 0) || !std::isfinite(fixed_ohm))
        return fail(ErrorCode::Range, "wiring.fixed_ohm", plainNumber(fixed_ohm), "a resistance above 0 Ω");
    if (!(source_V > 0) || !std::isfinite(source_V))
        return fail(ErrorCode::Range, "wiring.source_V", plainNumber(source_V), "a voltage above 0 V");
    if (!(extras.lead_ohm >= 0) || !std::isfinite(extras.lead_ohm))
        return fail(ErrorCode::Range, "wiring.lead_ohm", plainNumber(extras.lead_ohm), "a resistance of 0 Ω or above");
    if (!(extras.parallel_ohm >= 0) || !std::isfinite(extras.parallel_ohm))
        return fail(ErrorCode::Range, "wiring.parallel_ohm", plainNumber(extras.parallel_ohm),
                    "a resistance above 0 Ω, or 0 for none");
    Divider divider;
    divider.m_extras = extras;
    divider.m_isPlain = extras.lead_ohm == 0 && extras.parallel_ohm == 0;
    divider.m_side = side;
    divider.m_fixed_ohm = fixed_ohm;
    divider.m_source_V = source_V;
    return divider;
}

std::vector<TraceLine> Divider::explainInverse(double pin_V) const {
    const std::string fixed = plainNumber(m_fixed_ohm), tap = plainNumber(pin_V, 7), source = plainNumber(m_source_V);
    const std::string formula = m_side == SensorSide::Low
                                    ? fmt::format("{} Ω × {} V/({} V − {} V)", fixed, tap, source, tap)
                                    : fmt::format("{} Ω × ({} V − {} V)/{} V", fixed, source, tap, tap);
    if (m_isPlain) return {{"R", formula, inverse(pin_V), "ohm", kSource}};
    const double wired_ohm = inverse(pin_V) + m_extras.lead_ohm, branch_ohm = branch(inverse(pin_V));
    std::vector<TraceLine> lines{{"R branch", formula, branch_ohm, "ohm", kSource}};
    const std::string parallel = plainNumber(m_extras.parallel_ohm);
    if (m_extras.parallel_ohm > 0)
        lines.push_back({m_extras.lead_ohm > 0 ? "R wired" : "R",
                         fmt::format("1/(1/{} Ω − 1/{} Ω)", plainNumber(branch_ohm, 7), parallel), wired_ohm, "ohm",
                         "resistor in parallel"});
    if (m_extras.lead_ohm > 0)
        lines.push_back({"R", fmt::format("{} Ω − {} Ω", plainNumber(wired_ohm, 7), plainNumber(m_extras.lead_ohm)),
                         inverse(pin_V), "ohm", "resistance of the cable taken off"});
    return lines;
}

std::vector<TraceLine> Divider::explainForward(double sensor_ohm) const {
    const double branch_ohm = branch(sensor_ohm);
    const std::string fixed = plainNumber(m_fixed_ohm), sensor = plainNumber(branch_ohm, 7),
                      source = plainNumber(m_source_V);
    std::vector<TraceLine> lines;
    if (!m_isPlain) {
        std::string formula = fmt::format("{} Ω + {} Ω", plainNumber(sensor_ohm, 7), plainNumber(m_extras.lead_ohm));
        if (m_extras.parallel_ohm > 0)
            formula = fmt::format("({}) ∥ {} Ω", formula, plainNumber(m_extras.parallel_ohm));
        lines.push_back({"R branch", formula, branch_ohm, "ohm", "cable in series, resistor in parallel"});
    }
    lines.push_back(
        {"U",
         fmt::format("{} V × {} Ω/({} Ω + {} Ω)", source, m_side == SensorSide::Low ? sensor : fixed, sensor, fixed),
         forward(sensor_ohm), "V", kSource});
    return lines;
}

}  // namespace fg
