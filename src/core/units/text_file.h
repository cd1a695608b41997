#pragma once

#include "units/error.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace fg {

/// A whole file as text. `expected` says what it should have been: "a gauge file". Errors: Io for a file that is not
/// there, that may not be read, or that is a folder; Range for one of more than 64 MiB, which none of the formats here
/// needs.
[[nodiscard]] Expected<std::string> readTextFile(const std::filesystem::path& path, std::string_view expected);

/// Text of anywhere, fit for one line of a message: control characters (C0 and C1, with which terminals are steered)
/// become spaces, bytes that are no UTF-8 question marks.
[[nodiscard]] std::string inOneLine(std::string_view text);

}  // namespace fg
