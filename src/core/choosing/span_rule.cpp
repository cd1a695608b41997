#include "choosing/rules.h"

#include <algorithm>

namespace fg::choosing {

// The part's stated range, and where the converter at hand ends before it.
std::optional<Mark> spanRule(const Subject& subject) {
    Mark mark{"span", "Range", Verdict::Met, "", "", 0};
    const auto worsen = [&](Verdict verdict, const std::string& text) {
        if (verdict < mark.verdict) return;
        mark.text = verdict > mark.verdict || mark.text.empty() ? text : mark.text + ", " + text;
        mark.verdict = verdict;
    };
    std::size_t gauge = 0;
    for (const Wish& wish : subject.need.wishes) {
        if (!subject.measures(wish.quantity)) continue;
        const Trust& trust = subject.candidate.trust[gauge++];
        const auto range = subject.range(wish.quantity);
        if (!range) {
            worsen(Verdict::Open, "no range is stated");
            mark.brief = "not stated";
            continue;
        }
        const Interval wanted = seenSpan(wish, subject.facts().pressureKind);
        const std::string asked =
            spanText(wanted, unitOf(wish)) + (wanted.low == wish.span.low ? "" : " with the air's own pressure");
        mark.brief += (mark.brief.empty() ? "" : ", ") + spanText(*range, unitOf(wish));
        if (range->low > wanted.low || range->high < wanted.high)
            worsen(Verdict::Ruled, fmt::format("works at {}, {} wanted", spanText(*range, unitOf(wish)), asked));
        else if (!trust.problem.empty())
            worsen(Verdict::Open, "no first gauge can be made of it: " + trust.problem);
        else if (trust.isClipped && !trust.open.empty())
            worsen(Verdict::Open, "depends on your part: " + trust.open + " are not given");
        else if (trust.isClipped)
            worsen(Verdict::Open,
                   subject.device
                       ? "it saturates before the span ends, set as it is: less gain or a shorter time"
                       : "the converter at hand ends before the span does: another reference, gain or divider");
        else
            worsen(Verdict::Met, fmt::format("{} covers {}", spanText(*range, unitOf(wish)), asked));
    }
    if (gauge == 0) return std::nullopt;
    return mark;
}

}  // namespace fg::choosing
