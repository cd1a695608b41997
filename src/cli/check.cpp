#include "bench/gauge_json.h"
#include "gauge/gauge.h"
#include "output.h"
#include "planning/bus_findings.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <algorithm>

namespace fg::cli {
namespace {

int run(const std::string& file, bool json) {
    const auto spec = readGaugeFile(file);
    if (!spec) return refuse(spec.error());
    const auto gauge = Gauge::make(*spec, catalogue());
    if (!gauge) return refuse(gauge.error().within(file));
    const Interval span = spec->spanCanonical();
    const auto budget = gauge->budgetAt((span.low + span.high) / 2);
    auto findings = gauge->findings(nullptr, budget ? &*budget : nullptr);
    Bench alone;
    alone.gauges.push_back({1, *spec});
    for (Finding& finding : busFindings(alone, alone.gauges.front(), catalogue()))
        findings.push_back(std::move(finding));
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    if (json)
        printJsonText(nlohmann::ordered_json{{"findings", findingsJson(findings)}});
    else if (findings.empty())
        fmt::print("{}: nothing to find fault with\n", plainLine(spec->name));
    else
        printFindings(findings);
    const bool fault = std::any_of(findings.begin(), findings.end(),
                                   [](const Finding& finding) { return finding.severity == Severity::Fault; });
    return fault ? kFault : kFine;
}

}  // namespace

void addCheck(Verb& program) {
    auto file = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    Verb verb = program.verb("check", "Look for what is wrong with a gauge; exit code 1 when there is a fault");
    verb.required("--gauge", *file, "gauge file (JSON)");
    verb.flag("--json", *json, "one JSON object instead of text");
    verb.run([file, json] { return run(*file, *json); });
}

}  // namespace fg::cli
