#include "sensors/family.h"

#include "sensors/family_rows.h"

#include "sensors/current_loop.h"
#include "sensors/ntc_beta.h"
#include "sensors/platinum.h"
#include "sensors/power_law.h"
#include "sensors/quadratic.h"
#include "sensors/silicon_ptc.h"
#include "sensors/steinhart_hart.h"
#include "sensors/straight_line.h"
#include "sensors/table.h"
#include "sensors/user_function.h"
#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

std::string slopeId(Quantity measurand) { return idWithUnit("slope_V_per_", measurand); }

tl::unexpected<Error> missingSupply() {
    return fail(ErrorCode::Missing, "wiring.source_V", "nothing",
                "the supply of this ratiometric sensor (source_V, or source “reference” where the converter's "
                "reference is its supply)");
}

/// Actual over nominal supply for a part that follows its supply; 1 for one that does not.
Expected<double> supplyScale(const Parameters& parameters, const SensorContext& context) {
    const double statedAt = parameters.numberOr("ratiometric_at_V", 0);
    if (statedAt == 0) return 1.0;
    if (!(statedAt > 0))
        return fail(
            ErrorCode::Range, "ratiometric_at_V", plainNumber(statedAt),
            "the supply in V at which slope and offset are stated, or 0 for a part that does not follow its supply");
    if (!(context.supply_V > 0)) return missingSupply();
    return context.supply_V / statedAt;
}

MadeSensor makeLinear(const Parameters& parameters, const SensorContext& context, Quantity output,
                      const std::string& slopeName, const std::string& offsetName) {
    const auto slope = parameters.requireNumber(slopeName);
    if (!slope) return tl::unexpected(slope.error());
    const auto scale = supplyScale(parameters, context);
    if (!scale) return tl::unexpected(scale.error());
    return wrapSensor(StraightLine::make(*slope * *scale, parameters.numberOr(offsetName, 0) * *scale,
                                         context.measurand, output, context.range, {slopeName, offsetName}));
}

MadeSensor makeLinearVoltage(const Parameters& parameters, const SensorContext& context) {
    return makeLinear(parameters, context, Quantity::Voltage, slopeId(context.measurand), "offset_V");
}

MadeSensor makeLinearCurrent(const Parameters& parameters, const SensorContext& context) {
    return makeLinear(parameters, context, Quantity::Current, idWithUnit("slope_A_per_", context.measurand),
                      "offset_A");
}

std::vector<ParameterSpec> linearCurrentParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {{idWithUnit("slope_A_per_", measurand),
             "Slope",
             Quantity::Current,
             "/" + symbol,
             {},
             "slope_tolerance",
             ToleranceKind::Relative},
            {"offset_A", "Current at 0 " + symbol, Quantity::Current, "", 0.0, "offset_tolerance_A",
             ToleranceKind::Absolute}};
}

MadeSensor makeCurrentLoop(const Parameters& parameters, const SensorContext& context) {
    const std::string lowId = idWithUnit("low_", context.measurand), highId = idWithUnit("high_", context.measurand);
    const auto low = parameters.requireNumber(lowId), high = parameters.requireNumber(highId);
    if (!low) return tl::unexpected(low.error());
    if (!high) return tl::unexpected(high.error());
    return wrapSensor(CurrentLoop::make(*low, *high, context.measurand, context.range, highId));
}

std::vector<ParameterSpec> currentLoopParameters(Quantity measurand) {
    return {{idWithUnit("low_", measurand), "Value at 4 mA", measurand, "", {}},
            {idWithUnit("high_", measurand), "Value at 20 mA", measurand, "", {}}};
}

// Three-wire transmitter that follows its supply: shares of it at both ends of the span, usually 10 % and 90 %.
MadeSensor makeRatiometricTransmitter(const Parameters& parameters, const SensorContext& context) {
    const std::string lowId = idWithUnit("low_", context.measurand), highId = idWithUnit("high_", context.measurand);
    const auto low = parameters.requireNumber(lowId), high = parameters.requireNumber(highId);
    if (!low) return tl::unexpected(low.error());
    if (!high) return tl::unexpected(high.error());
    if (!(context.supply_V > 0)) return missingSupply();
    return wrapSensor(StraightLine::throughPoints({*low, parameters.numberOr("low_ratio", 0.1) * context.supply_V},
                                                  {*high, parameters.numberOr("high_ratio", 0.9) * context.supply_V},
                                                  context.measurand, Quantity::Voltage, context.range, highId));
}

