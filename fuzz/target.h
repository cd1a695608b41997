// What the targets share.
#pragma once

#include "catalogue/catalogue.h"

#include <array>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

namespace fg::fuzz {

inline std::string_view textOf(const std::uint8_t* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}

inline const Catalogue& catalogue() {
    static const Catalogue shipped = [] {
        const std::array<std::filesystem::path, 1> folders{FAIRGAUGE_SOURCE_DATA};
        return Catalogue::read(folders);
    }();
    return shipped;
}

/// What must hold whatever the input.
inline void expect(bool holds) {
    if (!holds) std::abort();
}

}  // namespace fg::fuzz
