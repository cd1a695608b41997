#include "sensors/linear_voltage.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {
constexpr const char* kSource = "part's transfer function: U = offset + slope · x";
}

Expected<LinearVoltage> LinearVoltage::make(double slope_V_per_unit, double offset_V, Quantity measurand, Interval range) {
    const std::string unit(canonicalUnit(measurand).id);
    if (!std::isfinite(slope_V_per_unit) || slope_V_per_unit == 0)
        return fail(ErrorCode::Range, "slope_V_per_" + unit, plainNumber(slope_V_per_unit), "a slope that is not zero, in V per " + unit);
    if (!std::isfinite(offset_V)) return fail(ErrorCode::Range, "offset_V", plainNumber(offset_V), "a voltage in V");
    LinearVoltage line;
    line.m_slope = slope_V_per_unit;
    line.m_offset_V = offset_V;
    line.m_measurand = measurand;
    line.m_range = range;
    return line;
}

std::vector<TraceLine> LinearVoltage::explainInverse(double voltage_V) const {
    const Unit& unit = canonicalUnit(m_measurand);
    return {{"x", fmt::format("({} V − {} V)/({} V/{})", plainNumber(voltage_V, 7), plainNumber(m_offset_V), plainNumber(m_slope), unit.symbol),
             inverse(voltage_V), std::string(unit.id), kSource}};
}

std::vector<TraceLine> LinearVoltage::explainForward(double measurand) const {
    const Unit& unit = canonicalUnit(m_measurand);
    return {{"U", fmt::format("{} V + {} V/{} × {} {}", plainNumber(m_offset_V), plainNumber(m_slope), unit.symbol, plainNumber(measurand, 7), unit.symbol),
             forward(measurand), "V", kSource}};
}

}  // namespace fg