std::vector<ParameterSpec> ratiometricTransmitterParameters(Quantity measurand) {
    return {{idWithUnit("low_", measurand), "Value at the low end", measurand, "", {}},
            {idWithUnit("high_", measurand), "Value at the high end", measurand, "", {}},
            {"low_ratio", "Output there, of the supply", Quantity::Ratio, "", 0.1},
            {"high_ratio", "Output at the high end, of the supply", Quantity::Ratio, "", 0.9}};
}

// B from two points: B = ln(R1/R2)/(1/T1 − 1/T2) (IEC 60539-1, B value).
MadeSensor makeNtcTwoPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_degC_ohm");
    if (!points) return tl::unexpected(points.error());
    const auto bad = [&](const std::string& found) {
        return fail(ErrorCode::Range, "points_degC_ohm", found,
                    "two points [temperature in °C, resistance in Ω], the warmer one with less");
    };
    if (points->size() != 2) return bad(std::to_string(points->size()) + " points");
    const auto [t1, r1] = (*points)[0];
    const auto [t2, r2] = (*points)[1];
    const double inverse1 = 1 / (t1 + kKelvinAt0degC), inverse2 = 1 / (t2 + kKelvinAt0degC);
    if (!(r1 > 0 && r2 > 0 && t1 != t2 && (t1 < t2) == (r1 > r2)) || !(std::min(t1, t2) > -kKelvinAt0degC))
        return bad(
            fmt::format("[{}, {}], [{}, {}]", plainNumber(t1), plainNumber(r1), plainNumber(t2), plainNumber(r2)));
    return wrapSensor(NtcBeta::make(r1, std::log(r1 / r2) / (inverse1 - inverse2), t1, context.range));
}

std::vector<ParameterSpec> ntcTwoPointsParameters(Quantity) {
    return {{"points_degC_ohm", "Two points", Quantity::Resistance, "", {}, "", ToleranceKind::None, true}};
}

MadeSensor makeLineThroughPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_V");
    if (!points) return tl::unexpected(points.error());
    if (points->size() != 2)
        return fail(ErrorCode::Range, "points_V", std::to_string(points->size()) + " points",
                    "two points [value of the measurand, voltage in V]");
    return wrapSensor(StraightLine::throughPoints((*points)[0], (*points)[1], context.measurand, Quantity::Voltage,
                                                  context.range, "points_V"));
}

std::vector<ParameterSpec> pointsParameters(const char* id, const char* label) {
    return {{id, label, Quantity::Voltage, "", {}, "", ToleranceKind::None, true}};
}
std::vector<ParameterSpec> lineThroughPointsParameters(Quantity) { return pointsParameters("points_V", "Two points"); }

// Vout = Vs·(0.0062·RHs + 0.16), RHs = RH·(1.0546 − 0.00216·t): the humidity part reads low when it is warm.
MadeSensor makeHumidityCompensated(const Parameters& parameters, const SensorContext& context) {
    if (!(context.supply_V > 0)) return missingSupply();
    const auto slope = parameters.requireNumber("slope_per_percent"), offset = parameters.requireNumber("offset_ratio");
    if (!slope) return tl::unexpected(slope.error());
    if (!offset) return tl::unexpected(offset.error());
    const double warm =
        parameters.numberOr("temperature_gain", 1) +
        parameters.numberOr("temperature_slope_per_degC", 0) * parameters.numberOr("temperature_degC", 25);
    return wrapSensor(StraightLine::make(*slope * warm * context.supply_V, *offset * context.supply_V,
                                         context.measurand, Quantity::Voltage, context.range,
                                         {"slope_per_percent", "offset_ratio"}));
}

