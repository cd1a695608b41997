#include "json/json_text.h"

#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

/// The first place where more than kMostJsonDepth objects and lists are open at once; text.size() when nowhere. Told
/// before the parser goes there: its result is taken apart again level by level on the stack.
std::size_t tooDeep(std::string_view text) {
    int depth = 0;
    bool inString = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inString) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                inString = false;
        } else if (c == '"') {
            inString = true;
        } else if (c == '[' || c == '{') {
            if (++depth > kMostJsonDepth) return i;
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return text.size();
}

std::string placeIn(std::string_view text, std::size_t at, const std::string& file) {
    const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n');
    const std::size_t lineStart = text.rfind('\n', at == 0 ? 0 : at - 1);
    const std::size_t column = lineStart == std::string_view::npos ? at + 1 : at - lineStart;
    return fmt::format("{}, line {}, column {}", file, line, column);
}

/// DEL and the C1 controls steer terminals too, and JSON leaves them as they are: as escapes they mean the same.
std::string withoutControls(std::string text) {
    constexpr unsigned char kDelete = 0x7F, kC1Lead = 0xC2, kC1End = 0xA0;
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (byte(i) == kDelete)
            text.replace(i, 1, "\\u007f");
        else if (byte(i) == kC1Lead && i + 1 < text.size() && byte(i + 1) < kC1End)
            text.replace(i, 2, fmt::format("\\u{:04x}", byte(i + 1)));
    }
    return text;
}

template <class Json>
std::string dumped(const Json& json, int indent) {
    return withoutControls(json.dump(indent, ' ', false, Json::error_handler_t::replace));
}

}  // namespace

Expected<nlohmann::json> parseJson(std::string_view text, const std::string& file) {
    if (const std::size_t deep = tooDeep(text); deep < text.size())
        return fail(ErrorCode::Range, placeIn(text, deep, file), fmt::format("more than {} levels", kMostJsonDepth),
                    "objects and lists that are not nested so deeply");
    try {
        return nlohmann::json::parse(text);
    } catch (const nlohmann::json::parse_error& error) {
        const std::size_t end = std::min(error.byte > 0 ? error.byte - 1 : 0, text.size());
        const std::string found =
            end < text.size() ? "“" + inOneLine(text.substr(end, 12)) + "”" : "the end of the file";
        return fail(ErrorCode::Syntax, placeIn(text, end, file), found, "JSON that goes on correctly");
    } catch (const nlohmann::json::exception& error) {
        return fail(ErrorCode::Syntax, file, error.what(), "JSON");
    }
}

std::string jsonText(const nlohmann::json& json, int indent) { return dumped(json, indent); }
std::string jsonText(const nlohmann::ordered_json& json, int indent) { return dumped(json, indent); }

}  // namespace fg
