#pragma once

#include "catalogue/catalogue.h"
#include "path/gauge_spec.h"

#include <string_view>

namespace fg {

/// The parameters a field belongs to, by the field's path in the gauge file: "sensor.…", "wiring.…" or "converter.…".
/// Any other path is the caller's mistake.
[[nodiscard]] Parameters& parametersAt(GaugeSpec& spec, std::string_view field);

/// The last part of a field's path: "fixed_ohm" of "wiring.fixed_ohm".
[[nodiscard]] std::string fieldName(std::string_view field);

/// The field's number as the gauge has it, its converter's part included; `otherwise` when neither says.
[[nodiscard]] double fieldOr(const GaugeSpec& spec, const Catalogue& catalogue, std::string_view field,
                             double otherwise);

}  // namespace fg
