// Room `json`: JSON text in and out, the one place where it is parsed. Nothing thrown leaves this room.
#pragma once

#include "units/error.h"

#include <exception>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace fg {

/// How deep objects and lists may stand in one another: far more than any format here needs.
inline constexpr int kMostJsonDepth = 64;

/// A JSON text read. Errors: Syntax with the place where it stops being JSON, Range for more than kMostJsonDepth
/// levels; both name `file`.
[[nodiscard]] Expected<nlohmann::json> parseJson(std::string_view text, const std::string& file);

/// Runs what looks into parsed JSON: where a value is of another kind than it took for granted, that is an error that
/// names `file`, and nothing is thrown on.
template <class Look>
[[nodiscard]] auto guarded(const std::string& file, const Look& look) -> decltype(look()) {
    try {
        return look();
    } catch (const std::exception& thrown) {
        return fail(ErrorCode::Syntax, file, std::string("a value of another kind (") + thrown.what() + ")",
                    "values of the kinds that its schema names");
    }
}

/// As text: on one line, or indented by `indent` blanks a level. Bytes that are no UTF-8 become replacement characters.
[[nodiscard]] std::string jsonText(const nlohmann::json& json, int indent = -1);
[[nodiscard]] std::string jsonText(const nlohmann::ordered_json& json, int indent = -1);

}  // namespace fg
