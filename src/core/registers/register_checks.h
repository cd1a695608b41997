#pragma once

#include "devices/device.h"
#include "registers/register_map.h"

namespace fg {

/// What is wrong with settings whatever they are for: a high limit below its low one, an alert that is switched off
/// although limits are set. Fields as RegisterMap::all() gives them.
[[nodiscard]] std::vector<DeviceStatus> checkSettings(std::span<const FieldValue> values);

}  // namespace fg
