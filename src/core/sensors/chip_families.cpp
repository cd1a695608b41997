#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "units/number_format.h"

#include <array>
#include <cmath>

namespace fg {
namespace {

// U = Uat + slope · (x − at): the "750 mV at 25 °C" form, a diode at a fixed current, a chip's sensor corrected at one
// point.
MadeSensor makePointAndSlope(const Parameters& parameters, const SensorContext& context) {
    const std::string slopeId = idWithUnit("slope_V_per_", context.measurand),
                      atId = idWithUnit("at_", context.measurand);
    const auto slope = parameters.requireNumber(slopeId), value = parameters.requireNumber("value_V");
    if (!slope) return tl::unexpected(slope.error());
    if (!value) return tl::unexpected(value.error());
    return wrapSensor(StraightLine::make(*slope, *value - *slope * parameters.numberOr(atId, 25), context.measurand,
                                         Quantity::Voltage, context.range, {slopeId, "value_V"}));
}

std::vector<ParameterSpec> pointAndSlopeParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    return {
        {"value_V", "Voltage at that point", Quantity::Voltage, "", {}, "value_tolerance_V", ToleranceKind::Absolute},
        {idWithUnit("at_", measurand), "The point", measurand, "", 25.0},
        {idWithUnit("slope_V_per_", measurand),
         "Slope",
         Quantity::Voltage,
         "/" + symbol,
         {},
         "slope_tolerance",
         ToleranceKind::Relative}};
}

// Two words that the factory wrote into the chip: the codes its own converter gave at two temperatures and a stated
// reference.
MadeSensor makeCalibrationWords(const Parameters& parameters, const SensorContext& context) {
    const auto low = parameters.requireNumber("low_word"), high = parameters.requireNumber("high_word");
    const auto lowAt = parameters.requireNumber("low_degC"), highAt = parameters.requireNumber("high_degC");
    const auto reference = parameters.requireNumber("words_reference_V"), bits = parameters.requireNumber("words_bits");
    for (const auto* one : {&low, &high, &lowAt, &highAt, &reference, &bits})
        if (!*one) return tl::unexpected(one->error());
    if (!(*bits >= 8 && *bits <= 16) || *bits != std::floor(*bits))
        return fail(ErrorCode::Range, "words_bits", plainNumber(*bits), "8 to 16 bits");
    if (!(*reference > 0))
        return fail(ErrorCode::Range, "words_reference_V", plainNumber(*reference), "a voltage above 0 V");
    for (const double word : {*low, *high})
        if (!(word >= 1 && word < std::ldexp(1.0, static_cast<int>(*bits)) - 1))
            return fail(ErrorCode::Range, word == *low ? "low_word" : "high_word", plainNumber(word),
                        "a factory word inside the converter's range; an erased or missing word reads as an end of it");
    const double lsb_V = *reference / std::ldexp(1.0, static_cast<int>(*bits));
    return wrapSensor(StraightLine::throughPoints({*lowAt, *low * lsb_V}, {*highAt, *high * lsb_V}, context.measurand,
                                                  Quantity::Voltage, context.range, "high_word"));
}

std::vector<ParameterSpec> calibrationWordsParameters(Quantity) {
    return {
        {"low_word",
         "Word at the lower temperature",
         Quantity::Count,
         "",
         {},
         "word_tolerance_LSB",
         ToleranceKind::Absolute},
        {"low_degC", "Lower temperature", Quantity::Temperature, "", {}, "at_tolerance_K", ToleranceKind::Absolute},
        {"high_word",
         "Word at the higher temperature",
         Quantity::Count,
         "",
         {},
         "word_tolerance_LSB",
         ToleranceKind::Absolute},
        {"high_degC", "Higher temperature", Quantity::Temperature, "", {}, "at_tolerance_K", ToleranceKind::Absolute},
        {"words_reference_V", "Reference they were taken at", Quantity::Voltage, "", {}},
        {"words_bits", "Bits they were taken with", Quantity::Count, "", {}}};
}

const std::array kRows{
    SensorFamily{"point-and-slope", "Voltage at a point, and a slope", Quantity::Voltage, pointAndSlopeParameters,
                 makePointAndSlope},
    SensorFamily{"calibration-words", "Chip sensor, two factory words", Quantity::Voltage, calibrationWordsParameters,
                 makeCalibrationWords},
};

}  // namespace

std::span<const SensorFamily> chipFamilies() { return kRows; }

}  // namespace fg
