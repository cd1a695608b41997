#include "choosing/candidate.h"
#include "choosing/first_gauge.h"
#include "choosing/rules.h"
#include "path/digital_path.h"
#include "sensors/family.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace fg {
namespace {

using namespace choosing;

constexpr std::array<Rule, 13> kRules{quantityRule, pressureKindRule, spanRule,   accuracyRule, resolutionRule,
                                      intervalRule, mediumRule,       supplyRule, batteryRule,  connectionRule,
                                      cableRule,    placeRule,        countRule};

/// More than three times what is wanted is no reason to prefer one part to another.
constexpr double kEnoughMargin = 3;

std::string joined(const std::vector<std::string>& texts) {
    std::string all;
    for (const std::string& text : texts) all += (all.empty() ? "" : "; ") + text;
    return all;
}

std::string reasonOf(const Candidate& candidate) {
    std::vector<std::string> ruled, open;
    for (const Mark& mark : candidate.marks) {
        if (mark.verdict == Verdict::Ruled) ruled.push_back(mark.text);
        if (mark.verdict == Verdict::Open) open.push_back(mark.text);
    }
    if (!ruled.empty()) return "Ruled out: " + joined(ruled) + ".";
    std::string text = open.empty() ? "Everything asked for is met" : "To see to: " + joined(open);
    if (const Mark* tightest = candidate.tightest()) {
        std::string name = tightest->title;
        name[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(name[0])));
        text += fmt::format("; nearest to its limit is the {}, {} times as good as wanted", name,
                            significantDigits(tightest->margin, 2));
    }
    return text + ".";
}

void finish(Candidate& candidate, const Need& need, const Catalogue& catalogue) {
    for (const GaugeSpec& gauge : candidate.gauges) candidate.trust.push_back(trustOver(gauge, catalogue));
    const Subject subject{need, catalogue, candidate.part, candidate.device, candidate};
    for (const Rule rule : kRules)
        if (auto mark = rule(subject)) candidate.marks.push_back(std::move(*mark));
    candidate.why = reasonOf(candidate);
}

}  // namespace

std::string_view verdictName(Verdict verdict) {
    return verdict == Verdict::Met ? "met" : verdict == Verdict::Open ? "open" : "ruled out";
}

int Candidate::count(Verdict verdict) const {
    return static_cast<int>(
        std::count_if(marks.begin(), marks.end(), [&](const Mark& mark) { return mark.verdict == verdict; }));
}

const Mark* Candidate::mark(std::string_view wanted) const {
    const auto it = std::find_if(marks.begin(), marks.end(), [&](const Mark& one) { return one.id == wanted; });
    return it == marks.end() ? nullptr : &*it;
}

const Mark* Candidate::tightest() const {
    const Mark* tightest = nullptr;
    for (const Mark& mark : marks)
        if (mark.margin > 0 && (!tightest || mark.margin < tightest->margin)) tightest = &mark;
    return tightest;
}

Candidate judge(const Need& need, const Part& part, const Catalogue& catalogue) {
    Candidate candidate{part.id, part.title, part.interface, &part, nullptr, {}, {}, {}, {}};
    for (const Wish& wish : need.wishes)
        if (wish.quantity == part.quantity) candidate.gauges.push_back(firstGauge(part, wish, need, catalogue));
    finish(candidate, need, catalogue);
    return candidate;
}

Candidate judge(const Need& need, const DevicePart& part, const Catalogue& catalogue) {
    Candidate candidate{part.id, part.title, part.interface, nullptr, &part, {}, {}, {}, {}};
    for (const Wish& wish : need.wishes) {
        const std::string reading(quantityName(wish.quantity));
        if (std::find(part.readings.begin(), part.readings.end(), reading) != part.readings.end())
            candidate.gauges.push_back(firstGauge(part, reading, wish, need));
    }
    finish(candidate, need, catalogue);
    return candidate;
}

Expected<std::vector<Candidate>> choose(const Need& need, const Catalogue& catalogue) {
    if (const auto checked = checkNeed(need); !checked) return tl::unexpected(checked.error());
    if (need.free && !need.free->converter.empty() && !catalogue.findConverter(need.free->converter))
        return fail(ErrorCode::Unknown, "free.converter", "“" + need.free->converter + "”",
                    "a converter of the catalogue");
    std::vector<Candidate> all;
    for (const Part& part : catalogue.parts()) all.push_back(judge(need, part, catalogue));
    for (const DevicePart& part : catalogue.devices()) all.push_back(judge(need, part, catalogue));
    const auto key = [](const Candidate& one) {
        const Mark* tightest = one.tightest();
        const double margin = tightest ? std::min(tightest->margin, kEnoughMargin) : 0;
        // A part for another quantity is no near miss, however little else speaks against it.
        const Mark* measures = one.mark("quantity");
        const bool isOther = measures && measures->verdict == Verdict::Ruled;
        return std::tuple(isOther, one.count(Verdict::Ruled), one.count(Verdict::Open), -margin,
                          one.interface == "analog", one.id);
    };
    std::sort(all.begin(), all.end(), [&](const Candidate& a, const Candidate& b) { return key(a) < key(b); });
    return all;
}

}  // namespace fg
