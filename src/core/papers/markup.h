#pragma once

#include <string>
#include <string_view>

namespace fg {

/// Text for HTML and SVG: what would mean something there is taken literally.
[[nodiscard]] std::string inHtml(std::string_view text);

}  // namespace fg
