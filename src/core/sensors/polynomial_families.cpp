// Polynomials: relative to a part's nominal capacitance or frequency, and the user's own in volts.

#include "sensors/family_rows.h"
#include "sensors/polynomial.h"
#include "units/number_format.h"

#include <array>

namespace fg {

Expected<PolynomialFormula<double>> invertible(PolynomialFormula<double> formula, Interval range,
                                               const std::string& field) {
    auto bracketed = Bracketed::make([formula](double x) { return formula.curve(x); }, range, field);
    if (!bracketed) return tl::unexpected(bracketed.error());
    formula.fixed.inverse = std::make_shared<const Bracketed>(std::move(*bracketed));
    return formula;
}

namespace {

constexpr std::array<const char*, 4> kScaledIds{"c0", "c1", "c2", "c3"};
constexpr std::array<const char*, 6> kOwnIds{"c0_V", "c1_V", "c2_V", "c3_V", "c4_V", "c5_V"};

MadeSensor makeScaled(const Parameters& parameters, const SensorContext& context, Quantity output,
                      const char* nominalId) {
    const auto nominalValue = parameters.requireNumber(nominalId);
    if (!nominalValue) return tl::unexpected(nominalValue.error());
    if (!(*nominalValue > 0) || !std::isfinite(*nominalValue))
        return fail(ErrorCode::Range, nominalId, plainNumber(*nominalValue),
                    fmt::format("a value above 0 {}", canonicalUnit(output).symbol));
    PolynomialFormula<double> formula;
    formula.nominalValue = *nominalValue;
    formula.fixed.hasNominal = true;
    formula.fixed.nominalId = nominalId;
    formula.fixed.count = kScaledIds.size();
    for (std::size_t i = 0; i < kScaledIds.size(); ++i) {
        formula.c[i] = parameters.numberOr(kScaledIds[i], 0);
        formula.fixed.ids[i] = kScaledIds[i];
    }
    formula.fixed.title = "Polynomial of its nominal value";
    formula.fixed.source = "part's data sheet, relative to its nominal value";
    formula.fixed.argument = symbolOf(context.measurand);
    formula.fixed.result = symbolOf(output);
    return wrapSensor<PolynomialFormula>(invertible(formula, context.range, "c1"));
}

MadeSensor makeCapacitance(const Parameters& parameters, const SensorContext& context) {
    return makeScaled(parameters, context, Quantity::Capacitance, "nominal_F");
}
MadeSensor makeFrequency(const Parameters& parameters, const SensorContext& context) {
    return makeScaled(parameters, context, Quantity::Frequency, "nominal_Hz");
}

std::vector<ParameterSpec> scaledParameters(ParameterSpec nominalValue, double c0, double c1) {
    nominalValue.toleranceId = "nominal_tolerance";
    nominalValue.tolerance = ToleranceKind::Relative;
    return {std::move(nominalValue),
            {.id = "c0", .label = "c0", .example = c0},
            {.id = "c1", .label = "c1", .example = c1},
            {.id = "c2", .label = "c2", .defaultValue = 0.0},
            {.id = "c3", .label = "c3", .defaultValue = 0.0}};
}
std::vector<ParameterSpec> capacitanceParameters(Quantity) {
    return scaledParameters(
        {.id = "nominal_F", .label = "Nominal capacitance", .quantity = Quantity::Capacitance, .example = 180e-12}, 0.9,
        0.0018);
}
std::vector<ParameterSpec> frequencyParameters(Quantity) {
    return scaledParameters(
        {.id = "nominal_Hz", .label = "Nominal frequency", .quantity = Quantity::Frequency, .example = 6660.0}, 1.1,
        -0.0018);
}

MadeSensor makeOwn(const Parameters& parameters, const SensorContext& context) {
    PolynomialFormula<double> formula;
    for (std::size_t i = 0; i < kOwnIds.size(); ++i) {
        formula.c[i] = parameters.numberOr(kOwnIds[i], 0);
        formula.fixed.ids[i] = kOwnIds[i];
        if (formula.c[i] != 0) formula.fixed.count = i + 1;
    }
    formula.fixed.count = std::max<std::size_t>(formula.fixed.count, 2);
    formula.fixed.title = "Formula of your own";
    formula.fixed.source = "polynomial of your own";
    formula.fixed.argument = symbolOf(context.measurand);
    formula.fixed.result = symbolOf(Quantity::Voltage);
    return wrapSensor<PolynomialFormula>(invertible(formula, ownRange(parameters, context), "coefficients"));
}

std::vector<ParameterSpec> ownParameters(Quantity measurand) {
    auto specs = ownRangeParameters(measurand);
    for (std::size_t i = 0; i < kOwnIds.size(); ++i) {
        ParameterSpec one{.id = kOwnIds[i], .label = "c" + std::to_string(i), .unitSuffix = "V"};
        if (i == 0) one.example = 0.5;
        if (i == 1) one.example = 2.0 / usualSpan(measurand).high;
        if (i != 1) one.defaultValue = 0.0;
        specs.push_back(std::move(one));
    }
    return specs;
}

const std::array kRows{
    SensorFamily{.id = "scaled-frequency",
                 .title = "Polynomial, frequency",
                 .output = Quantity::Frequency,
                 .parameters = frequencyParameters,
                 .make = makeFrequency,
                 .confusedWith = {"linear-frequency"}},
    SensorFamily{.id = "scaled-capacitance",
                 .title = "Polynomial, capacitance",
                 .output = Quantity::Capacitance,
                 .parameters = capacitanceParameters,
                 .make = makeCapacitance},
    SensorFamily{.id = "polynomial-voltage",
                 .title = "Polynomial of your own, voltage",
                 .output = Quantity::Voltage,
                 .parameters = ownParameters,
                 .make = makeOwn,
                 .confusedWith = {"expression-voltage", "table-voltage"}},
};

}  // namespace

std::span<const SensorFamily> polynomialFamilies() { return kRows; }

}  // namespace fg