std::vector<ParameterSpec> humidityCompensatedParameters(Quantity) {
    return {{"slope_per_percent",
             "Slope, of the supply",
             Quantity::Ratio,
             "/%RH",
             {},
             "slope_tolerance",
             ToleranceKind::Relative},
            {"offset_ratio", "At 0 %RH, of the supply", Quantity::Ratio, "", {}},
            {"temperature_degC", "Temperature of the air", Quantity::Temperature, "", 25.0, "temperature_tolerance_K",
             ToleranceKind::Absolute},
            {"temperature_gain", "Gain at 0 °C", Quantity::Ratio, "", 1.0},
            {"temperature_slope_per_degC", "Gain per °C", Quantity::Ratio, "/°C", 0.0}};
}

MadeSensor makeQuadraticVoltage(const Parameters& parameters, const SensorContext& context) {
    Quadratic::Coefficients c;
    const auto y0 = parameters.requireNumber("v0_V"), slope = parameters.requireNumber("slope_V_per_degC");
    if (!y0) return tl::unexpected(y0.error());
    if (!slope) return tl::unexpected(slope.error());
    c = {*y0, *slope, parameters.numberOr("curvature_V_per_degC2", 0), parameters.numberOr("t0_degC", 25)};
    return wrapSensor(Quadratic::make(c, Quantity::Voltage, context.range));
}

std::vector<ParameterSpec> quadraticVoltageParameters(Quantity) {
    return {{"v0_V", "Voltage at the middle", Quantity::Voltage, "", {}, "v0_tolerance_V", ToleranceKind::Absolute},
            {"slope_V_per_degC", "Slope there", Quantity::Voltage, "/°C", {}},
            {"curvature_V_per_degC2", "Curvature", Quantity::Voltage, "/°C²", 0.0},
            {"t0_degC", "The middle", Quantity::Temperature, "", 25.0}};
}

// Silicon PTC: R = R25·(1 + α·d + β·d²), d = t − 25 °C.
MadeSensor makeSiliconPtc(const Parameters& parameters, const SensorContext& context) {
    const auto r25 = parameters.requireNumber("r25_ohm"), alpha = parameters.requireNumber("alpha_per_K");
    if (!r25) return tl::unexpected(r25.error());
    if (!alpha) return tl::unexpected(alpha.error());
    if (!(*r25 > 0)) return fail(ErrorCode::Range, "r25_ohm", plainNumber(*r25), "a resistance above 0 Ω");
    const double t0 = parameters.numberOr("t0_degC", 25);
    const SiliconPtc::Knee knee{parameters.numberOr("knee_degC", 0), parameters.numberOr("knee_factor", 0),
                                parameters.numberOr("knee_power", 1)};
    return wrapSensor(SiliconPtc::make({*r25, *r25 * *alpha, *r25 * parameters.numberOr("beta_per_K2", 0), t0}, *r25,
                                       knee, context.range));
}

std::vector<ParameterSpec> siliconPtcParameters(Quantity) {
    return {{"r25_ohm", "R25", Quantity::Resistance, "", {}, "r25_tolerance", ToleranceKind::Relative},
            {"alpha_per_K", "α", Quantity::Ratio, "1/K", {}, "alpha_tolerance", ToleranceKind::Relative},
            {"beta_per_K2", "β", Quantity::Ratio, "1/K²", 0.0},
            {"t0_degC", "R25 holds at", Quantity::Temperature, "", 25.0},
            {"knee_degC", "Knee: from", Quantity::Temperature, "", 0.0},
            {"knee_factor", "Knee: factor, 0 for none", Quantity::Ratio, "", 0.0},
            {"knee_power", "Knee: power", Quantity::Ratio, "", 1.0}};
}

MadeSensor makePlatinum(const Parameters& parameters, const SensorContext& context) {
    const auto r0 = parameters.requireNumber("r0_ohm");
    if (!r0) return tl::unexpected(r0.error());
    return wrapSensor(Platinum::make(*r0, context.range));
}

