#include "uncertainty/budget.h"
#include "bench/gauge_json.h"
#include "output.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, value;
    bool json = false;
};

std::string_view distributionName(Distribution distribution) {
    switch (distribution) {
        case Distribution::Rectangular:
            return "rectangular";
        case Distribution::OneSided:
            return "one-sided";
        case Distribution::Normal:
            return "normal";
    }
    return "";
}

void print(const GaugeSpec& spec, const Budget& budget) {
    const Unit& unit = spec.readingUnit();
    const auto difference = [&](double canonical, int digits) {
        return significantDigits(unit.differenceFromCanonical(canonical), digits);
    };
    for (const Contribution& line : budget.contributions)
        fmt::print("  {:<11} {:<34} ± {:<9} u {:<9} {:>4} %\n", stageTitle(line.stage), line.label, difference(line.limit, 3),
                   difference(line.standard, 3), fixedDigits(100 * line.share, 0));
    const RoundedReading at = roundedReading(budget.at, budget.expanded, unit);
    fmt::print("  at {}: ± {} {} (k = 2){}\n", at.value.joined(), at.uncertainty, unit.symbol,
               budget.sensorStated ? "" : ", without the sensor itself");
}

int run(const Options& options) {
    const auto spec = readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    const auto value = readValue(options.value, spec->quantity, &spec->readingUnit());
    if (!value) return refuse(value.error().within("--value"));
    const auto budget = budgetAt(*spec, catalogue(), value->canonical);
    if (!budget) return refuse(budget.error().within(options.gauge));
    if (!options.json) return print(*spec, *budget), kFine;
    auto lines = nlohmann::ordered_json::array();
    for (const Contribution& line : budget->contributions)
        lines.push_back({{"stage", stageName(line.stage)},
                         {"label", line.label},
                         {"limit", line.limit},
                         {"distribution", distributionName(line.distribution)},
                         {"standard", line.standard},
                         {"share", line.share},
                         {"parameter", line.parameter}});
    nlohmann::ordered_json json{{"at", budget->at},
                                {"unit", canonicalUnit(spec->quantity).id},
                                {"contributions", lines},
                                {"standard", budget->standard},
                                {"expanded", budget->expanded},
                                {"k", Budget::kCoverage},
                                {"sensor_stated", budget->sensorStated}};
    fmt::print("{}\n", json.dump(2));
    return kFine;
}

}  // namespace

void addBudget(CLI::App& program, int& exitCode) {
    auto options = std::make_shared<Options>();
    CLI::App* verb = program.add_subcommand("budget", "How far a reading can be trusted, and why");
    verb->add_option("--gauge", options->gauge, "gauge file (JSON)")->required();
    verb->add_option("--value", options->value, "at which value of the measurand: \"60 °C\"")->required();
    verb->add_flag("--json", options->json, "one JSON object instead of text");
    verb->callback([options, &exitCode] { exitCode = run(*options); });
}

}  // namespace fg::cli
