#include "choosing/rules.h"

namespace fg::choosing {

// Absolute parts measure against nothing, gauge parts against the air around them, differential ones against a second
// port.
std::optional<Mark> pressureKindRule(const Subject& subject) {
    std::string asked;
    for (const Wish& wish : subject.need.wishes)
        if (wish.quantity == Quantity::Pressure) asked = wish.pressureKind;
    if (asked.empty()) return std::nullopt;
    const std::string& has = subject.facts().pressureKind;
    Mark mark{"pressure-kind", "Kind", Verdict::Met, "", has.empty() ? "not stated" : has, 0};
    if (has.empty()) {
        mark.verdict = Verdict::Open;
        mark.text = "depends on your part: absolute, gauge or differential";
    } else if (has == asked)
        mark.text = "measures " + has + " pressure";
    else if (asked == "gauge" && has == "differential")
        mark.text = "measures gauge pressure with its second port open to the air";
    else if (asked == "gauge" && has == "absolute") {
        mark.verdict = Verdict::Open;
        mark.text = "measures absolute pressure: take the air's own off, read by a second one beside it";
    } else {
        mark.verdict = Verdict::Ruled;
        mark.text = fmt::format("measures {} pressure, {} is wanted{}", has, asked,
                                asked == "absolute" ? ": the air's own is not in its reading" : "");
    }
    return mark;
}

}  // namespace fg::choosing
