// Room `timing`: what follows from the settings of a part: how long it takes, what it draws, how fine it sees.
#pragma once

#include "registers/register_map.h"

namespace fg {

/// What a setting of the registers costs or gives.
struct Consequence {
    std::string id;     ///< "conversion_s", "conversion_max_s", "period_s", "poll_s", "step"
    std::string title;  ///< on screen
    double value = 0;   ///< canonical unit of `quantity`; of a temperature always a difference: a step, a noise
    Quantity quantity = Quantity::Time;
    std::string note;  ///< where it comes from, or what to mind
};

/// The consequences of all fields as they stand (RegisterMap::all()): conversion time, period, smallest sensible
/// polling interval, resolution. Empty for a device whose data sheet's figures are not known here. Sources stand with
/// each rule in consequences_*.cpp.
[[nodiscard]] std::vector<Consequence> consequencesOf(const RegisterMap& map, std::span<const FieldValue> values);

/// Its value as people write it, to four or five digits: "12.5 ms".
[[nodiscard]] std::string consequenceText(const Consequence& one);

}  // namespace fg
