#include "catalogue/body.h"

#include "catalogue/json_fields.h"

namespace fg {
namespace {

constexpr const char* kPlaces[]{"air", "surface", "liquid", "wall", "wet", "case"};

BodyNote readNote(JsonFields& fields, const char* place) {
    const auto& note = fields.at(place);
    if (!note.is_array() || note.size() != 2 || !note[0].is_string() || !note[1].is_string()) {
        fields.refuse(ErrorCode::Syntax, place, describe(note), "[\"yes\", \"care\" or \"no\", a reason]");
        return {};
    }
    const std::string verdict = note[0].get<std::string>();
    if (verdict != "yes" && verdict != "care" && verdict != "no")
        fields.refuse(ErrorCode::Unknown, place, "“" + verdict + "”", "yes, care or no");
    return {verdict == "yes" ? Suits::Yes : verdict == "no" ? Suits::No : Suits::WithCare, note[1].get<std::string>()};
}

}  // namespace

Expected<Bodies> readBodies(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<Bodies> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        JsonFields list = fields.object("bodies");
        if (fields.error()) return tl::unexpected(*fields.error());
        Bodies bodies;
        for (const auto& [id, entry] : list.json().items()) {
            JsonFields one = list.object(id.c_str());
            Body body;
            body.id = id;
            body.title = one.text("title");
            for (const char* place : kPlaces)
                if (one.has(place)) body.places[place] = readNote(one, place);
            if (one.error()) return tl::unexpected(*one.error());
            bodies[id] = std::move(body);
        }
        return bodies;
    });
}

}  // namespace fg
