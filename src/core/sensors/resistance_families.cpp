// Resistances that are no thermistors: platinum, silicon, photocells; and the parabola of a curved voltage part.

#include "sensors/family_rows.h"
#include "sensors/platinum.h"
#include "sensors/power_law.h"
#include "sensors/silicon_ptc.h"
#include "units/number_format.h"

#include <array>

namespace fg {
namespace {

MadeSensor makePlatinum(const Parameters& parameters, const SensorContext& context) {
    const auto r0 = parameters.requireNumber("r0_ohm");
    if (!r0) return tl::unexpected(r0.error());
    return wrapSensor<PlatinumFormula>(platinum(*r0, context.range));
}

std::vector<ParameterSpec> platinumParameters(Quantity) {
    return {{.id = "r0_ohm",
             .label = "R0, at 0 °C",
             .quantity = Quantity::Resistance,
             .toleranceId = "r0_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 100.0}};
}

MadeSensor makeSiliconPtc(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "r25_ohm", "alpha_per_K");
    if (!numbers) return tl::unexpected(numbers.error());
    SiliconPtcFormula<double> ptc;
    ptc.r0 = (*numbers)[0];
    ptc.alpha = (*numbers)[1];
    ptc.beta = parameters.numberOr("beta_per_K2", 0);
    ptc.t0 = parameters.numberOr("t0_degC", 25);
    ptc.knee = parameters.numberOr("knee_degC", 0);
    ptc.factor = parameters.numberOr("knee_factor", 0);
    ptc.power = parameters.numberOr("knee_power", 1);
    ptc.fixed.range_degC = context.range;
    if (!(ptc.r0 > 0)) return fail(ErrorCode::Range, "r25_ohm", plainNumber(ptc.r0), "a resistance above 0 Ω");
    for (const double value : {ptc.r0, ptc.alpha, ptc.beta, ptc.t0})
        if (!std::isfinite(value)) return fail(ErrorCode::Range, "y0", plainNumber(value), "finite coefficients");
    if (const auto fine = checkParabola(ptc.r0 * ptc.alpha, ptc.r0 * ptc.beta, ptc.t0, context.range); !fine)
        return tl::unexpected(fine.error());
    if (!(ptc.factor >= 0) || !std::isfinite(ptc.factor) || (ptc.factor > 0 && !(ptc.power > 1)))
        return fail(ErrorCode::Range, "knee_factor", plainNumber(ptc.factor),
                    "0, or a factor above 0 with a power above 1");
    if (ptc.factor > 0 && std::isfinite(context.range.high) && !(ptc.curve(Dual(context.range.high, 1)).slope > 0))
        return fail(ErrorCode::Range, "knee_factor", plainNumber(ptc.factor),
                    fmt::format("a resistance that still rises at {} °C", plainNumber(context.range.high)));
    return makeTransfer<SiliconPtcFormula>(ptc);
}

std::vector<ParameterSpec> siliconPtcParameters(Quantity) {
    return {{.id = "r25_ohm",
             .label = "R25",
             .quantity = Quantity::Resistance,
             .toleranceId = "r25_tolerance",
             .tolerance = ToleranceKind::Relative},
            {.id = "alpha_per_K",
             .label = "α",
             .unitSuffix = "1/K",
             .toleranceId = "alpha_tolerance",
             .tolerance = ToleranceKind::Relative},
            {.id = "beta_per_K2", .label = "β", .unitSuffix = "1/K²", .defaultValue = 0.0},
            {.id = "t0_degC", .label = "R25 holds at", .quantity = Quantity::Temperature, .defaultValue = 25.0},
            {.id = "knee_degC", .label = "Knee: from", .quantity = Quantity::Temperature, .defaultValue = 0.0},
            {.id = "knee_factor", .label = "Knee: factor, 0 for none", .defaultValue = 0.0},
            {.id = "knee_power", .label = "Knee: power", .defaultValue = 1.0}};
}

MadeSensor makePhotoresistor(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "r10_ohm", "gamma");
    if (!numbers) return tl::unexpected(numbers.error());
    return wrapSensor<PowerLawFormula>(powerLaw((*numbers)[0], (*numbers)[1], context.range));
}

std::vector<ParameterSpec> photoresistorParameters(Quantity) {
    return {{.id = "r10_ohm",
             .label = "R10, at 10 lx",
             .quantity = Quantity::Resistance,
             .toleranceId = "r10_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 15000.0},
            {.id = "gamma",
             .label = "γ",
             .toleranceId = "gamma_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 0.7}};
}

MadeSensor makePhotoresistorPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_lx_ohm");
    if (!points) return tl::unexpected(points.error());
    if (points->size() != 2)
        return fail(ErrorCode::Range, "points_lx_ohm", std::to_string(points->size()) + " points",
                    "two points [illuminance in lx, resistance in Ω]");
    const auto& [first, second] = std::tie((*points)[0], (*points)[1]);
    return wrapSensor<PowerLawFormula>(powerLawThrough(first[0], first[1], second[0], second[1], context.range));
}

std::vector<ParameterSpec> photoresistorPointsParameters(Quantity) {
    return {pointsSpec("points_lx_ohm", "Two points", {{10, 15000}, {100, 3000}})};
}

MadeSensor makeQuadraticVoltage(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "v0_V", "slope_V_per_degC");
    if (!numbers) return tl::unexpected(numbers.error());
    return wrapSensor<QuadraticFormula>(quadratic((*numbers)[0], (*numbers)[1],
                                                  parameters.numberOr("curvature_V_per_degC2", 0),
                                                  parameters.numberOr("t0_degC", 25), context.range));
}

std::vector<ParameterSpec> quadraticVoltageParameters(Quantity) {
    return {{.id = "v0_V",
             .label = "Voltage at the middle",
             .quantity = Quantity::Voltage,
             .toleranceId = "v0_tolerance_V",
             .tolerance = ToleranceKind::Absolute},
            {.id = "slope_V_per_degC", .label = "Slope there", .quantity = Quantity::Voltage, .unitSuffix = "/°C"},
            {.id = "curvature_V_per_degC2",
             .label = "Curvature",
             .quantity = Quantity::Voltage,
             .unitSuffix = "/°C²",
             .defaultValue = 0.0},
            {.id = "t0_degC", .label = "The middle", .quantity = Quantity::Temperature, .defaultValue = 25.0}};
}

const std::array kRows{
    SensorFamily{.id = "quadratic-voltage",
                 .title = "Parabola, voltage",
                 .output = Quantity::Voltage,
                 .parameters = quadraticVoltageParameters,
                 .make = makeQuadraticVoltage,
                 .confusedWith = {"linear-voltage", "polynomial-voltage"}},
    SensorFamily{.id = "silicon-ptc",
                 .title = "Silicon PTC",
                 .output = Quantity::Resistance,
                 .parameters = siliconPtcParameters,
                 .make = makeSiliconPtc,
                 .confusedWith = {"platinum", "ntc-beta"}},
    SensorFamily{.id = "platinum",
                 .title = "Platinum, IEC 60751",
                 .output = Quantity::Resistance,
                 .parameters = platinumParameters,
                 .make = makePlatinum,
                 .confusedWith = {"silicon-ptc"}},
    SensorFamily{.id = "photoresistor",
                 .title = "Photoresistor, R10 and γ",
                 .output = Quantity::Resistance,
                 .parameters = photoresistorParameters,
                 .make = makePhotoresistor,
                 .confusedWith = {"photoresistor-points"}},
    SensorFamily{.id = "photoresistor-points",
                 .title = "Photoresistor, two points",
                 .output = Quantity::Resistance,
                 .parameters = photoresistorPointsParameters,
                 .make = makePhotoresistorPoints,
                 .confusedWith = {"photoresistor"}},
};

}  // namespace

std::span<const SensorFamily> resistanceFamilies() { return kRows; }

}  // namespace fg
