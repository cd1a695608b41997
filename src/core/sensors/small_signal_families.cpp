#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "sensors/thermocouple.h"
#include "units/number_format.h"

#include <array>

namespace fg {
namespace {

MadeSensor makeThermocouple(const Parameters& parameters, const SensorContext&) {
    const auto type = parameters.text("type");
    if (!type) return fail(ErrorCode::Missing, "type", "nothing", "the thermocouple's type, one of K J T N E S R B");
    return wrapSensor(Thermocouple::make(*type, parameters.numberOr("cold_junction_degC", 25)));
}

std::vector<ParameterSpec> thermocoupleParameters(Quantity) {
    return {{"type", "Type", Quantity::Ratio, "", {}, "", ToleranceKind::None, false, true},
            {"cold_junction_degC", "Cold junction", Quantity::Temperature, "", 25.0, "cold_junction_tolerance_K",
             ToleranceKind::Absolute}};
}

/// U = Uexc · (zero + span · p/pFS); both stated per volt of excitation.
MadeSensor makeBridgeLine(double perExcitation, double zeroPerExcitation, const Parameters& parameters,
                          const SensorContext& context, const std::string& field) {
    if (!(context.supply_V > 0))
        return fail(ErrorCode::Missing, "wiring.source_V", "nothing", "the excitation of the bridge");
    const std::string fullScaleId = idWithUnit("full_scale_", context.measurand);
    const auto fullScale = parameters.requireNumber(fullScaleId);
    if (!fullScale) return tl::unexpected(fullScale.error());
    if (!(*fullScale > 0)) return fail(ErrorCode::Range, fullScaleId, plainNumber(*fullScale), "a full scale above 0");
    return wrapSensor(StraightLine::make(context.supply_V * perExcitation / *fullScale,
                                         context.supply_V * zeroPerExcitation, context.measurand, Quantity::Voltage,
                                         context.range, {field, "zero_V_per_V"}));
}

MadeSensor makeBridge(const Parameters& parameters, const SensorContext& context) {
    const auto span = parameters.requireNumber("span_V_per_V");
    if (!span) return tl::unexpected(span.error());
    return makeBridgeLine(*span, parameters.numberOr("zero_V_per_V", 0), parameters, context, "span_V_per_V");
}

std::vector<ParameterSpec> bridgeParameters(Quantity measurand) {
    return {{"span_V_per_V",
             "Output at full scale",
             Quantity::Voltage,
             "/V",
             {},
             "span_tolerance",
             ToleranceKind::Relative},
            {idWithUnit("full_scale_", measurand), "Full scale", measurand, "", {}},
            {"zero_V_per_V", "Output at zero", Quantity::Voltage, "/V", 0.0, "zero_tolerance_V_per_V",
             ToleranceKind::Absolute}};
}

MadeSensor makeBridgeMillivolt(const Parameters& parameters, const SensorContext& context) {
    const auto span = parameters.requireNumber("span_V"), excitation = parameters.requireNumber("stated_at_V");
    if (!span) return tl::unexpected(span.error());
    if (!excitation) return tl::unexpected(excitation.error());
    if (!(*excitation > 0))
        return fail(ErrorCode::Range, "stated_at_V", plainNumber(*excitation), "an excitation above 0 V");
    return makeBridgeLine(*span / *excitation, parameters.numberOr("zero_V", 0) / *excitation, parameters, context,
                          "span_V");
}

std::vector<ParameterSpec> bridgeMillivoltParameters(Quantity measurand) {
    return {{"span_V", "Output at full scale", Quantity::Voltage, "", {}, "span_tolerance", ToleranceKind::Relative},
            {"stated_at_V", "Stated at an excitation of", Quantity::Voltage, "", {}},
            {idWithUnit("full_scale_", measurand), "Full scale", measurand, "", {}},
            {"zero_V", "Output at zero", Quantity::Voltage, "", 0.0, "zero_tolerance_V", ToleranceKind::Absolute}};
}

const std::array kRows{
    SensorFamily{"thermocouple", "Thermocouple, ITS-90", Quantity::Voltage, thermocoupleParameters, makeThermocouple},
    SensorFamily{"bridge", "Bridge, mV/V at full scale", Quantity::Voltage, bridgeParameters, makeBridge},
    SensorFamily{"bridge-millivolt", "Bridge, mV at full scale", Quantity::Voltage, bridgeMillivoltParameters,
                 makeBridgeMillivolt},
};

}  // namespace

std::span<const SensorFamily> smallSignalFamilies() { return kRows; }

}  // namespace fg
