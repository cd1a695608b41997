#pragma once

#include "units/unit.h"

#include <string>

namespace fg {

/// A number ready to be shown: digits (true minus U+2212, point as decimal sign) and the unit symbol apart, because the
/// screens set them in different type.
struct NumberText {
    std::string digits;
    std::string unit;

    /// Both in one line with a space between: "2.444 kΩ"; only the digits when there is no unit.
    [[nodiscard]] std::string joined() const;
};

/// `value` with exactly `decimals` places (0 … 15). NaN gives "–".
[[nodiscard]] std::string fixedDigits(double value, int decimals);

/// The same with a plus before what is above zero: "+0.51".
[[nodiscard]] std::string signedDigits(double value, int decimals);

/// `value` to `significant` digits (1 … 17), without exponent while it stays within 1e-5 … 1e15. NaN gives "–".
[[nodiscard]] std::string significantDigits(double value, int significant);

/// A value of an electrical or physical quantity with the SI prefix that leaves 1 … 999 before the point: (2443.8,
/// Resistance) is "2.444", "kΩ". Temperatures, humidities, ratios and counts get no prefix. Input in the canonical
/// unit.
[[nodiscard]] NumberText engineering(double canonical, Quantity quantity, int significant = 4);

/// engineering() without the zeros it ends in: component values as people write them, (2200, Resistance) is "2.2",
/// "kΩ".
[[nodiscard]] NumberText shortEngineering(double canonical, Quantity quantity, int significant = 6);

/// Decimal places to which a result in `unit` is given when its expanded uncertainty is `uncertainty` (same unit, a
/// difference): two significant digits of the uncertainty (JCGM 100:2008, 7.2.6). Between 0 and 12; 3 when it is not
/// above zero.
[[nodiscard]] int decimalsFor(double uncertainty);

/// A reading and its expanded uncertainty, both canonical, shown in `unit` and rounded to the same place:
/// {"60.48","°C"} and "0.68".
struct RoundedReading {
    NumberText value;
    std::string uncertainty;  ///< empty when unknown (not above zero, or not finite)
    int decimals = 0;
};
[[nodiscard]] RoundedReading roundedReading(double canonical, double uncertaintyCanonical, const Unit& unit);

/// Shortest text that reads back as exactly this double ("0.1", "1e-07"); "nan" and "inf" as they are. For files.
[[nodiscard]] std::string shortestText(double value);

/// Plain number text for error messages and formulas: up to 10 significant digits, no trailing zeros.
[[nodiscard]] std::string plainNumber(double value, int significant = 10);

/// plainNumber() for the inside of a formula: a negative number stands in brackets.
[[nodiscard]] std::string term(double value, int significant = 7);

}  // namespace fg
