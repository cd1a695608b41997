#include "sensors/family_rows.h"
#include "sensors/scaled_polynomial.h"
#include "sensors/straight_line.h"
#include "sensors/table.h"
#include "units/number_format.h"

#include <array>
#include <cmath>

namespace fg {
namespace {

// f = dark + slope · E: parts whose output is a frequency in proportion to light.
MadeSensor makeLinearFrequency(const Parameters& parameters, const SensorContext& context) {
    const std::string slopeId = idWithUnit("slope_Hz_per_", context.measurand);
    const auto slope = parameters.requireNumber(slopeId);
    if (!slope) return tl::unexpected(slope.error());
    return wrapSensor(StraightLine::make(*slope, parameters.numberOr("offset_Hz", 0), context.measurand,
                                         Quantity::Frequency, context.range, {slopeId, "offset_Hz"}));
}

std::vector<ParameterSpec> linearFrequencyParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {{idWithUnit("slope_Hz_per_", measurand),
             "Slope",
             Quantity::Frequency,
             "/" + symbol,
             {},
             "slope_tolerance",
             ToleranceKind::Relative},
            {"offset_Hz", "Frequency at 0 " + symbol, Quantity::Frequency, "", 0.0, "offset_tolerance_Hz",
             ToleranceKind::Absolute}};
}

MadeSensor makeLinearPulses(const Parameters& parameters, const SensorContext& context) {
    const std::string slopeId = idWithUnit("pulses_per_", context.measurand);
    const auto slope = parameters.requireNumber(slopeId), zero = parameters.requireNumber("pulses_at_0");
    if (!slope) return tl::unexpected(slope.error());
    if (!zero) return tl::unexpected(zero.error());
    return wrapSensor(
        StraightLine::make(*slope, *zero, context.measurand, Quantity::Count, context.range, {slopeId, "pulses_at_0"}));
}

std::vector<ParameterSpec> linearPulsesParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {{idWithUnit("pulses_per_", measurand), "Pulses per " + symbol, Quantity::Ratio, "", {}},
            {"pulses_at_0", "Pulses at 0 " + symbol, Quantity::Ratio, "", {}}};
}

MadeSensor makeTablePulses(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("table_pulses");
    if (!points) return tl::unexpected(points.error());
    return wrapSensor(Table::make(*points, context.measurand, Quantity::Count, Interpolation::Linear, "table_pulses"));
}

std::vector<ParameterSpec> tablePulsesParameters(Quantity) {
    return {{"table_pulses", "Table", Quantity::Count, "", {}, "", ToleranceKind::None, true}};
}

std::vector<double> coefficientsOf(const Parameters& parameters) {
    std::vector<double> c;
    for (const char* id : {"c0", "c1", "c2", "c3"}) c.push_back(parameters.numberOr(id, 0));
    return c;
}

std::vector<ParameterSpec> coefficientParameters(ParameterSpec nominal) {
    return {std::move(nominal),
            {"c0", "c0", Quantity::Ratio, "", {}},
            {"c1", "c1", Quantity::Ratio, "", {}},
            {"c2", "c2", Quantity::Ratio, "", 0.0},
            {"c3", "c3", Quantity::Ratio, "", 0.0}};
}

MadeSensor makeScaled(const Parameters& parameters, const SensorContext& context, Quantity output,
                      const char* nominalId) {
    const auto nominal = parameters.requireNumber(nominalId);
    if (!nominal) return tl::unexpected(nominal.error());
    return wrapSensor(ScaledPolynomial::make(*nominal, coefficientsOf(parameters), context.measurand, output,
                                             context.range, nominalId));
}

MadeSensor makeCapacitance(const Parameters& parameters, const SensorContext& context) {
    return makeScaled(parameters, context, Quantity::Capacitance, "nominal_F");
}
MadeSensor makeFrequency(const Parameters& parameters, const SensorContext& context) {
    return makeScaled(parameters, context, Quantity::Frequency, "nominal_Hz");
}

std::vector<ParameterSpec> capacitanceParameters(Quantity) {
    return coefficientParameters({"nominal_F",
                                  "Nominal capacitance",
                                  Quantity::Capacitance,
                                  "",
                                  {},
                                  "nominal_tolerance",
                                  ToleranceKind::Relative});
}
std::vector<ParameterSpec> frequencyParameters(Quantity) {
    return coefficientParameters(
        {"nominal_Hz", "Nominal frequency", Quantity::Frequency, "", {}, "nominal_tolerance", ToleranceKind::Relative});
}

const std::array kRows{
    SensorFamily{"linear-frequency", "Straight line, frequency", Quantity::Frequency, linearFrequencyParameters,
                 makeLinearFrequency},
    SensorFamily{"scaled-frequency", "Polynomial, frequency", Quantity::Frequency, frequencyParameters, makeFrequency},
    SensorFamily{"scaled-capacitance", "Polynomial, capacitance", Quantity::Capacitance, capacitanceParameters,
                 makeCapacitance},
    SensorFamily{"linear-pulses", "Straight line, pulses", Quantity::Count, linearPulsesParameters, makeLinearPulses},
    SensorFamily{"table-pulses", "Table, pulses", Quantity::Count, tablePulsesParameters, makeTablePulses},
};

}  // namespace

std::span<const SensorFamily> countedFamilies() { return kRows; }

}  // namespace fg
