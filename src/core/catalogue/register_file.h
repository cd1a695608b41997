#pragma once

#include "registers/register_map.h"

namespace fg {

/// Reads a register map from JSON (data/registers/*.json). Errors name `file`, register and field: bits outside the
/// register or taken twice, a choice that does not fit, a missing name.
[[nodiscard]] Expected<RegisterMap> readRegisterMap(const std::string& json, const std::string& file);

}  // namespace fg
