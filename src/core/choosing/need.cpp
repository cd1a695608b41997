#include "choosing/need.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr std::array<std::pair<Medium, std::string_view>, 4> kMedia{
    {{Medium::Air, "air"}, {Medium::Surface, "surface"}, {Medium::Liquid, "liquid"}, {Medium::Wall, "wall"}}};

void refuseUnknown(JsonFields& fields, std::initializer_list<std::string_view> known) {
    if (!fields.json().is_object()) return;
    std::string list;
    for (const std::string_view name : known) list += (list.empty() ? "" : ", ") + std::string(name);
    for (const auto& [name, value] : fields.json().items())
        if (std::find(known.begin(), known.end(), name) == known.end())
            fields.refuse(ErrorCode::Unknown, name, "a field that is not known here", "one of " + list);
}

bool flag(JsonFields& fields, const char* name) {
    if (!fields.has(name)) return false;
    if (!fields.at(name).is_boolean()) {
        fields.refuse(ErrorCode::Syntax, name, describe(fields.at(name)), "true or false");
        return false;
    }
    return fields.at(name).get<bool>();
}

double notNegative(JsonFields& fields, const char* name) {
    const double value = fields.numberOr(name, 0);
    if (!(value >= 0)) fields.refuse(ErrorCode::Range, name, plainNumber(value), "0 or above");
    return value;
}

bool isPressureKind(std::string_view kind) { return kind == "absolute" || kind == "gauge" || kind == "differential"; }

Wish readWish(JsonFields& fields) {
    refuseUnknown(fields, {"quantity", "unit", "span", "accuracy", "resolution", "pressure_kind"});
    Wish wish;
    wish.quantity = fields.measurand("quantity");
    const std::string unitId = fields.textOr("unit", std::string(canonicalUnit(wish.quantity).id));
    const auto unit = unitFromId(unitId, wish.quantity);
    if (!unit) {
        fields.refuse(unit.error().code, "unit", unit.error().found, unit.error().expected);
        return wish;
    }
    wish.pressureKind = fields.textOr("pressure_kind", "");
    if (!wish.pressureKind.empty() && (wish.quantity != Quantity::Pressure || !isPressureKind(wish.pressureKind)))
        fields.refuse(ErrorCode::Unknown, "pressure_kind", "“" + wish.pressureKind + "”",
                      "absolute, gauge or differential, of a pressure");
    if (fields.has("unit")) wish.unit = *unit;
    const Interval span = fields.interval("span");
    wish.span = {(*unit)->toCanonical(span.low), (*unit)->toCanonical(span.high)};
    wish.accuracy = (*unit)->differenceToCanonical(notNegative(fields, "accuracy"));
    wish.resolution = (*unit)->differenceToCanonical(notNegative(fields, "resolution"));
    return wish;
}

FreePlaces readFree(JsonFields& fields) {
    refuseUnknown(fields, {"analog_pins", "converter", "digital_pins", "i2c", "one_wire", "spi"});
    FreePlaces free;
    free.analogPins = fields.wholeOr("analog_pins", 0, 0, 1000);
    free.converter = fields.textOr("converter", "");
    free.digitalPins = fields.wholeOr("digital_pins", 0, 0, 1000);
    free.i2c = flag(fields, "i2c");
    free.oneWire = flag(fields, "one_wire");
    free.spi = flag(fields, "spi");
    return free;
}

void readWishes(JsonFields& fields, Need& need) {
    if (!fields.has("wishes") || !fields.at("wishes").is_array())
        return fields.refuse(ErrorCode::Missing, "wishes",
                             fields.has("wishes") ? describe(fields.at("wishes")) : "nothing",
                             "a list of {quantity, span, …}");
    int number = 0;
    for (const auto& entry : fields.at("wishes")) {
        JsonFields wish(entry, fmt::format("wishes[{}].", number++));
        need.wishes.push_back(readWish(wish));
        if (wish.error()) fields.adopt(wish);
    }
}

