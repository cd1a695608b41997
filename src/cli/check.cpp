#include "bench/gauge_json.h"
#include "output.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <algorithm>

namespace fg::cli {
namespace {

int run(const std::string& file, bool json) {
    const auto spec = readGaugeFile(file);
    if (!spec) return refuse(spec.error());
    const auto path = AnalogPath::build(*spec, catalogue());
    if (!path) return refuse(path.error().within(file));
    const Interval span = spec->spanCanonical();
    const auto budget = budgetAt(*spec, catalogue(), (span.low + span.high) / 2);
    const auto findings = findingsFor(*spec, *path, catalogue(), nullptr, budget ? &*budget : nullptr);
    if (json)
        fmt::print("{}\n", nlohmann::ordered_json{{"findings", findingsJson(findings)}}.dump(2));
    else if (findings.empty())
        fmt::print("{}: nothing to find fault with\n", spec->name);
    else
        printFindings(findings);
    const bool fault =
        std::any_of(findings.begin(), findings.end(), [](const Finding& finding) { return finding.severity == Severity::Fault; });
    return fault ? kFault : kFine;
}

}  // namespace

void addCheck(CLI::App& program, int& exitCode) {
    auto file = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    CLI::App* verb = program.add_subcommand("check", "Look for what is wrong with a gauge; exit code 1 when there is a fault");
    verb->add_option("--gauge", *file, "gauge file (JSON)")->required();
    verb->add_flag("--json", *json, "one JSON object instead of text");
    verb->callback([file, json, &exitCode] { exitCode = run(*file, *json); });
}

}  // namespace fg::cli
