#include "sensors/family.h"

#include "sensors/linear_voltage.h"
#include "sensors/ntc_beta.h"
#include "sensors/steinhart_hart.h"
#include "units/number_format.h"
#include "units/unit.h"

#include <array>

namespace fg {
namespace {

using Made = Expected<std::unique_ptr<Transfer>>;

template <class Model>
Made wrapped(Expected<Model> model) {
    return std::move(model).map([](Model&& m) { return makeTransfer(std::move(m)); });
}

std::string slopeId(Quantity measurand) { return "slope_V_per_" + std::string(canonicalUnit(measurand).id); }

// A ratiometric part moves in proportion to its supply: slope and offset are stated at `ratiometric_at_V`.
Made makeLinearVoltage(const Parameters& parameters, const SensorContext& context) {
    const auto slope = parameters.requireNumber(slopeId(context.measurand));
    if (!slope) return tl::unexpected(slope.error());
    double scale = 1;
    if (const auto statedAt = parameters.number("ratiometric_at_V"); statedAt && *statedAt != 0) {
        if (!(*statedAt > 0)) return fail(ErrorCode::Range, "ratiometric_at_V", plainNumber(*statedAt), "the supply in V at which slope and offset are stated, or 0 for a part that does not follow its supply");
        if (!(context.supply_V > 0)) return fail(ErrorCode::Missing, "wiring.source", "nothing", "the supply of a ratiometric sensor");
        scale = context.supply_V / *statedAt;
    }
    return wrapped(LinearVoltage::make(*slope * scale, parameters.numberOr("offset_V", 0) * scale, context.measurand, context.range));
}

std::vector<ParameterSpec> linearVoltageParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {{slopeId(measurand), "Slope", Quantity::Voltage, "/" + symbol, {}, "slope_tolerance", ToleranceKind::Relative},
            {"offset_V", "Voltage at 0 " + symbol, Quantity::Voltage, "", 0.0, "offset_tolerance_V", ToleranceKind::Absolute},
            {"ratiometric_at_V", "Follows its supply, stated at", Quantity::Voltage, "", 0.0}};
}

Made makeNtcBeta(const Parameters& parameters, const SensorContext& context) {
    const auto r25 = parameters.requireNumber("r25_ohm");
    if (!r25) return tl::unexpected(r25.error());
    const auto beta = parameters.requireNumber("beta_K");
    if (!beta) return tl::unexpected(beta.error());
    return wrapped(NtcBeta::make(*r25, *beta, parameters.numberOr("t0_degC", 25), context.range));
}

std::vector<ParameterSpec> ntcBetaParameters(Quantity) {
    return {{"r25_ohm", "R25, at 25 °C", Quantity::Resistance, "", {}, "r25_tolerance", ToleranceKind::Relative},
            {"beta_K", "Beta value B", Quantity::Ratio, "K", {}, "beta_tolerance", ToleranceKind::Relative},
            {"t0_degC", "B and R hold from", Quantity::Temperature, "", 25.0}};
}

Made makeSteinhartHart(const Parameters& parameters, const SensorContext& context) {
    std::array<double, 3> coefficients{};
    constexpr std::array<const char*, 3> names{"a", "b", "c"};
    for (std::size_t i = 0; i < 3; ++i) {
        const auto value = parameters.requireNumber(names[i]);
        if (!value) return tl::unexpected(value.error());
        coefficients[i] = *value;
    }
    return wrapped(SteinhartHart::make(coefficients[0], coefficients[1], coefficients[2], context.range));
}

std::vector<ParameterSpec> steinhartHartParameters(Quantity) {
    return {{"a", "a", Quantity::Ratio, "1/K", {}}, {"b", "b", Quantity::Ratio, "1/K", {}}, {"c", "c", Quantity::Ratio, "1/K", {}}};
}

Made makeSteinhartHartPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_degC_ohm");
    if (!points) return tl::unexpected(points.error());
    auto curve = SteinhartHart::throughPoints(*points, context.range);
    if (!curve) curve.error().where = "points_degC_ohm";
    return wrapped(std::move(curve));
}

std::vector<ParameterSpec> steinhartHartPointsParameters(Quantity) {
    return {{"points_degC_ohm", "Three points", Quantity::Resistance, "", {}, "", ToleranceKind::None, true}};
}

const std::array kFamilies{
    SensorFamily{"linear-voltage", "Straight line, voltage", Quantity::Voltage, linearVoltageParameters, makeLinearVoltage},
    SensorFamily{"ntc-beta", "NTC thermistor, R25 and B", Quantity::Resistance, ntcBetaParameters, makeNtcBeta},
    SensorFamily{"steinhart-hart", "NTC thermistor, Steinhart–Hart a b c", Quantity::Resistance, steinhartHartParameters, makeSteinhartHart},
    SensorFamily{"steinhart-hart-points", "NTC thermistor, three points", Quantity::Resistance, steinhartHartPointsParameters, makeSteinhartHartPoints},
};

}  // namespace

std::span<const SensorFamily> sensorFamilies() { return kFamilies; }

const SensorFamily* findSensorFamily(std::string_view id) {
    for (const SensorFamily& family : kFamilies)
        if (family.id == id) return &family;
    return nullptr;
}

}  // namespace fg
