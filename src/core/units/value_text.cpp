#include "units/value_text.h"

#include <fmt/format.h>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

namespace fg {
namespace {

struct Spelling {
    std::string_view text;
    std::string_view unitId;
    Quantity quantity;
};

// Other ways in which people write the units; ids and symbols of unit.cpp are tried first.
constexpr std::array kSpellings{
    Spelling{"C", "degC", Quantity::Temperature},
    Spelling{"ºC", "degC", Quantity::Temperature},
    Spelling{"℃", "degC", Quantity::Temperature},
    Spelling{"°", "degC", Quantity::Temperature},
    Spelling{"deg C", "degC", Quantity::Temperature},
    Spelling{"F", "degF", Quantity::Temperature},
    Spelling{"ºF", "degF", Quantity::Temperature},
    Spelling{"℉", "degF", Quantity::Temperature},
    Spelling{"deg F", "degF", Quantity::Temperature},
    Spelling{"kelvin", "K", Quantity::Temperature},
    Spelling{"%", "percent", Quantity::RelativeHumidity},
    Spelling{"% RH", "percent", Quantity::RelativeHumidity},
    Spelling{"%rh", "percent", Quantity::RelativeHumidity},
    Spelling{"rh", "percent", Quantity::RelativeHumidity},
    Spelling{"Torr", "mmHg", Quantity::Pressure},
    Spelling{"torr", "mmHg", Quantity::Pressure},
    Spelling{"mb", "mbar", Quantity::Pressure},
    Spelling{"PSI", "psi", Quantity::Pressure},
    Spelling{"lux", "lx", Quantity::Illuminance},
    Spelling{"v", "V", Quantity::Voltage},
    Spelling{"volt", "V", Quantity::Voltage},
    Spelling{"a", "A", Quantity::Current},
    Spelling{"R", "ohm", Quantity::Resistance},
    Spelling{"r", "ohm", Quantity::Resistance},
    Spelling{"Ohm", "ohm", Quantity::Resistance},
    Spelling{"ohms", "ohm", Quantity::Resistance},
    Spelling{"Ω", "ohm", Quantity::Resistance},  // the ohm sign U+2126; unit.cpp has the Greek letter
    Spelling{"hz", "Hz", Quantity::Frequency},
    Spelling{"sec", "s", Quantity::Time},
    Spelling{"percent", "%", Quantity::Ratio},
    Spelling{"metre", "m", Quantity::Length},
    Spelling{"metres", "m", Quantity::Length},
    Spelling{"meters", "m", Quantity::Length},
    Spelling{"feet", "ft", Quantity::Length},
    Spelling{"foot", "ft", Quantity::Length},
    Spelling{"'", "ft", Quantity::Length},
    Spelling{"inch", "in", Quantity::Length},
    Spelling{"\"", "in", Quantity::Length},
    Spelling{"metres", "m", Quantity::Height},
    Spelling{"meters", "m", Quantity::Height},
    Spelling{"feet", "ft", Quantity::Height},
    Spelling{"'", "ft", Quantity::Height},
    Spelling{"g/m3", "g/m³", Quantity::VapourDensity},
    Spelling{"C/h", "degC/h", Quantity::TemperatureRate},
    Spelling{"K/h", "degC/h", Quantity::TemperatureRate},
    Spelling{"F/h", "degF/h", Quantity::TemperatureRate},
    Spelling{"%/h", "percent/h", Quantity::HumidityRate},
    Spelling{"counts", "1", Quantity::Count},
    Spelling{"codes", "1", Quantity::Count},
};

struct Prefix {
    std::string_view text;
    double factor;
};
constexpr std::array kPrefixes{Prefix{"p", 1e-12}, Prefix{"n", 1e-9}, Prefix{"u", 1e-6},
                               Prefix{"µ", 1e-6},  Prefix{"μ", 1e-6}, Prefix{"m", 1e-3},
                               Prefix{"k", 1e3},   Prefix{"M", 1e6},  Prefix{"G", 1e9}};

bool isDigit(char c) { return c >= '0' && c <= '9'; }

std::string_view trimmed(std::string_view text) {
    constexpr std::array<std::string_view, 4> spaces{" ", "\t", "\u00A0", "\u202F"};
    for (bool again = true; again;) {
        again = false;
        for (std::string_view space : spaces) {
            if (text.starts_with(space)) {
                text.remove_prefix(space.size());
                again = true;
            }
            if (text.ends_with(space)) {
                text.remove_suffix(space.size());
                again = true;
            }
        }
    }
    return text;
}

std::string quoted(std::string_view text) { return fmt::format("“{}”", text); }

const Unit* findUnit(std::string_view text, Quantity quantity) {
    for (const Unit& unit : allUnits())
        if (unit.quantity == quantity && (unit.id == text || unit.symbol == text) && unit.id != "1") return &unit;
    for (const Spelling& spelling : kSpellings)
        if (spelling.quantity == quantity && spelling.text == text)
            return unitFromId(spelling.unitId, quantity).value();
    return nullptr;
}

/// What stands behind the digits: a unit, a prefix, or both.
struct Tail {
    const Unit* unit = nullptr;  // null: none written
    double factor = 1;
};

std::string exampleOf(Quantity quantity) {
    switch (quantity) {
        case Quantity::Temperature:
            return "a temperature like 61 °C, 142 °F or 334 K";
        case Quantity::RelativeHumidity:
            return "a humidity like 45 %RH";
        case Quantity::Pressure:
            return "a pressure like 1013.2 hPa, 101.3 kPa or 14.7 psi";
        case Quantity::Illuminance:
            return "an illuminance like 400 lx or 37 fc";
        case Quantity::Voltage:
            return "a voltage like 3.3 V, 3V3 or 250 mV";
        case Quantity::Current:
            return "a current like 4 mA or 10u";
        case Quantity::Resistance:
            return "a resistance like 4k7, 2.2 kΩ or 100R";
        case Quantity::Capacitance:
            return "a capacitance like 100n or 4.7 µF";
        case Quantity::Frequency:
            return "a frequency like 50 Hz or 1.2 kHz";
        case Quantity::Time:
            return "a time like 10 ms, 2 s or 5 min";
        case Quantity::Ratio:
            return "a ratio like 0.01 or 1 %";
        case Quantity::Count:
            return "a count like 817, 0x331 or 0b1100";
        case Quantity::Length:
            return "a length like 2.5 m, 40 cm or 15 ft";
        case Quantity::Height:
            return "a height like 430 m, -12 m or 1400 ft";
        case Quantity::VapourDensity:
            return "water in the air like 9.4 g/m³";
        case Quantity::WoodMoisture:
            return "a moisture of wood like 9.2 %";
        case Quantity::TemperatureRate:
            return "a rate like 1.5 °C/h";
        case Quantity::HumidityRate:
            return "a rate like 4 %RH/h";
        case Quantity::PressureRate:
            return "a rate like 120 Pa/h or 1.2 hPa/h";
    }
    return "a number";
}

Expected<Tail> readTail(std::string_view text, Quantity quantity, std::string_view whole) {
    const std::string_view tail = trimmed(text);
    if (tail.empty()) return Tail{};
    if (const Unit* unit = findUnit(tail, quantity)) return Tail{unit, 1};
    const Unit& canonical = canonicalUnit(quantity);
    if (quantity == Quantity::Time && tail == "m")
        return fail(ErrorCode::Ambiguous, "", quoted(whole),
                    "5 ms for milliseconds or 5 min for minutes; m alone can mean either");
    if (canonical.takesPrefix) {
        for (const Prefix& prefix : kPrefixes) {
            if (!tail.starts_with(prefix.text)) continue;
            const std::string_view rest = tail.substr(prefix.text.size());
            if (rest.empty()) return Tail{&canonical, prefix.factor};
            const Unit* unit = findUnit(rest, quantity);
            if (unit && unit->takesPrefix) return Tail{unit, prefix.factor};
        }
        // "10K" on a resistor means kilo; kelvin cannot be meant there.
        if (quantity == Quantity::Resistance && tail.starts_with("K")) {
            const std::string_view rest = tail.substr(1);
            if (rest.empty() || findUnit(rest, quantity)) return Tail{&canonical, 1e3};
        }
    }
    return fail(ErrorCode::Syntax, "", quoted(whole),
                fmt::format("{}; after the number “{}” is no unit of it", exampleOf(quantity), tail));
}

Expected<double> readInteger(std::string_view digits, int base, std::string_view whole) {
    std::uint64_t value = 0;
    const auto [end, status] = std::from_chars(digits.data(), digits.data() + digits.size(), value, base);
    if (digits.empty() || end != digits.data() + digits.size())
        return fail(ErrorCode::Syntax, "", quoted(whole),
                    base == 16 ? "hexadecimal digits after 0x" : "the digits 0 and 1 after 0b");
    if (status != std::errc{} || value > (std::uint64_t{1} << 53))
        return fail(ErrorCode::Range, "", quoted(whole), "a count of at most 53 bits");
    return static_cast<double>(value);
}

/// The decimal digits at the start of a text, with their separator already turned into a point.
struct Digits {
    std::string text;
    std::size_t length = 0;  // characters of the source used up
    bool hasPoint = false;
};

Expected<Digits> readDigits(std::string_view text, std::string_view whole) {
    Digits digits;
    std::size_t commas = 0;
    std::size_t before = 0;
    std::size_t after = 0;
    for (; digits.length < text.size(); ++digits.length) {
        const char c = text[digits.length];
        if (isDigit(c)) {
            digits.text += c;
            ++(digits.hasPoint ? after : before);
        } else if (c == '.' || c == ',') {
            if (digits.hasPoint)
                return fail(ErrorCode::Ambiguous, "", quoted(whole),
                            "one decimal point or comma and no thousands separators, like 1234.5");
            digits.hasPoint = true;
            commas += c == ',' ? 1 : 0;
            digits.text += '.';
        } else {
            break;
        }
    }
    const bool looksGrouped = commas == 1 && after == 3 && before >= 1 && before <= 3 && digits.text[0] != '0';
    if (looksGrouped) {
        std::string joined = digits.text;
        joined.erase(joined.find('.'), 1);
        return fail(ErrorCode::Ambiguous, "", quoted(whole),
                    fmt::format("{} or {}; a comma before three digits can mean either", digits.text, joined));
    }
    return digits;
}

/// Takes `e-3` off the front of `text` and appends it to the digits.
void readExponent(std::string_view& text, Digits& digits) {
    if (text.empty() || (text[0] != 'e' && text[0] != 'E')) return;
    std::size_t length = 1;
    if (length < text.size() && (text[length] == '+' || text[length] == '-')) ++length;
    const std::size_t firstDigit = length;
    while (length < text.size() && isDigit(text[length])) ++length;
    if (length == firstDigit) return;
    digits.text += text.substr(0, length);
    text.remove_prefix(length);
}

/// Letter-for-point notation: digits, one of the quantity's letters, digits, nothing else.
std::optional<double> readLetterForPoint(const Digits& digits, std::string_view rest, Quantity quantity,
                                         std::string& joined) {
    if (digits.hasPoint) return std::nullopt;
    std::size_t tailDigits = 0;
    while (tailDigits < rest.size() && isDigit(rest[rest.size() - 1 - tailDigits])) ++tailDigits;
    if (tailDigits == 0 || tailDigits == rest.size()) return std::nullopt;
    const std::string_view letter = rest.substr(0, rest.size() - tailDigits);
    double factor = 0;
    const bool isUnitLetter = (quantity == Quantity::Resistance && (letter == "R" || letter == "r")) ||
                              (quantity == Quantity::Voltage && (letter == "V" || letter == "v")) ||
                              (quantity == Quantity::Current && letter == "A") ||
                              (quantity == Quantity::Capacitance && letter == "F");
    if (isUnitLetter) factor = 1;
    if (quantity == Quantity::Resistance && letter == "K") factor = 1e3;
    for (const Prefix& prefix : kPrefixes)
        if (letter == prefix.text && canonicalUnit(quantity).takesPrefix) factor = prefix.factor;
    if (factor == 0) return std::nullopt;
    joined = digits.text + "." + std::string(rest.substr(rest.size() - tailDigits));
    return factor;
}

Expected<double> toDouble(const std::string& digits, std::string_view whole) {
    double value = 0;
    const auto [end, status] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (status != std::errc{} || end != digits.data() + digits.size() || !std::isfinite(value))
        return fail(ErrorCode::Range, "", quoted(whole), "a number that a double can hold");
    return value;
}

Expected<ReadValue> checkPossible(ReadValue value, Quantity quantity, std::string_view whole) {
    const auto refuse = [&](const char* what) { return fail(ErrorCode::Range, "", quoted(whole), what); };
    if (!std::isfinite(value.canonical)) return refuse("a number that a double can hold");
    if (quantity == Quantity::Temperature && value.canonical < -273.15 - 1e-9)
        return refuse("a temperature not below absolute zero, -273.15 °C");
    if (quantity == Quantity::Resistance && value.canonical < 0) return refuse("a resistance not below 0 Ω");
    if (quantity == Quantity::Capacitance && value.canonical < 0) return refuse("a capacitance not below 0 F");
    if (quantity == Quantity::Length && value.canonical < 0) return refuse("a length not below 0 m");
    if (quantity == Quantity::Frequency && value.canonical < 0) return refuse("a frequency not below 0 Hz");
    if (quantity == Quantity::Illuminance && value.canonical < 0) return refuse("an illuminance not below 0 lx");
    return value;
}

}  // namespace

Expected<ReadValue> readValue(std::string_view text, Quantity quantity, const Unit* fieldUnit) {
    const std::string_view whole = trimmed(text);
    if (whole.empty()) return fail(ErrorCode::Missing, "", "nothing", exampleOf(quantity));
    std::string_view rest = whole;
    double sign = 1;
    for (std::string_view minus : {std::string_view("-"), std::string_view("−")})
        if (rest.starts_with(minus)) {
            sign = -1;
            rest.remove_prefix(minus.size());
        }
    if (sign > 0 && rest.starts_with("+")) rest.remove_prefix(1);
    rest = trimmed(rest);

    const Unit* const bareUnit = fieldUnit ? fieldUnit : &canonicalUnit(quantity);
    const bool isHex = rest.starts_with("0x") || rest.starts_with("0X");
    const bool isBinary = rest.starts_with("0b") || rest.starts_with("0B");
    if (isHex || isBinary) {
        if (quantity != Quantity::Count)
            return fail(ErrorCode::Syntax, "", quoted(whole), exampleOf(quantity) + "; 0x and 0b are for counts");
        return readInteger(rest.substr(2), isHex ? 16 : 2, whole).map([&](double count) {
            return ReadValue{sign * count, bareUnit};
        });
    }

    auto digits = readDigits(rest, whole);
    if (!digits) return tl::unexpected(digits.error());
    if (digits->text.empty() || digits->text == ".")
        return fail(ErrorCode::Syntax, "", quoted(whole), exampleOf(quantity));
    rest.remove_prefix(digits->length);

    std::string joined;
    if (const auto factor = readLetterForPoint(*digits, rest, quantity, joined)) {
        const auto number = toDouble(joined, whole);
        if (!number) return tl::unexpected(number.error());
        return checkPossible({sign * *number * *factor, &canonicalUnit(quantity)}, quantity, whole);
    }
    readExponent(rest, *digits);
    const auto number = toDouble(digits->text, whole);
    if (!number) return tl::unexpected(number.error());
    const auto tail = readTail(rest, quantity, whole);
    if (!tail) return tl::unexpected(tail.error());
    const Unit* unit = tail->unit ? tail->unit : bareUnit;
    // Small prefixes divide by an exact power of ten: 100 / 1e9 is the double nearest to 100 n, 100 × 1e-9 is not.
    const double scaled = tail->factor < 1 ? *number / std::round(1 / tail->factor) : *number * tail->factor;
    return checkPossible({unit->toCanonical(sign * scaled), unit}, quantity, whole);
}

Expected<double> readDifference(std::string_view text, Quantity quantity, const Unit* fieldUnit) {
    const auto value = readValue(text, quantity, fieldUnit);
    if (!value) return tl::unexpected(value.error());
    return value->unit->differenceToCanonical(value->unit->fromCanonical(value->canonical));
}

}  // namespace fg
