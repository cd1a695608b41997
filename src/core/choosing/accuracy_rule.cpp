#include "choosing/rules.h"

namespace fg::choosing {

// Expanded uncertainty of the whole first gauge at the worst place of the wanted span, by the budget every gauge has.
std::optional<Mark> accuracyRule(const Subject& subject) {
    Mark mark{"accuracy", "Accuracy", Verdict::Met, "", "", 0};
    bool isAsked = false;
    std::size_t gauge = 0;
    for (const Wish& wish : subject.need.wishes) {
        if (!subject.measures(wish.quantity)) continue;
        const Trust& trust = subject.candidate.trust[gauge++];
        if (!(wish.accuracy > 0)) continue;
        isAsked = true;
        if (!trust.problem.empty()) continue;  // the range says so
        if (!trust.open.empty()) {
            mark.verdict = Verdict::Open;
            mark.brief = "depends";
            mark.text = "depends on your part: " + trust.open + " are not given";
            continue;
        }
        const std::string has = "± " + differenceText(trust.expanded, unitOf(wish));
        const std::string wanted = "± " + differenceText(wish.accuracy, unitOf(wish)) + " wanted";
        const double margin = trust.expanded > 0 ? wish.accuracy / trust.expanded : 0;
        const std::string limit =
            trust.limit > 0 ? fmt::format(" (its document: ± {})", differenceText(trust.limit, unitOf(wish))) : "";
        mark.brief += (mark.brief.empty() ? "" : ", ") + (trust.isStated ? has : "not stated");
        if (margin > 0 && (mark.margin == 0 || margin < mark.margin)) mark.margin = margin;
        if (margin < 1 && trust.expanded > 0) {
            mark.text = (mark.verdict == Verdict::Ruled ? mark.text + ", " : "") + has + limit + " against " + wanted;
            mark.verdict = Verdict::Ruled;
        } else if (mark.verdict != Verdict::Ruled && !trust.isStated) {
            mark.verdict = Verdict::Open;
            mark.text = fmt::format("no accuracy is stated all over the span; what is known makes {}, {}: calibrate it",
                                    has, wanted);
        } else if (mark.verdict == Verdict::Met) {
            mark.text += (mark.text.empty() ? "" : ", ") + has + limit + ", " + wanted;
        }
    }
    if (!isAsked) return std::nullopt;
    if (mark.verdict == Verdict::Open) mark.margin = 0;  // what is not stated cannot be counted as won
    if (mark.text.empty()) {
        mark.verdict = Verdict::Open;
        mark.text = "cannot be judged without a gauge";
    }
    return mark;
}

}  // namespace fg::choosing
