#include "wiring/divider.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {
constexpr const char* kSource = "voltage divider (Ohm, Kirchhoff)";
}

Expected<Divider> Divider::make(SensorSide side, double fixed_ohm, double source_V) {
    if (!(fixed_ohm > 0) || !std::isfinite(fixed_ohm))
        return fail(ErrorCode::Range, "wiring.fixed_ohm", plainNumber(fixed_ohm), "a resistance above 0 Ω");
    if (!(source_V > 0) || !std::isfinite(source_V))
        return fail(ErrorCode::Range, "wiring.source_V", plainNumber(source_V), "a voltage above 0 V");
    Divider divider;
    divider.m_side = side;
    divider.m_fixed_ohm = fixed_ohm;
    divider.m_source_V = source_V;
    return divider;
}

std::vector<TraceLine> Divider::explainInverse(double tap_V) const {
    const std::string fixed = plainNumber(m_fixed_ohm), tap = plainNumber(tap_V, 7), source = plainNumber(m_source_V);
    const std::string formula = m_side == SensorSide::Low ? fmt::format("{} Ω × {} V/({} V − {} V)", fixed, tap, source, tap)
                                                          : fmt::format("{} Ω × ({} V − {} V)/{} V", fixed, source, tap, tap);
    return {{"R", formula, inverse(tap_V), "ohm", kSource}};
}

std::vector<TraceLine> Divider::explainForward(double sensor_ohm) const {
    const std::string fixed = plainNumber(m_fixed_ohm), sensor = plainNumber(sensor_ohm, 7), source = plainNumber(m_source_V);
    return {{"U", fmt::format("{} V × {} Ω/({} Ω + {} Ω)", source, m_side == SensorSide::Low ? sensor : fixed, sensor, fixed),
             forward(sensor_ohm), "V", kSource}};
}

}  // namespace fg
