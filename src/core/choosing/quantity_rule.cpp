#include "choosing/rules.h"

namespace fg::choosing {

// A part that measures only one of two wished quantities is no answer to both.
std::optional<Mark> quantityRule(const Subject& subject) {
    Mark mark{"quantity", "Measures", Verdict::Met, "", "", 0};
    std::string missing;
    for (const Wish& wish : subject.need.wishes) {
        const std::string name(quantityName(wish.quantity));
        if (!subject.measures(wish.quantity)) missing += (missing.empty() ? "" : " or ") + name;
    }
    std::string has;
    if (subject.part) has = quantityName(subject.part->quantity);
    if (subject.device)
        for (const std::string& reading : subject.device->readings) has += (has.empty() ? "" : ", ") + reading;
    mark.brief = has;
    mark.text = "measures " + has;
    if (!missing.empty()) {
        mark.verdict = Verdict::Ruled;
        mark.text = fmt::format("does not measure {}: it measures {}", missing, has);
    }
    // The sensor inside a chip measures something else than was asked, whatever its numbers.
    if (missing.empty() && subject.facts().measures == "chip") {
        mark.verdict = Verdict::Open;
        mark.text = "measures the chip it sits in, which is warmer than what is around it";
    }
    return mark;
}

}  // namespace fg::choosing
