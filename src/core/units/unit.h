#pragma once

#include "units/error.h"
#include "units/quantity.h"

#include <span>
#include <string_view>

namespace fg {

/// One unit of one quantity. canonical = value · scale + offset; differences leave the offset out.
///
/// Exact factors: °F and K by definition (NIST SP 811, B.8: t/°C = (t/°F − 32)/1.8, T/K = t/°C + 273.15); psi
/// 6894.757293168 Pa, mmHg 133.322387415 Pa (conventional), inHg 25.4 × that, foot-candle 1 lm/ft² = 1/0.3048² lx;
/// foot 0.3048 m, inch 0.0254 m.
struct Unit {
    std::string_view id;      ///< in files and JSON: "degC", "Pa", "percent", "1"
    std::string_view symbol;  ///< on screen: "°C"
    Quantity quantity;
    double scale;
    double offset;
    bool takesPrefix;  ///< may stand behind an SI prefix (kΩ, mV, kPa)

    [[nodiscard]] double toCanonical(double value) const { return value * scale + offset; }
    [[nodiscard]] double fromCanonical(double value) const { return (value - offset) / scale; }
    [[nodiscard]] double differenceToCanonical(double difference) const { return difference * scale; }
    [[nodiscard]] double differenceFromCanonical(double difference) const { return difference / scale; }
};

/// All units known, canonical ones first within each quantity.
[[nodiscard]] std::span<const Unit> allUnits();

/// The unit that values of this quantity have inside the core and in JSON: degC, percent, Pa, lx, V, A, ohm, F, Hz,
/// s, 1.
[[nodiscard]] const Unit& canonicalUnit(Quantity quantity);

/// The unit with this id ("degC"), or an Unknown error that lists the ids of the quantity.
[[nodiscard]] Expected<const Unit*> unitFromId(std::string_view id, Quantity quantity);

}  // namespace fg
