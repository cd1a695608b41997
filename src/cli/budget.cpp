#include "uncertainty/budget.h"
#include "bench/gauge_json.h"
#include "output.h"
#include "path/examples.h"
#include "uncertainty/improvements.h"
#include "uncertainty/monte_carlo.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <unistd.h>
#include <optional>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, value;
    double draws = 0;  ///< as typed: a negative number must not wrap round to a huge one
    std::uint64_t seed = 1;
    bool json = false;
};

std::string_view distributionName(Distribution distribution) {
    switch (distribution) {
        case Distribution::Rectangular:
            return "rectangular";
        case Distribution::Normal:
            return "normal";
    }
    return "";
}

/// A bar on the terminal when a person is looking.
bool showProgress(double done) {
    constexpr int kWide = 40;
    if (!::isatty(STDERR_FILENO)) return true;
    const int filled = static_cast<int>(kWide * done);
    fmt::print(stderr, "\r[{}{}] {} %", std::string(static_cast<std::size_t>(filled), '#'),
               std::string(static_cast<std::size_t>(kWide - filled), ' '), static_cast<int>(100 * done));
    return true;
}

void print(const GaugeSpec& spec, const Budget& budget, const std::vector<Improvement>& ways, const MonteCarlo* run) {
    const Unit& unit = spec.readingUnit();
    const auto difference = [&](double canonical, int digits) {
        return significantDigits(unit.differenceFromCanonical(canonical), digits);
    };
    for (const Contribution& line : budget.contributions)
        fmt::print("  {:<11} {:<34} ± {:<9} u {:<9} {:>4} %\n", stageTitle(line.stage), line.label,
                   difference(line.limit, 3), difference(line.standard, 3), fixedDigits(100 * line.share, 0));
    const RoundedReading at = roundedReading(budget.at, budget.expanded, unit);
    fmt::print("  at {}: ± {} {} (95 %, k = {}){}\n", at.value.joined(), at.uncertainty, unit.symbol,
               fixedDigits(budget.coverage(), 2), budget.sensorStated ? "" : ", without the sensor itself");
    if (!ways.empty()) fmt::print("  what would help most:\n");
    for (const Improvement& way : ways)
        fmt::print("    {}: ± {} → ± {} {}\n", way.what, difference(budget.expanded, 2), difference(way.expanded, 2),
                   unit.symbol);
    if (!run) return;
    fmt::print("  Monte Carlo, {}\n", comparison(budget, *run, unit));
}

int run(const Options& options) {
    const auto spec = readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    if (const auto missing = missingValues(*spec, catalogue())) return refuse(missing->within(options.gauge));
    const auto value = readValue(options.value, spec->quantity, &spec->readingUnit());
    if (!value) return refuse(value.error().within("--value"));
    const auto budget = budgetAt(*spec, catalogue(), value->canonical);
    if (!budget) return refuse(budget.error().within(options.gauge));
    const auto ways = improvements(*spec, catalogue(), *budget);
    std::optional<MonteCarlo> run;
    if (options.draws != 0) {
        if (!(options.draws > 0 && options.draws < 1e15))
            return refuse(
                {ErrorCode::Range, "--monte-carlo", plainNumber(options.draws), "a number of draws, as 1000000"});
        const auto draws = static_cast<std::size_t>(options.draws);
        auto drawn = monteCarlo(*spec, catalogue(), value->canonical, draws, options.seed, showProgress);
        if (::isatty(STDERR_FILENO)) fmt::print(stderr, "\r\033[K");
        if (!drawn) return refuse(drawn.error().within(options.gauge));
        run = *drawn;
    }
    if (!options.json) {
        print(*spec, *budget, ways, run ? &*run : nullptr);
        return kFine;
    }
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
                                {"k", jsonNumber(budget->coverage())},
                                {"sensor_stated", budget->sensorStated}};
    auto list = nlohmann::ordered_json::array();
    for (const Improvement& way : ways)
        list.push_back({{"what", way.what}, {"expanded", way.expanded}, {"parameter", way.parameter}});
    json["improvements"] = list;
    if (run)
        json["monte_carlo"] = {{"draws", run->draws},       {"without_value", run->withoutValue}, {"mean", run->mean},
                               {"standard", run->standard}, {"expanded", run->expanded},          {"low", run->low},
                               {"high", run->high},         {"agrees", agree(*budget, *run)}};
    printJsonText(json);
    return kFine;
}

}  // namespace

void addBudget(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("budget", "How far a reading can be trusted, and why");
    verb.required("--gauge", options->gauge, "gauge file (JSON)");
    verb.required("--value", options->value, "at which value of the measurand: \"60 °C\"");
    verb.option("--monte-carlo", options->draws, "also draw every tolerance this many times: 1000000");
    verb.option("--seed", options->seed, "of the draws; the same gives the same");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
