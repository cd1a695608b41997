// Sensors inside chips, by the words that the factory wrote into them. By a point and a slope: straight_families.cpp.

#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "units/number_format.h"

#include <array>

namespace fg {
/// What the formula below knows besides numbers.
struct WordFixed : StraightFixed {
    double steps = 0;  ///< 2^bits
    std::string_view stepsText, slopeUnit;
};

/// Two words that the factory wrote into the chip: the codes its own converter gave at two temperatures and a stated
/// reference.
template <class N>
struct WordTerms {
    N lowWord{}, lowAt{}, highWord{}, highAt{}, reference{}, bits{};
    WordFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"low_word", "word1", ""}, self.lowWord);
        visit(Symbol{"low_degC", "t1", "degC"}, self.lowAt);
        visit(Symbol{"high_word", "word2", ""}, self.highWord);
        visit(Symbol{"high_degC", "t2", "degC"}, self.highAt);
        visit(Symbol{"words_reference_V", "Uref", "V"}, self.reference);
        visit(Symbol{"words_bits", "n", ""}, self.bits);
    }
    [[nodiscard]] N slope() const {
        return step("s", fixed.slopeUnit, "slope through the two words",
                    (highWord * lsb() - lowWord * lsb()) / (highAt - lowAt));
    }
    [[nodiscard]] N offset() const { return aside("U0", "V", lowWord * lsb() - slope() * lowAt); }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }

  private:
    [[nodiscard]] N lsb() const {
        return step("LSB", "V", "of the converter that took the words",
                    reference / constant<N>(fixed.steps, "", fixed.stepsText));
    }
};

namespace {

MadeSensor makeWords(const Parameters& parameters, const SensorContext& context) {
    const auto numbers =
        numbersOf(parameters, "low_word", "high_word", "low_degC", "high_degC", "words_reference_V", "words_bits");
    if (!numbers) return tl::unexpected(numbers.error());
    const auto [low, high, lowAt, highAt, reference, bits] = *numbers;
    if (!(bits >= 8 && bits <= 16) || bits != std::floor(bits))
        return fail(ErrorCode::Range, "words_bits", plainNumber(bits), "8 to 16 bits");
    if (!(reference > 0))
        return fail(ErrorCode::Range, "words_reference_V", plainNumber(reference), "a voltage above 0 V");
    Straight<WordTerms>::Formula<double> line;
    line.fixed.steps = std::ldexp(1.0, static_cast<int>(bits));
    line.fixed.stepsText = interned(fmt::format("2^{}", bits));
    for (const double word : {low, high})
        if (!(word >= 1 && word < line.fixed.steps - 1))
            return fail(ErrorCode::Range, word == low ? "low_word" : "high_word", plainNumber(word),
                        "a factory word inside the converter's range; an erased or missing word reads as an end of it");
    if (lowAt == highAt)
        return fail(ErrorCode::Range, "high_word", fmt::format("two points at {}", plainNumber(highAt)),
                    "two different values of the measurand");
    if (low == high)
        return fail(ErrorCode::Range, "high_word", fmt::format("the word {} at both points", plainNumber(high)),
                    "an output that changes");
    line.lowWord = low;
    line.highWord = high;
    line.lowAt = lowAt;
    line.highAt = highAt;
    line.reference = reference;
    line.bits = bits;
    line.fixed.slopeUnit = slopeUnit(Quantity::Voltage, context.measurand);
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(Quantity::Voltage);
    line.fixed.range = context.range;
    line.fixed.source = "straight line through the factory words";
    return wrapSensor<Straight<WordTerms>::Formula>(checkedLine(line, "high_word", "high_word"));
}

std::vector<ParameterSpec> wordParameters(Quantity) {
    const auto word = [](const char* id, const char* label, double example) {
        return ParameterSpec{.id = id,
                             .label = label,
                             .quantity = Quantity::Count,
                             .toleranceId = "word_tolerance_LSB",
                             .tolerance = ToleranceKind::Absolute,
                             .example = example};
    };
    const auto at = [](const char* id, const char* label, double example) {
        return ParameterSpec{.id = id,
                             .label = label,
                             .quantity = Quantity::Temperature,
                             .toleranceId = "at_tolerance_K",
                             .tolerance = ToleranceKind::Absolute,
                             .example = example};
    };
    return {word("low_word", "Word at the lower temperature", 943),
            at("low_degC", "Lower temperature", 30),
            word("high_word", "Word at the higher temperature", 1225),
            at("high_degC", "Higher temperature", 110),
            {.id = "words_reference_V",
             .label = "Reference they were taken at",
             .quantity = Quantity::Voltage,
             .example = 3.3},
            {.id = "words_bits", .label = "Bits they were taken with", .quantity = Quantity::Count, .example = 12.0}};
}

const std::array kRows{
    SensorFamily{.id = "calibration-words",
                 .title = "Chip sensor, two factory words",
                 .output = Quantity::Voltage,
                 .parameters = wordParameters,
                 .make = makeWords,
                 .confusedWith = {"point-and-slope"}},
};

}  // namespace

std::span<const SensorFamily> chipFamilies() { return kRows; }

}  // namespace fg
