#pragma once

#include "catalogue/device_part.h"
#include "timing/consequences.h"

namespace fg {

/// consequencesOf() a setting, and where that says nothing of the supply current, what the part's document states of
/// it: on average where conversion and period follow from the setting, else while measuring; at rest where the setting
/// puts it to rest.
[[nodiscard]] std::vector<Consequence> consequencesFor(const DevicePart& part, const RegisterMap& map,
                                                       std::span<const FieldValue> values);

/// Do these settings put the part to rest, so that it measures nothing by itself?
[[nodiscard]] bool isResting(std::span<const FieldValue> values);

}  // namespace fg
