// Room `choosing`: from what must be measured and what is at hand to the parts that do it, those that do not, and
// exactly why.
#pragma once

#include "numeric/transfer.h"
#include "units/error.h"
#include "units/unit.h"

#include <optional>
#include <string>
#include <vector>

namespace fg {

/// One quantity that must be measured. Everything canonical; `accuracy` and `resolution` are differences, 0 when not
/// asked.
struct Wish {
    Quantity quantity = Quantity::Temperature;
    Interval span{0, 50};
    double accuracy = 0;            ///< expanded uncertainty (95 %) of the whole gauge, anywhere on the span
    double resolution = 0;          ///< the least change that must be seen, anywhere on the span
    std::string pressureKind = {};  ///< of a pressure: "absolute", "gauge" or "differential"; empty: any
    const Unit* unit = nullptr;     ///< in which it was asked and is answered; null: usualUnit()
};

/// The unit people read a quantity in: the canonical one, hPa for pressures.
[[nodiscard]] const Unit& usualUnit(Quantity quantity);

[[nodiscard]] const Unit& unitOf(const Wish& wish);

/// What a part must cover for a wish: an absolute part that is asked for gauge pressure sees the air's own with it,
/// 870 to 1085 hPa at sea level (the extremes on record, WMO archive of weather and climate extremes).
[[nodiscard]] Interval seenSpan(const Wish& wish, std::string_view pressureKindOfPart);

/// What the reading is taken of.
enum class Medium { Any, Air, Surface, Liquid, Wall };

/// What is still free to connect to. A number of 0 and a `false` rule parts out; nothing said at all means nothing is
/// ruled out.
struct FreePlaces {
    int analogPins = 0;
    std::string converter;  ///< behind those pins, a catalogue converter; empty: the one the part itself suggests
    int digitalPins = 0;
    bool i2c = false;
    bool oneWire = false;  ///< a line that carries several
    bool spi = false;
};

/// What must be measured and what is at hand, in the maker's words. What is left out asks for nothing.
struct Need {
    std::vector<Wish> wishes;  ///< temperature with humidity is one need with two wishes
    double interval_s = 0;     ///< fastest reading wanted, time between two
    Medium medium = Medium::Any;
    std::vector<double> supplies_V;  ///< voltages on hand
    bool isBattery = false;
    std::optional<FreePlaces> free;
    double cable_m = 0;
    bool isWet = false;
    bool isInCase = false;
    std::optional<double> hot_degC;  ///< how warm it gets where the part sits
    int count = 1;
};

/// Reads a need from JSON (data/schema/need.schema.json): spans and limits in the wish's own unit. Errors name the
/// field, what was read and what was expected; unknown fields are errors.
[[nodiscard]] Expected<Need> readNeed(const std::string& json, const std::string& file);

[[nodiscard]] std::string_view mediumName(Medium medium);  ///< "air", "surface", "liquid", "wall"; empty for Any
[[nodiscard]] std::optional<Medium> mediumFromName(std::string_view name);

/// Refuses what cannot be asked: no wish, a span upside down, a quantity twice, a count below 1.
[[nodiscard]] Expected<void> checkNeed(const Need& need);

}  // namespace fg
