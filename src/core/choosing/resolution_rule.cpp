#include "choosing/rules.h"

#include <algorithm>

namespace fg::choosing {

// The step of the reading where it is coarsest, with the converter at hand.
std::optional<Mark> resolutionRule(const Subject& subject) {
    Mark mark{"resolution", "Resolution", Verdict::Met, "", "", 0};
    bool isAsked = false;
    std::size_t gauge = 0;
    for (const Wish& wish : subject.need.wishes) {
        if (!subject.measures(wish.quantity)) continue;
        const Trust& trust = subject.candidate.trust[gauge++];
        if (!(wish.resolution > 0)) continue;
        isAsked = true;
        if (!trust.open.empty()) {
            mark.verdict = std::max(mark.verdict, Verdict::Open);
            mark.brief = "depends";
            mark.text = "depends on your part: " + trust.open + " are not given";
            continue;
        }
        if (!(trust.step > 0)) {
            mark.verdict = std::max(mark.verdict, Verdict::Open);
            mark.text = "its step is not known";
            continue;
        }
        double margin = wish.resolution / trust.step;
        const std::string step = differenceText(trust.step, unitOf(wish));
        mark.brief += (mark.brief.empty() ? "" : ", ") + step;
        // A step that is printed like the wish meets it: 0.0625 asked as 0.06.
        constexpr double kPrintedAlike = 0.95;
        if (margin < kPrintedAlike)
            mark.verdict = Verdict::Ruled;
        else
            margin = std::max(margin, 1.0);
        if (mark.margin == 0 || margin < mark.margin) mark.margin = margin;
        mark.text +=
            fmt::format("{}steps of {}{}, {} wanted", mark.text.empty() ? "" : "; ", step,
                        subject.part ? " with this converter" : "", differenceText(wish.resolution, unitOf(wish)));
    }
    if (!isAsked) return std::nullopt;
    return mark;
}

}  // namespace fg::choosing
