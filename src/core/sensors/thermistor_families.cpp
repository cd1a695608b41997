// NTC thermistors by equation. By their table: table_families.cpp.

#include "sensors/family_rows.h"
#include "sensors/ntc_beta.h"
#include "sensors/steinhart_hart.h"
#include "units/number_format.h"

#include <array>

namespace fg {
namespace {

// The thermistor of a new gauge: the commonest there is.
constexpr double kUsual_ohm = 10000, kUsualBeta_K = 3950;

double usual_ohm(double t_degC) {
    NtcBeta usual;
    usual.r0 = kUsual_ohm;
    usual.beta = kUsualBeta_K;
    usual.t0 = 25;
    return std::round(usual.forward(t_degC));
}

MadeSensor makeBeta(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "r25_ohm", "beta_K");
    if (!numbers) return tl::unexpected(numbers.error());
    return wrapSensor<NtcBetaFormula>(
        ntcBeta((*numbers)[0], (*numbers)[1], parameters.numberOr("t0_degC", 25), context.range));
}

std::vector<ParameterSpec> betaParameters(Quantity) {
    return {{.id = "r25_ohm",
             .label = "R25, at 25 °C",
             .quantity = Quantity::Resistance,
             .toleranceId = "r25_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = kUsual_ohm},
            {.id = "beta_K",
             .label = "Beta value B",
             .unitSuffix = "K",
             .toleranceId = "beta_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = kUsualBeta_K},
            {.id = "t0_degC", .label = "B and R hold from", .quantity = Quantity::Temperature, .defaultValue = 25.0}};
}

std::string betaNote(const Parameters& parameters) {
    return fmt::format("{} NTC, B {}",
                       shortEngineering(parameters.numberOr("r25_ohm", 0), Quantity::Resistance).joined(),
                       plainNumber(parameters.numberOr("beta_K", 0)));
}

// B from two points: B = ln(R1/R2)/(1/T1 − 1/T2) (IEC 60539-1, B value).
MadeSensor makeTwoPoints(const Parameters& parameters, const SensorContext& context) {
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
    return wrapSensor<NtcBetaFormula>(ntcBeta(r1, std::log(r1 / r2) / (inverse1 - inverse2), t1, context.range));
}

std::vector<ParameterSpec> twoPointsParameters(Quantity) {
    return {pointsSpec("points_degC_ohm", "Two points", {{25, kUsual_ohm}, {50, 3588}}, Quantity::Resistance)};
}

MadeSensor makeSteinhartHart(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "a", "b", "c");
    if (!numbers) return tl::unexpected(numbers.error());
    const auto [a, b, c] = *numbers;
    return wrapSensor<SteinhartHartFormula>(steinhartHart(a, b, c, context.range));
}

std::vector<ParameterSpec> steinhartHartParameters(Quantity) {
    // The usual thermistor as coefficients: c = 0 is the Beta equation.
    return {{.id = "a", .label = "a", .unitSuffix = "1/K", .example = 1 / 298.15 - std::log(kUsual_ohm) / kUsualBeta_K},
            {.id = "b", .label = "b", .unitSuffix = "1/K", .example = 1 / kUsualBeta_K},
            {.id = "c", .label = "c", .unitSuffix = "1/K", .example = 0.0}};
}

MadeSensor makeThreePoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_degC_ohm");
    if (!points) return tl::unexpected(points.error());
    auto curve = steinhartHartThrough(*points, context.range);
    if (!curve) curve.error().where = "points_degC_ohm";
    return wrapSensor<SteinhartHartFormula>(std::move(curve));
}

std::vector<ParameterSpec> threePointsParameters(Quantity) {
    return {pointsSpec("points_degC_ohm", "Three points",
                       {{0, usual_ohm(0) - 500}, {25, kUsual_ohm}, {60, usual_ohm(60)}}, Quantity::Resistance)};
}

const std::array kRows{
    SensorFamily{.id = "ntc-two-points",
                 .title = "NTC thermistor, two points",
                 .output = Quantity::Resistance,
                 .parameters = twoPointsParameters,
                 .make = makeTwoPoints,
                 .confusedWith = {"ntc-beta", "steinhart-hart-points"}},
    SensorFamily{.id = "ntc-beta",
                 .title = "NTC thermistor, R25 and B",
                 .output = Quantity::Resistance,
                 .parameters = betaParameters,
                 .make = makeBeta,
                 .confusedWith = {"steinhart-hart", "ntc-two-points"},
                 .note = betaNote},
    SensorFamily{.id = "steinhart-hart",
                 .title = "NTC thermistor, Steinhart–Hart a b c",
                 .output = Quantity::Resistance,
                 .parameters = steinhartHartParameters,
                 .make = makeSteinhartHart,
                 .confusedWith = {"ntc-beta", "steinhart-hart-points"}},
    SensorFamily{.id = "steinhart-hart-points",
                 .title = "NTC thermistor, three points",
                 .output = Quantity::Resistance,
                 .parameters = threePointsParameters,
                 .make = makeThreePoints,
                 .confusedWith = {"table-thermistor", "ntc-two-points"}},
};

}  // namespace

std::span<const SensorFamily> thermistorFamilies() { return kRows; }

}  // namespace fg
