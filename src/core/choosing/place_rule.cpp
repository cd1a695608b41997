#include "choosing/rules.h"

namespace fg::choosing {

// Wet, inside a case: the same data. Hot: the stated range of the part's temperature.
std::optional<Mark> placeRule(const Subject& subject) {
    const Need& need = subject.need;
    if (!need.isWet && !need.isInCase && !need.hot_degC) return std::nullopt;
    Mark mark{"place", "Place", Verdict::Met, "", "", 0};
    const auto add = [&](Verdict verdict, const std::string& text) {
        if (verdict > mark.verdict) {
            mark.verdict = verdict;
            mark.text = text;
        } else if (verdict == mark.verdict)
            mark.text += (mark.text.empty() ? "" : "; ") + text;
    };
    const auto body = subject.catalogue.bodies().find(subject.facts().body);
    for (const auto& [asked, place] : {std::pair{need.isWet, "wet"}, std::pair{need.isInCase, "case"}}) {
        if (!asked) continue;
        const auto* note =
            body == subject.catalogue.bodies().end() ? nullptr : [&, &where = place]() -> const BodyNote* {
            const auto it = body->second.places.find(where);
            return it == body->second.places.end() ? nullptr : &it->second;
        }();
        add(note ? verdictOf(note->suits) : Verdict::Open,
            note ? std::string(place) + ": " + note->text : "its body is not known here");
    }
    if (need.hot_degC) {
        const auto range = subject.range(Quantity::Temperature);
        const std::string hot = plainNumber(*need.hot_degC, 4) + " °C";
        if (!range)
            add(Verdict::Open, "whether it bears " + hot + " is not stated here");
        else if (range->high < *need.hot_degC)
            add(Verdict::Ruled, fmt::format("works up to {} °C, it gets {} there", plainNumber(range->high, 4), hot));
        else
            add(Verdict::Met, fmt::format("bears {}: works up to {} °C", hot, plainNumber(range->high, 4)));
    }
    return mark;
}

}  // namespace fg::choosing
