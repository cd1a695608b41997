#include "bench/gauge_json.h"
#include "output.h"
#include "sizing/gauge_solvers.h"
#include "sizing/sensor_divider.h"
#include "sizing/solver.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, series = "E12";
    double tolerance = 0.01, selfHeating_K = 0;
    std::size_t most = 8;
    bool json = false, straight = false, linearising = false;
};

Expected<Series> readSeries(const std::string& text) {
    for (const Series series :
         {Series::E3, Series::E6, Series::E12, Series::E24, Series::E48, Series::E96, Series::E192})
        if (text == fmt::format("E{}", static_cast<int>(series))) return series;
    return fail(ErrorCode::Unknown, "--series", "“" + text + "”", "E3, E6, E12, E24, E48, E96 or E192");
}

std::string whyOf(const SensorDividerOption& option, const Unit& unit) {
    std::string why = fmt::format("never fewer than {} codes per {}, at {} {}; straight to ± {} {}",
                                  significantDigits(option.worstCounts, 3), unit.symbol, plainNumber(option.worstAt, 4),
                                  unit.symbol, significantDigits(option.straightness, 2), unit.symbol);
    if (option.selfHeating_K > 0)
        why += fmt::format("; warms the sensor by up to {} {}",
                           significantDigits(unit.differenceFromCanonical(option.selfHeating_K), 2), unit.symbol);
    if (option.tooWarm) why += ", above the limit";
    if (option.lossToFirst > 0)
        why += fmt::format("; {} % fewer than the first", fixedDigits(100 * option.lossToFirst, 0));
    return why;
}

int run(const Options& options) {
    const auto spec = readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    const auto series = readSeries(options.series);
    if (!series) return refuse(series.error());
    const SensorDividerWish wish{*series, options.tolerance, options.selfHeating_K, options.most,
                                 options.straight || options.linearising ? DividerAim::Linearity
                                                                         : DividerAim::Resolution};
    const auto sized = options.linearising ? sizeLinearisingResistor(*spec, catalogue(), wish)
                                           : sizeSensorDivider(*spec, catalogue(), wish);
    if (!sized) return refuse(sized.error().within(options.gauge));
    const Unit& unit = spec->readingUnit();
    auto list = nlohmann::ordered_json::array();
    for (const SensorDividerOption& option : *sized) {
        list.push_back({{"values", {{"fixed_ohm", option.fixed_ohm}, {"parallel_ohm", option.parallel_ohm}}},
                        {"nominal",
                         {{"codes_per_unit_middle", option.middleCounts},
                          {"range_used", option.rangeUsed},
                          {"self_heating_K", option.selfHeating_K},
                          {"straightness", option.straightness}}},
                        {"worst", {{"codes_per_unit", option.worstCounts}, {"at", option.worstAt}, {"unit", unit.id}}},
                        {"why", whyOf(option, unit)}});
        if (!options.json)
            fmt::print("{:>8}  {}\n",
                       options.linearising ? namedText("parallel_ohm", option.parallel_ohm)
                                           : namedText("fixed_ohm", option.fixed_ohm),
                       whyOf(option, unit));
    }
    if (options.json) printJsonText(nlohmann::ordered_json{{"options", list}});
    return kFine;
}

/// What one solver was asked on the command line.
struct Asked {
    std::map<std::string, std::string> texts;  ///< by input id, empty when not given
    std::string series = "E24";
    std::size_t most = 8;
    bool json = false;
};

/// "input_max_V" is also "--input-max": the unit is read from the value.
std::string optionNames(const std::string& id) {
    std::string dashed = id.substr(0, id.rfind('_'));
    const std::string last = id.rfind('_') == std::string::npos ? "" : id.substr(id.rfind('_') + 1);
    static const std::set<std::string> units{"V", "A", "ohm", "Hz", "s", "F", "Pa", "LSB", "W"};
    if (!units.contains(last)) dashed = id;
    std::replace(dashed.begin(), dashed.end(), '_', '-');
    return dashed == id ? "--" + id : "--" + dashed + ",--" + id;
}

nlohmann::ordered_json namedJson(const NamedValues& values) {
    auto json = nlohmann::ordered_json::object();
    for (const auto& [name, value] : values) json[name] = jsonNumber(value);
    return json;
}

int runSolver(const Solver& solver, const Asked& asked) {
    const auto series = readSeries(asked.series);
    if (!series) return refuse(series.error());
    Parameters inputs;
    for (const ParameterSpec& spec : solver.inputs()) {
        const std::string& text = asked.texts.at(spec.id);
        if (text.empty()) continue;
        const auto value = readValue(text, spec.quantity);
        if (!value) return refuse(value.error().within("--" + spec.id));
        inputs.set(spec.id, value->canonical);
    }
    const auto options = solve(solver, inputs, *series, asked.most);
    if (!options) return refuse(options.error().within(std::string(solver.id)));
    if (asked.json) {
        auto list = nlohmann::ordered_json::array();
        for (const SizingOption& option : *options)
            list.push_back({{"values", namedJson(option.values)},
                            {"nominal", namedJson(option.nominal)},
                            {"worst", namedJson(option.worst)},
                            {"fits", option.fits},
                            {"why", option.why}});
        printJsonText(nlohmann::ordered_json{{"options", list}});
        return kFine;
    }
    for (const SizingOption& option : *options) {
        std::string values;
        for (const auto& [name, value] : option.values)
            values += (values.empty() ? "" : ", ") + namedLabel(name) + " " + namedText(name, value);
        fmt::print("{}{}\n    {}\n", option.fits ? "" : "(does not meet every wish) ", values, option.why);
    }
    return kFine;
}

void addSolver(Verb& verb, const Solver& solver) {
    auto asked = std::make_shared<Asked>();
    Verb one = verb.verb(std::string(solver.id), std::string(solver.purpose));
    for (const ParameterSpec& spec : solver.inputs()) {
        std::string help = spec.label;
        if (spec.defaultValue)
            help += " [" + plainNumber(*spec.defaultValue, 6) + " " + std::string(canonicalUnit(spec.quantity).symbol) +
                    "]";
        std::string& text = asked->texts[spec.id];
        if (spec.defaultValue)
            one.option(optionNames(spec.id), text, help);
        else
            one.required(optionNames(spec.id), text, help);
    }
    one.option("--series", asked->series, "preferred numbers: E3 … E192");
    one.option("--most", asked->most, "how many options");
    one.flag("--json", asked->json, "one JSON object instead of text");
    one.run([asked, &solver] { return runSolver(solver, *asked); });
}

}  // namespace

void addSize(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("size", "Size the parts around a sensor: standard values, ranked by their worst case");
    verb.requireVerb();
    Verb divider =
        verb.verb("sensor-divider",
                  "The fixed resistor beside a resistive sensor, for the best worst-case resolution over the span");
    divider.required("--gauge", options->gauge, "gauge file (JSON) with a divider");
    divider.option("--series", options->series, "preferred numbers: E3 … E192");
    divider.option("--tolerance", options->tolerance, "of the resistor: 0.01 is 1 %");
    divider.option("--self-heating", options->selfHeating_K, "most the sensor may warm itself, in K; 0: no limit");
    divider.flag("--straight", options->straight, "rank by the straightest voltage over the span, not by resolution");
    divider.flag("--linearising", options->linearising,
                 "size the linearising resistor across the sensor; R1 stays as it is");
    divider.option("--most", options->most, "how many options");
    divider.flag("--json", options->json, "one JSON object instead of text");
    divider.run([options] { return run(*options); });
    for (const Solver& solver : solvers()) addSolver(verb, solver);
}

}  // namespace fg::cli
