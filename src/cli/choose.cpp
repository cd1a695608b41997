#include "choosing/candidate.h"
#include "output.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

struct Options {
    std::string need, unit;
    int most = 10;
    bool all = false, json = false;
};

nlohmann::ordered_json trustJson(const Candidate& candidate, std::size_t index) {
    const Trust& trust = candidate.trust[index];
    const GaugeSpec& spec = candidate.gauges[index];
    nlohmann::ordered_json json{{"quantity", quantityName(spec.quantity)}, {"unit", canonicalUnit(spec.quantity).id}};
    if (!trust.problem.empty()) {
        json["problem"] = trust.problem;
        return json;
    }
    json["expanded"] = jsonNumber(trust.expanded);
    json["at"] = jsonNumber(trust.at);
    json["stated"] = trust.isStated;
    json["step"] = trust.step > 0 ? jsonNumber(trust.step) : nlohmann::ordered_json(nullptr);
    return json;
}

nlohmann::ordered_json candidateJson(const Candidate& candidate) {
    nlohmann::ordered_json json{{"part", candidate.id},
                                {"title", candidate.title},
                                {"interface", candidate.interface},
                                {"verdict", verdictName(candidate.isRuledOut()               ? Verdict::Ruled
                                                        : candidate.count(Verdict::Open) > 0 ? Verdict::Open
                                                                                             : Verdict::Met)},
                                {"why", candidate.why},
                                {"marks", nlohmann::ordered_json::array()},
                                {"trust", nlohmann::ordered_json::array()}};
    for (const Mark& mark : candidate.marks) {
        nlohmann::ordered_json one{{"id", mark.id}, {"verdict", verdictName(mark.verdict)}, {"text", mark.text}};
        if (mark.margin > 0) one["margin"] = jsonNumber(mark.margin);
        json["marks"].push_back(std::move(one));
    }
    for (std::size_t i = 0; i < candidate.trust.size(); ++i) json["trust"].push_back(trustJson(candidate, i));
    return json;
}

void printCandidate(std::size_t rank, const Candidate& candidate) {
    fmt::print("{:3}  {:<16} {}\n     {}\n", rank, candidate.id, candidate.title, candidate.why);
    for (const Mark& mark : candidate.marks)
        fmt::print("       {} {:<12} {}\n",
                   mark.verdict == Verdict::Met    ? "+"
                   : mark.verdict == Verdict::Open ? "?"
                                                   : "-",
                   mark.title, mark.text);
}

/// Answers every wish of that unit's quantity in it.
Expected<void> answerIn(const std::string& id, Need& need) {
    if (id.empty()) return {};
    std::string expected;
    bool isTaken = false;
    for (Wish& wish : need.wishes) {
        const auto unit = unitFromId(id, wish.quantity);
        if (unit) {
            wish.unit = *unit;
            isTaken = true;
        } else
            expected = unit.error().expected;
    }
    if (isTaken) return {};
    return fail(ErrorCode::Unknown, "--unit", "“" + id + "”", expected);
}

int run(const Options& options) {
    const auto text = readTextFile(options.need, "a need (data/schema/need.schema.json)");
    if (!text) return refuse(text.error());
    if (options.most < 1)
        return refuse({ErrorCode::Range, "--most", std::to_string(options.most), "how many to print, 1 or more"});
    auto need = readNeed(*text, options.need);
    if (!need) return refuse(need.error());
    if (const auto unit = answerIn(options.unit, *need); !unit) return refuse(unit.error());
    const auto candidates = choose(*need, catalogue());
    if (!candidates) return refuse(candidates.error());
    std::size_t fitting = 0;
    for (const Candidate& candidate : *candidates) fitting += candidate.isRuledOut() ? 0 : 1;
    const std::size_t shown = options.all || options.json
                                  ? candidates->size()
                                  : std::min(std::max(fitting, std::size_t{1}), static_cast<std::size_t>(options.most));
    if (options.json) {
        auto list = nlohmann::ordered_json::array();
        for (const Candidate& candidate : *candidates) list.push_back(candidateJson(candidate));
        printJsonText(nlohmann::ordered_json{{"fitting", fitting}, {"candidates", list}});
    } else {
        fmt::print("{} of {} parts are not ruled out; + met, ? to see to, - ruled out\n", fitting, candidates->size());
        for (std::size_t i = 0; i < shown; ++i) printCandidate(i + 1, (*candidates)[i]);
        if (shown < candidates->size()) fmt::print("{} more: --all\n", candidates->size() - shown);
    }
    return fitting > 0 ? kFine : kFault;
}

}  // namespace

void addChoose(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb =
        program.verb("choose",
                     "The parts that do what is needed, ranked, and why the others do not; exit code 1 when none does");
    verb.required("--need", options->need,
                  "what must be measured and what is at hand, a JSON file (data/schema/need.schema.json)");
    verb.option("--unit", options->unit, "answer in this unit (psi, degF, …) instead of the one asked in");
    verb.option("--most", options->most, "how many to print");
    verb.flag("--all", options->all, "print the parts that are ruled out as well");
    verb.flag("--json", options->json, "one JSON object instead of text, with every part");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