void readPlace(JsonFields& fields, Need& need) {
    for (const std::string& place : fields.texts("place")) {
        if (place == "wet")
            need.isWet = true;
        else if (place == "case")
            need.isInCase = true;
        else
            fields.refuse(ErrorCode::Unknown, "place", "“" + place + "”",
                          "“wet” or “case”; how hot it gets is hot_degC");
    }
    if (fields.has("hot_degC")) need.hot_degC = fields.numberOr("hot_degC", 0);
}

}  // namespace

const Unit& usualUnit(Quantity quantity) {
    return quantity == Quantity::Pressure ? *unitFromId("hPa", Quantity::Pressure).value() : canonicalUnit(quantity);
}

const Unit& unitOf(const Wish& wish) { return wish.unit ? *wish.unit : usualUnit(wish.quantity); }

Interval seenSpan(const Wish& wish, std::string_view pressureKindOfPart) {
    constexpr Interval kAir_Pa{87000, 108500};
    const bool seesAir =
        wish.quantity == Quantity::Pressure && wish.pressureKind == "gauge" && pressureKindOfPart == "absolute";
    return seesAir ? Interval{wish.span.low + kAir_Pa.low, wish.span.high + kAir_Pa.high} : wish.span;
}

std::string_view mediumName(Medium medium) {
    for (const auto& [id, name] : kMedia)
        if (id == medium) return name;
    return {};
}

std::optional<Medium> mediumFromName(std::string_view name) {
    for (const auto& [id, known] : kMedia)
        if (known == name) return id;
    return std::nullopt;
}

Expected<Need> readNeed(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<Need> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        if (fields.error()) return tl::unexpected(*fields.error());
        refuseUnknown(fields, {"$schema", "wishes", "interval_s", "medium", "supplies_V", "battery", "free", "cable_m",
                               "place", "hot_degC", "count"});
        Need need;
        readWishes(fields, need);
        need.interval_s = notNegative(fields, "interval_s");
        if (fields.has("medium")) {
            const std::string name = fields.text("medium");
            if (const auto medium = mediumFromName(name))
                need.medium = *medium;
            else
                fields.refuse(ErrorCode::Unknown, "medium", "“" + name + "”", "air, surface, liquid or wall");
        }
        if (fields.has("supplies_V")) {
            for (const auto& voltage : fields.at("supplies_V"))
                if (voltage.is_number())
                    need.supplies_V.push_back(voltage.get<double>());
                else
                    fields.refuse(ErrorCode::Syntax, "supplies_V", describe(voltage), "a list of voltages");
        }
        need.isBattery = flag(fields, "battery");
        if (fields.has("free")) {
            JsonFields free = fields.object("free");
            need.free = readFree(free);
            fields.adopt(free);
        }
        need.cable_m = notNegative(fields, "cable_m");
        readPlace(fields, need);
        need.count = fields.wholeOr("count", 1, 0, 1000);
        if (fields.error()) return tl::unexpected(*fields.error());
        if (const auto checked = checkNeed(need); !checked) return tl::unexpected(checked.error().within(file));
        return need;
    });
}

Expected<void> checkNeed(const Need& need) {
    if (need.wishes.empty()) return fail(ErrorCode::Missing, "wishes", "nothing to measure", "at least one quantity");
    for (std::size_t i = 0; i < need.wishes.size(); ++i) {
        const Wish& wish = need.wishes[i];
        const std::string where = fmt::format("wishes[{}].", i);
        if (!std::isfinite(wish.span.low) || !std::isfinite(wish.span.high) || !(wish.span.low < wish.span.high))
            return fail(ErrorCode::Range, where + "span",
                        fmt::format("{} … {}", plainNumber(wish.span.low), plainNumber(wish.span.high)),
                        "a low end below the high end");
        for (std::size_t j = 0; j < i; ++j)
            if (need.wishes[j].quantity == wish.quantity)
                return fail(ErrorCode::Range, where + "quantity",
                            fmt::format("{} a second time", quantityName(wish.quantity)), "each quantity once");
    }
    for (const double voltage : need.supplies_V)
        if (!(voltage > 0)) return fail(ErrorCode::Range, "supplies_V", plainNumber(voltage), "voltages above 0 V");
    if (need.count < 1) return fail(ErrorCode::Range, "count", std::to_string(need.count), "at least 1");
    return {};
}

}  // namespace fg