std::vector<ParameterSpec> platinumParameters(Quantity) {
    return {{"r0_ohm", "R0, at 0 °C", Quantity::Resistance, "", {}, "r0_tolerance", ToleranceKind::Relative}};
}

MadeSensor makePhotoresistor(const Parameters& parameters, const SensorContext& context) {
    const auto r10 = parameters.requireNumber("r10_ohm"), gamma = parameters.requireNumber("gamma");
    if (!r10) return tl::unexpected(r10.error());
    if (!gamma) return tl::unexpected(gamma.error());
    return wrapSensor(PowerLaw::make(*r10, *gamma, context.range));
}

std::vector<ParameterSpec> photoresistorParameters(Quantity) {
    return {{"r10_ohm", "R10, at 10 lx", Quantity::Resistance, "", {}, "r10_tolerance", ToleranceKind::Relative},
            {"gamma", "γ", Quantity::Ratio, "", {}, "gamma_tolerance", ToleranceKind::Relative}};
}

MadeSensor makePhotoresistorPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_lx_ohm");
    if (!points) return tl::unexpected(points.error());
    if (points->size() != 2)
        return fail(ErrorCode::Range, "points_lx_ohm", std::to_string(points->size()) + " points",
                    "two points [illuminance in lx, resistance in Ω]");
    return wrapSensor(
        PowerLaw::throughPoints((*points)[0][0], (*points)[0][1], (*points)[1][0], (*points)[1][1], context.range));
}

std::vector<ParameterSpec> photoresistorPointsParameters(Quantity) {
    return pointsParameters("points_lx_ohm", "Two points");
}

MadeSensor makeTable(const Parameters& parameters, const SensorContext& context, const char* field, Quantity output,
                     Interpolation interpolation) {
    const auto points = parameters.requirePoints(field);
    if (!points) return tl::unexpected(points.error());
    return wrapSensor(Table::make(*points, context.measurand, output, interpolation, field));
}

MadeSensor makeTableVoltage(const Parameters& parameters, const SensorContext& context) {
    return makeTable(parameters, context, "table_V", Quantity::Voltage, Interpolation::Linear);
}
MadeSensor makeTableResistance(const Parameters& parameters, const SensorContext& context) {
    return makeTable(parameters, context, "table_ohm", Quantity::Resistance, Interpolation::Linear);
}
MadeSensor makeTableThermistor(const Parameters& parameters, const SensorContext& context) {
    return makeTable(parameters, context, "table_degC_ohm", Quantity::Resistance, Interpolation::Thermistor);
}
std::vector<ParameterSpec> tableVoltageParameters(Quantity) { return pointsParameters("table_V", "Table"); }
std::vector<ParameterSpec> tableResistanceParameters(Quantity) { return pointsParameters("table_ohm", "Table"); }
std::vector<ParameterSpec> tableThermistorParameters(Quantity) {
    return pointsParameters("table_degC_ohm", "R–T table");
}

/// A formula of the user's own runs over `from` … `to` (canonical) where the part states no finite range.
Interval ownRange(const Parameters& parameters, const SensorContext& context) {
    return {parameters.numberOr("from", std::isfinite(context.range.low) ? context.range.low : 0),
            parameters.numberOr("to", std::isfinite(context.range.high) ? context.range.high : 100)};
}

std::vector<ParameterSpec> ownRangeParameters(Quantity measurand) {
    return {{"from", "Holds from", measurand, "", 0.0}, {"to", "Holds to", measurand, "", 100.0}};
}

MadeSensor makePolynomialVoltage(const Parameters& parameters, const SensorContext& context) {
    std::vector<double> coefficients;
    for (int i = 0; i <= 5; ++i) coefficients.push_back(parameters.numberOr("c" + std::to_string(i) + "_V", 0));
    while (coefficients.size() > 2 && coefficients.back() == 0) coefficients.pop_back();
    return wrapSensor(
        UserFunction::polynomial(coefficients, context.measurand, Quantity::Voltage, ownRange(parameters, context)));
}

