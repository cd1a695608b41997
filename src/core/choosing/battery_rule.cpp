#include "choosing/rules.h"

#include <algorithm>

namespace fg::choosing {

// On a battery the current decides: what the part takes on average when it measures as often as wanted (or once a
// minute) and rests in between. A part without a resting state is counted as measuring all the time.
std::optional<Mark> batteryRule(const Subject& subject) {
    if (!subject.need.isBattery) return std::nullopt;
    Mark mark{"battery", "On battery", Verdict::Met, "", "", 0};
    const double measuring = subject.facts().supply_A;
    if (!(measuring > 0) && subject.facts().average_A > 0) {
        mark.brief = engineering(subject.facts().average_A, Quantity::Current, 2).joined();
        mark.text = fmt::format("takes {} on average at {} results a second, as its document states", mark.brief,
                                plainNumber(subject.facts().average_Hz, 3));
        return mark;
    }
    if (!(measuring > 0)) {
        mark.verdict = subject.part && !(subject.facts().supply_V.high > 0) ? Verdict::Met : Verdict::Open;
        mark.text = mark.verdict == Verdict::Met
                        ? "takes only what flows through its circuit; feed that from a pin while measuring"
                        : "its current is not stated here";
        mark.brief = mark.verdict == Verdict::Met ? "its circuit" : "not stated";
        return mark;
    }
    const double busy = subject.device ? subject.device->minimumInterval_s : 0;
    const double every = std::max(subject.need.interval_s > 0 ? subject.need.interval_s : 60.0, busy);
    const bool rests = subject.facts().standby_A > 0 && busy > 0;
    const double average = rests ? (measuring * busy + subject.facts().standby_A * (every - busy)) / every : measuring;
    mark.brief = engineering(average, Quantity::Current, 2).joined();
    mark.text = rests ? fmt::format("about {} on average, measuring once in {} and resting between", mark.brief,
                                    engineering(every, Quantity::Time, 3).joined())
                      : fmt::format("takes {} all the time: switch its supply from a pin", mark.brief);
    constexpr double kSmall_A = 100e-6;  // a pair of AA cells lasts two years on it
    if (average > kSmall_A) mark.verdict = Verdict::Open;
    return mark;
}

}  // namespace fg::choosing
