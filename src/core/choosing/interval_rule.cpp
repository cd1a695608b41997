#include "choosing/rules.h"

namespace fg::choosing {

// The part's own shortest time between two readings; an analog part without one is as fast as the converter.
std::optional<Mark> intervalRule(const Subject& subject) {
    if (!(subject.need.interval_s > 0)) return std::nullopt;
    Mark mark{"interval", "Speed", Verdict::Met, "", "", 0};
    const double least = subject.facts().minimumInterval_s;
    if (!(least > 0)) {
        mark.verdict = subject.part ? Verdict::Met : Verdict::Open;
        mark.text = subject.part ? "as often as the converter asks" : "how often it may be asked is not stated";
        mark.brief = subject.part ? "any" : "not stated";
        return mark;
    }
    const std::string had = engineering(least, Quantity::Time, 3).joined(),
                      wanted = engineering(subject.need.interval_s, Quantity::Time, 3).joined();
    mark.brief = had;
    mark.margin = subject.need.interval_s / least;
    mark.verdict = mark.margin >= 1 ? Verdict::Met : Verdict::Ruled;
    mark.text = fmt::format("one reading in {}, one in {} wanted", had, wanted);
    return mark;
}

}  // namespace fg::choosing
