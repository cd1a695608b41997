#pragma once

#include <algorithm>
#include <string>
#include <string_view>

namespace fg {

/// Without those of the characters `around` that stand at its ends. The view is into `text`.
[[nodiscard]] inline std::string_view trimmed(std::string_view text, std::string_view around = " \t\r\n") {
    const auto goes = [around](char c) { return around.find(c) != std::string_view::npos; };
    while (!text.empty() && goes(text.front())) text.remove_prefix(1);
    while (!text.empty() && goes(text.back())) text.remove_suffix(1);
    return text;
}

/// In small letters. Only A to Z change, in every locale: designations and names of fields have no others.
[[nodiscard]] inline std::string lowered(std::string_view text) {
    std::string low(text);
    std::transform(low.begin(), low.end(), low.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return low;
}

}  // namespace fg
