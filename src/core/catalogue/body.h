#pragma once

#include "units/error.h"

#include <map>
#include <string>

namespace fg {

/// Can a body be put there?
enum class Suits { Yes, WithCare, No };

/// A verdict with its reason, a clause: "seal it into a sleeve first".
struct BodyNote {
    Suits suits = Suits::Yes;
    std::string text;
};

/// What a part looks like to the world it is put into: "bead", "package", "probe" … Data: data/choosing/bodies.json.
struct Body {
    std::string id;
    std::string title;
    std::map<std::string, BodyNote> places;  ///< by medium or place: "air", "surface", "liquid", "wall", "wet", "case"
};

using Bodies = std::map<std::string, Body>;

/// Reads them all; errors name `file` and the field.
[[nodiscard]] Expected<Bodies> readBodies(const std::string& json, const std::string& file);

}  // namespace fg
