#include "bench/gauge_json.h"
#include "output.h"
#include "sizing/sensor_divider.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <array>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, series = "E12";
    double tolerance = 0.01, selfHeating_K = 0;
    std::size_t most = 8;
    bool json = false;
};

Expected<Series> readSeries(const std::string& text) {
    for (const Series series : {Series::E3, Series::E6, Series::E12, Series::E24, Series::E48, Series::E96, Series::E192})
        if (text == fmt::format("E{}", static_cast<int>(series))) return series;
    return fail(ErrorCode::Unknown, "--series", "“" + text + "”", "E3, E6, E12, E24, E48, E96 or E192");
}

std::string whyOf(const SensorDividerOption& option, const Unit& unit) {
    std::string why = fmt::format("never fewer than {} codes per {}, at {} {}", significantDigits(option.worstCounts, 3), unit.symbol,
                                  plainNumber(option.worstAt, 4), unit.symbol);
    if (option.selfHeating_K > 0)
        why += fmt::format("; warms the sensor by up to {} {}", significantDigits(unit.differenceFromCanonical(option.selfHeating_K), 2),
                           unit.symbol);
    if (option.tooWarm) why += ", above the limit";
    if (option.lossToFirst > 0) why += fmt::format("; {} % fewer than the first", fixedDigits(100 * option.lossToFirst, 0));
    return why;
}

int run(const Options& options) {
    const auto spec = readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    const auto series = readSeries(options.series);
    if (!series) return refuse(series.error());
    const auto sized = sizeSensorDivider(*spec, catalogue(), {*series, options.tolerance, options.selfHeating_K, options.most});
    if (!sized) return refuse(sized.error().within(options.gauge));
    const Unit& unit = spec->readingUnit();
    auto list = nlohmann::ordered_json::array();
    for (const SensorDividerOption& option : *sized) {
        list.push_back(
            {{"values", {{"fixed_ohm", option.fixed_ohm}}},
             {"nominal",
              {{"codes_per_unit_middle", option.middleCounts}, {"range_used", option.rangeUsed}, {"self_heating_K", option.selfHeating_K}}},
             {"worst", {{"codes_per_unit", option.worstCounts}, {"at", option.worstAt}, {"unit", unit.id}}},
             {"why", whyOf(option, unit)}});
        if (!options.json)
            fmt::print("{:>8}  {}\n", shortEngineering(option.fixed_ohm, Quantity::Resistance).joined(), whyOf(option, unit));
    }
    if (options.json) fmt::print("{}\n", nlohmann::ordered_json{{"options", list}}.dump(2));
    return kFine;
}

}  // namespace

void addSize(CLI::App& program, int& exitCode) {
    auto options = std::make_shared<Options>();
    CLI::App* verb = program.add_subcommand("size", "Size the parts around a sensor: standard values, ranked by their worst case");
    verb->require_subcommand(1);
    CLI::App* divider =
        verb->add_subcommand("sensor-divider",
                             "The fixed resistor beside a resistive sensor, for the best worst-case resolution over the span");
    divider->add_option("--gauge", options->gauge, "gauge file (JSON) with a divider")->required();
    divider->add_option("--series", options->series, "preferred numbers: E3 … E192")->capture_default_str();
    divider->add_option("--tolerance", options->tolerance, "of the resistor: 0.01 is 1 %")->capture_default_str();
    divider->add_option("--self-heating", options->selfHeating_K, "most the sensor may warm itself, in K; 0: no limit");
    divider->add_option("--most", options->most, "how many options")->capture_default_str();
    divider->add_flag("--json", options->json, "one JSON object instead of text");
    divider->callback([options, &exitCode] { exitCode = run(*options); });
}

}  // namespace fg::cli