std::vector<ParameterSpec> polynomialVoltageParameters(Quantity measurand) {
    auto specs = ownRangeParameters(measurand);
    for (int i = 0; i <= 5; ++i)
        specs.push_back({"c" + std::to_string(i) + "_V", "c" + std::to_string(i), Quantity::Ratio, "V",
                         i == 1 ? std::optional<double>() : 0.0});
    return specs;
}

MadeSensor makeExpressionVoltage(const Parameters& parameters, const SensorContext& context) {
    const auto text = parameters.text("expression");
    if (!text)
        return fail(ErrorCode::Missing, "expression", "nothing",
                    "the output voltage as an expression in x, like 0.5 + 0.01*x");
    return wrapSensor(
        UserFunction::expression(*text, context.measurand, Quantity::Voltage, ownRange(parameters, context)));
}

std::vector<ParameterSpec> expressionVoltageParameters(Quantity measurand) {
    auto specs = ownRangeParameters(measurand);
    specs.push_back({"expression", "Output in V, of x", Quantity::Ratio, "", {}, "", ToleranceKind::None, false, true});
    return specs;
}

std::vector<ParameterSpec> linearVoltageParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {
        {slopeId(measurand), "Slope", Quantity::Voltage, "/" + symbol, {}, "slope_tolerance", ToleranceKind::Relative},
        {"offset_V", "Voltage at 0 " + symbol, Quantity::Voltage, "", 0.0, "offset_tolerance_V",
         ToleranceKind::Absolute},
        {"ratiometric_at_V", "Follows its supply, stated at", Quantity::Voltage, "", 0.0}};
}

MadeSensor makeNtcBeta(const Parameters& parameters, const SensorContext& context) {
    const auto r25 = parameters.requireNumber("r25_ohm");
    if (!r25) return tl::unexpected(r25.error());
    const auto beta = parameters.requireNumber("beta_K");
    if (!beta) return tl::unexpected(beta.error());
    return wrapSensor(NtcBeta::make(*r25, *beta, parameters.numberOr("t0_degC", 25), context.range));
}

std::vector<ParameterSpec> ntcBetaParameters(Quantity) {
    return {{"r25_ohm", "R25, at 25 °C", Quantity::Resistance, "", {}, "r25_tolerance", ToleranceKind::Relative},
            {"beta_K", "Beta value B", Quantity::Ratio, "K", {}, "beta_tolerance", ToleranceKind::Relative},
            {"t0_degC", "B and R hold from", Quantity::Temperature, "", 25.0}};
}

MadeSensor makeSteinhartHart(const Parameters& parameters, const SensorContext& context) {
    std::array<double, 3> coefficients{};
    constexpr std::array<const char*, 3> names{"a", "b", "c"};
    for (std::size_t i = 0; i < 3; ++i) {
        const auto value = parameters.requireNumber(names[i]);
        if (!value) return tl::unexpected(value.error());
        coefficients[i] = *value;
    }
    return wrapSensor(SteinhartHart::make(coefficients[0], coefficients[1], coefficients[2], context.range));
}

std::vector<ParameterSpec> steinhartHartParameters(Quantity) {
    return {{"a", "a", Quantity::Ratio, "1/K", {}},
            {"b", "b", Quantity::Ratio, "1/K", {}},
            {"c", "c", Quantity::Ratio, "1/K", {}}};
}

MadeSensor makeSteinhartHartPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_degC_ohm");
    if (!points) return tl::unexpected(points.error());
    auto curve = SteinhartHart::throughPoints(*points, context.range);
    if (!curve) curve.error().where = "points_degC_ohm";
    return wrapSensor(std::move(curve));
}

std::vector<ParameterSpec> steinhartHartPointsParameters(Quantity) {
    return {{"points_degC_ohm", "Three points", Quantity::Resistance, "", {}, "", ToleranceKind::None, true}};
}

