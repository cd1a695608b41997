#pragma once

#include "catalogue/outline.h"

#include <string_view>

namespace fg::plan {

/// What a word beside a module's pin means for a part on `interface` ("i2c", "1-wire", "analog" …): SDA is data of a
/// two-wire bus, SO the data out of a four-wire one. Other where it says nothing that is wired.
[[nodiscard]] PinRole roleOfWord(std::string_view word, std::string_view interface);

}  // namespace fg::plan
