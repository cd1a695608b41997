#pragma once

#include "units/unit.h"

#include <string>
#include <string_view>

namespace fg {

/// A value as a person wrote it, understood.
struct ReadValue {
    double canonical = 0;        ///< in the quantity's canonical unit
    const Unit* unit = nullptr;  ///< the unit it was written in, or the field's own when none was written
};

/// Reads a value of `quantity` as makers write it.
///
/// Takes a decimal point or a decimal comma, exponents, SI prefixes p n u µ m k M G before units that allow them, the
/// letter-for-point notation of component prints (`4k7`, `3V3`, `2R2`, `1u5`; IEC 60062, 5.1), all the units of unit.h
/// with their usual spellings
/// (`°C`, `degC`, `C`, `ohm`, `R`, `Ω`), and, for counts, `0x3FF` and `0b1010`.
/// A number without a unit is in `fieldUnit` (the canonical unit when null).
///
/// Errors: Syntax names the first character that did not fit; Ambiguous says both readings (`1,234` is 1.234 or 1234;
/// `5 m` of time is milliseconds or minutes; `10 K` of temperature is kelvin, never kilo); Range for values that no
/// such quantity can have (below absolute zero, negative resistance, not finite). Nothing is clamped or rounded.
[[nodiscard]] Expected<ReadValue> readValue(std::string_view text, Quantity quantity, const Unit* fieldUnit = nullptr);

/// The same for a difference or a tolerance, where 2 °F are 1.11 K and not −16.7 °C. Canonical unit.
[[nodiscard]] Expected<double> readDifference(std::string_view text, Quantity quantity,
                                              const Unit* fieldUnit = nullptr);

}  // namespace fg