const std::array kFamilies{
    SensorFamily{"linear-voltage", "Straight line, voltage", Quantity::Voltage, linearVoltageParameters,
                 makeLinearVoltage},
    SensorFamily{"line-through-points", "Straight line through two points, voltage", Quantity::Voltage,
                 lineThroughPointsParameters, makeLineThroughPoints},
    SensorFamily{"quadratic-voltage", "Parabola, voltage", Quantity::Voltage, quadraticVoltageParameters,
                 makeQuadraticVoltage},
    SensorFamily{"humidity-compensated", "Ratiometric humidity, temperature compensated", Quantity::Voltage,
                 humidityCompensatedParameters, makeHumidityCompensated},
    SensorFamily{"table-voltage", "Table, voltage", Quantity::Voltage, tableVoltageParameters, makeTableVoltage},
    SensorFamily{"polynomial-voltage", "Polynomial of your own, voltage", Quantity::Voltage,
                 polynomialVoltageParameters, makePolynomialVoltage},
    SensorFamily{"expression-voltage", "Expression of your own, voltage", Quantity::Voltage,
                 expressionVoltageParameters, makeExpressionVoltage},
    SensorFamily{"linear-current", "Straight line, current", Quantity::Current, linearCurrentParameters,
                 makeLinearCurrent},
    SensorFamily{"current-loop", "4–20 mA transmitter", Quantity::Current, currentLoopParameters, makeCurrentLoop},
    SensorFamily{"ratiometric-transmitter", "Transmitter that follows its supply", Quantity::Voltage,
                 ratiometricTransmitterParameters, makeRatiometricTransmitter},
    SensorFamily{"ntc-two-points", "NTC thermistor, two points", Quantity::Resistance, ntcTwoPointsParameters,
                 makeNtcTwoPoints},
    SensorFamily{"ntc-beta", "NTC thermistor, R25 and B", Quantity::Resistance, ntcBetaParameters, makeNtcBeta},
    SensorFamily{"steinhart-hart", "NTC thermistor, Steinhart–Hart a b c", Quantity::Resistance,
                 steinhartHartParameters, makeSteinhartHart},
    SensorFamily{"steinhart-hart-points", "NTC thermistor, three points", Quantity::Resistance,
                 steinhartHartPointsParameters, makeSteinhartHartPoints},
    SensorFamily{"table-thermistor", "NTC thermistor, R–T table", Quantity::Resistance, tableThermistorParameters,
                 makeTableThermistor},
    SensorFamily{"table-resistance", "Table, resistance", Quantity::Resistance, tableResistanceParameters,
                 makeTableResistance},
    SensorFamily{"silicon-ptc", "Silicon PTC", Quantity::Resistance, siliconPtcParameters, makeSiliconPtc},
    SensorFamily{"platinum", "Platinum, IEC 60751", Quantity::Resistance, platinumParameters, makePlatinum},
    SensorFamily{"photoresistor", "Photoresistor, R10 and γ", Quantity::Resistance, photoresistorParameters,
                 makePhotoresistor},
    SensorFamily{"photoresistor-points", "Photoresistor, two points", Quantity::Resistance,
                 photoresistorPointsParameters, makePhotoresistorPoints},
};

}  // namespace

std::span<const SensorFamily> sensorFamilies() {
    static const std::vector<SensorFamily> all = [] {
        std::vector<SensorFamily> rows(kFamilies.begin(), kFamilies.end());
        for (const auto more : {smallSignalFamilies(), chipFamilies(), countedFamilies()})
            rows.insert(rows.end(), more.begin(), more.end());
        return rows;
    }();
    return all;
}

std::vector<ParameterSpec> pieceParameters(Quantity measurand, Quantity output) {
    std::vector<ParameterSpec> specs;
    if (output == Quantity::Resistance)
        specs.push_back({"dissipation_W_per_K", "Dissipation constant", Quantity::Ratio, "W/K", 0.0,
                         "dissipation_tolerance", ToleranceKind::Relative});
    specs.push_back({idWithUnit("accuracy_", measurand), "Accuracy of this piece, ±", measurand, "", 0.0});
    specs.push_back({idWithUnit("signal_tolerance_", output), "Points and table, ±", output, "", 0.0});
    return specs;
}

const SensorFamily* findSensorFamily(std::string_view id) {
    for (const SensorFamily& family : sensorFamilies())
        if (family.id == id) return &family;
    return nullptr;
}

}  // namespace fg
