#include "uncertainty/reading_text.h"

#include <cmath>

namespace fg {
namespace {

std::string signOf(Clip clip) {
    if (clip == Clip::AtLeast) return "≥ ";
    return clip == Clip::AtMost ? "≤ " : "";
}

}  // namespace

ReadingText readingText(const StageValue& value, double expanded, const Unit& unit, std::optional<int> decimals) {
    const RoundedReading rounded = roundedReading(value.value, expanded, unit);
    ReadingText text;
    if (value.clip != Clip::None && !std::isnan(value.value)) {
        // A limit is not rounded by an uncertainty it does not have.
        text.sign = signOf(value.clip);
        text.value = {significantDigits(unit.fromCanonical(value.value), 4), std::string(unit.symbol)};
        return text;
    }
    text.value = rounded.value;
    if (decimals && !std::isnan(value.value))
        text.value.digits = fixedDigits(unit.fromCanonical(value.value), *decimals);
    if (std::isnan(value.value)) return text;
    text.uncertainty = rounded.uncertainty;
    return text;
}

int decimalsWhenUnstated(double canonical, const Unit& unit) {
    return decimalsFor(std::abs(unit.fromCanonical(canonical)) / 100);
}

ReadingText stageText(const StageValue& value, double expanded, const Unit& readingUnit, std::optional<int> decimals) {
    ReadingText text;
    if (!value.text.empty()) return {"", {value.text, ""}, ""};
    switch (value.stage) {
        case Stage::Sensor:
            if (isMeasurand(value.quantity))
                return readingText(value, expanded, readingUnit);  // a digital part senses the measurand itself
            [[fallthrough]];
        case Stage::Wiring:
            text.value = engineering(value.value, value.quantity, 4);
            break;
        case Stage::Converter:
            text.value.digits = fixedDigits(value.value, value.value == std::floor(value.value) ? 0 : 2);
            break;
        case Stage::Correction: {
            const double amount = readingUnit.differenceFromCanonical(value.amount);
            const int places = decimalsFor(std::abs(readingUnit.differenceFromCanonical(expanded)));
            text.value = {(amount > 0 && !std::isnan(amount) ? "+" : "") +
                              fixedDigits(std::isnan(value.value) ? value.value : amount, places),
                          std::string(readingUnit.symbol)};
            return text;
        }
        default:
            return readingText(value, expanded, readingUnit, value.stage == Stage::Reading ? decimals : std::nullopt);
    }
    if (!std::isnan(value.value)) text.sign = signOf(value.clip);
    return text;
}

}  // namespace fg
