#include "calibration/session.h"
#include "calibration/stated.h"
#include "derived/law.h"
#include "output.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>
#include <map>

namespace fg::cli {
namespace {

struct Options {
    std::map<std::string, std::string> typed;
    std::string unit;
    bool json = false;
};

int run(const Law& law, const Options& options) {
    const auto found = referenceOf(law, options.typed);
    if (!found) return refuse(found.error());
    const LawOutput output = law.output();
    const Unit* unit = &canonicalUnit(output.quantity);
    if (!options.unit.empty()) {
        const auto other = unitFromId(options.unit, output.quantity);
        if (!other) return refuse(other.error().within("--unit"));
        unit = *other;
    }
    const double value = unit->fromCanonical(found->value);
    const double u = unit->differenceFromCanonical(found->u);
    const std::string symbol(unit->symbol);
    const std::string digits = u > 0 ? fixedDigits(value, decimalsFor(2 * u)) : plainNumber(value, 6);
    const std::string display =
        digits + " " + symbol + (u > 0 ? " ± " + significantDigits(2 * u, 2) + " " + symbol : "");
    std::vector<Finding> findings;
    for (const LawInput& input : law.inputs()) {
        const auto it = options.typed.find(std::string(input.name));
        const bool isGiven = it != options.typed.end() && !it->second.empty();
        if (!isGiven && input.otherwise)
            findings.push_back({Severity::Hint, Stage::World, "usual-value", fmt::format("{} not given", input.label),
                                fmt::format("Taken: {} {}.", plainNumber(*input.otherwise, 7),
                                            input.unit.empty() ? canonicalUnit(input.quantity).symbol : input.unit),
                                std::nullopt});
    }
    if (!(found->u > 0))
        findings.push_back({Severity::Hint, Stage::World, "uncertainty-not-given",
                            "Uncertainty of the inputs not given", "Give each its U (k = 2) behind ±: \"25 °C ± 0.3\".",
                            std::nullopt});
    if (options.json) {
        printJsonText(nlohmann::ordered_json{{"law", law.id()},
                                             {"value", value},
                                             {"unit", unit->id},
                                             {"display", display},
                                             {"u", jsonNumber(u)},
                                             {"source", law.source()},
                                             {"trace", traceJson(found->trace)},
                                             {"findings", findingsJson(findings)}});
        return kFine;
    }
    fmt::print("{}\n\n", display);
    printTrace(found->trace);
    fmt::print("\n");
    printFindings(findings);
    return kFine;
}

}  // namespace

void addDerive(Verb& program) {
    Verb derive =
        program.verb("derive", "What follows from one reading or several: dew point, altitude, boiling point …")
            .requireVerb();
    for (const Law* law : laws()) {
        auto options = std::make_shared<Options>();
        Verb verb = derive.verb(std::string(law->id()), std::string(law->title()));
        for (const LawInput& input : law->inputs()) {
            std::string& typed = options->typed[std::string(input.name)];
            const std::string help =
                fmt::format("{}, ± U (k = 2) behind it{}", input.label,
                            input.otherwise
                                ? fmt::format("; not given: {} {}", plainNumber(*input.otherwise, 7),
                                              input.unit.empty() ? canonicalUnit(input.quantity).symbol : input.unit)
                                : "");
            if (input.otherwise)
                verb.option("--" + std::string(input.name), typed, help);
            else
                verb.required("--" + std::string(input.name), typed, help);
        }
        verb.option("--unit", options->unit, "unit of the answer: degF, hPa, ft …");
        verb.flag("--json", options->json, "one JSON object instead of text");
        verb.run([options, law] { return run(*law, *options); });
    }
}

}  // namespace fg::cli
