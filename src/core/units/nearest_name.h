#pragma once

#include <span>
#include <string>
#include <string_view>

namespace fg {

/// The one of `names` that a mistyped `name` is nearest to, by the fewest letters put in, left out or changed
/// (Levenshtein's distance); empty where none is near: more than a third of its letters.
[[nodiscard]] std::string nearestName(std::string_view name, std::span<const std::string> names);

}  // namespace fg
