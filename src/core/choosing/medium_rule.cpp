#include "choosing/rules.h"

namespace fg::choosing {

// What the part's body can be put to: data/choosing/bodies.json.
std::optional<Mark> mediumRule(const Subject& subject) {
    if (subject.need.medium == Medium::Any) return std::nullopt;
    const std::string medium(mediumName(subject.need.medium));
    Mark mark{"medium", "Body", Verdict::Open, "its body is not known here", "", 0};
    const auto body = subject.catalogue.bodies().find(subject.facts().body);
    if (body == subject.catalogue.bodies().end()) return mark;
    mark.brief = body->second.title;
    if (const auto note = body->second.places.find(medium); note != body->second.places.end()) {
        mark.verdict = verdictOf(note->second.suits);
        mark.text = fmt::format("{}: {}", medium == "wall" ? "through a wall" : medium, note->second.text);
    }
    return mark;
}

}  // namespace fg::choosing
