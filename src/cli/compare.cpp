#include "bench/gauge_json.h"
#include "calibration/agreement.h"
#include "calibration/points_file.h"
#include "output.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "verbs.h"

#include <fmt/core.h>

namespace fg::cli {
namespace {

struct Options {
    std::vector<std::string> readings, columns, gauges;
    std::string quantity = "temperature", unit, in, at;
    double noiseRatio = 1;
    bool json = false;
};

/// "Wood store=44.6 ± 2".
Expected<SideReading> namedReading(const std::string& text, Quantity quantity, const Unit& unit) {
    const std::size_t at = text.find('=');
    if (at == std::string::npos)
        return fail(ErrorCode::Syntax, "--reading", "“" + text + "”", "a name, =, a value: \"Wood store=44.6 ± 2\"");
    auto reading = sideReadingOf(std::string_view(text).substr(at + 1), quantity, unit);
    if (!reading) return tl::unexpected(reading.error().within(text.substr(0, at)));
    reading->name = text.substr(0, at);
    return reading;
}

int runSides(const Options& options) {
    const auto quantity = quantityFromName(options.quantity);
    if (!quantity)
        return refuse({ErrorCode::Unknown, "--quantity", "“" + options.quantity + "”",
                       "temperature, humidity, pressure or illuminance"});
    const auto unit =
        options.unit.empty() ? Expected<const Unit*>(&canonicalUnit(*quantity)) : unitFromId(options.unit, *quantity);
    if (!unit) return refuse(unit.error().within("--unit"));
    std::vector<SideReading> readings;
    for (const std::string& text : options.readings) {
        const auto reading = namedReading(text, *quantity, **unit);
        if (!reading) return refuse(reading.error());
        readings.push_back(*reading);
    }
    const auto agreement = agreementOf(readings, **unit);
    if (!agreement) return refuse(agreement.error());
    if (options.json) {
        nlohmann::ordered_json json{{"unit", (*unit)->id},
                                    {"spread", agreement->spread},
                                    {"mean", jsonNumber(agreement->mean)},
                                    {"expanded", jsonNumber(agreement->expanded)}};
        json["pairs"] = nlohmann::ordered_json::array();
        for (const PairAgreement& pair : agreement->pairs)
            json["pairs"].push_back(
                {{"first", readings[pair.first].name},
                 {"second", readings[pair.second].name},
                 {"difference", pair.difference},
                 {"normalised_error", pair.error ? jsonNumber(*pair.error) : nullptr},
                 {"agrees", pair.error ? nlohmann::ordered_json(pair.agrees()) : nlohmann::ordered_json(nullptr)}});
        json["disagrees"] =
            agreement->odd ? nlohmann::ordered_json(readings[*agreement->odd].name) : nlohmann::ordered_json(nullptr);
        json["verdict"] = agreement->verdict;
        printJsonText(json);
        return kFine;
    }
    for (const PairAgreement& pair : agreement->pairs)
        fmt::print("  {} – {}: {} {}, normalised error {}\n", plainLine(readings[pair.first].name),
                   plainLine(readings[pair.second].name), signedDigits(pair.difference, 3), (*unit)->symbol,
                   pair.error ? signedDigits(*pair.error, 2) : "not known");
    fmt::print("{}\n", plainLine(agreement->verdict));
    return kFine;
}

int runTraces(const Options& options) {
    if (options.columns.size() != 2)
        return refuse(
            {ErrorCode::Missing, "--columns", fmt::format("{} names", options.columns.size()), "two columns"});
    const auto text = readTextFile(options.in, "a CSV file");
    if (!text) return refuse(text.error());
    const auto traces = readColumns(*text, options.in, options.columns);
    if (!traces) return refuse(traces.error());
    const auto pair = tracePairOf((*traces)[0], (*traces)[1], options.noiseRatio);
    if (!pair) return refuse(pair.error().within(options.in));
    std::optional<double> expected;
    if (options.gauges.size() == 2) {
        std::vector<Gauge> made;
        for (const std::string& path : options.gauges) {
            const auto spec = readGaugeFile(path);
            if (!spec) return refuse(spec.error());
            auto gauge = Gauge::make(*spec, catalogue());
            if (!gauge) return refuse(gauge.error().within(path));
            made.push_back(std::move(*gauge));
        }
        const Interval span = made[0].spec().spanCanonical();
        double at = (span.low + span.high) / 2;
        if (!options.at.empty()) {
            const auto place = made[0].entryAt(Stage::World, options.at);
            if (!place) return refuse(place.error().within("--at"));
            at = place->value;
        }
        const auto factor = factorByFormulas(made[0], made[1], at);
        if (!factor) return refuse(factor.error());
        expected = *factor;
    } else if (!options.gauges.empty()) {
        return refuse({ErrorCode::Missing, "--gauge", "one gauge", "two, in the order of the columns"});
    }
    if (options.json) {
        printJsonText(nlohmann::ordered_json{{"factor", pair->factor},
                                             {"factor_standard_uncertainty", jsonNumber(pair->factorStandard)},
                                             {"offset", pair->offset},
                                             {"offset_standard_uncertainty", jsonNumber(pair->offsetStandard)},
                                             {"scatter", pair->scatter},
                                             {"correlation", pair->correlation},
                                             {"pairs", pair->count},
                                             {"factor_by_formulas", expected ? jsonNumber(*expected) : nullptr}});
        return kFine;
    }
    fmt::print("{} = {} + {} × {}\n", plainLine(options.columns[1]), plainNumber(pair->offset, 7),
               plainNumber(pair->factor, 7), plainLine(options.columns[0]));
    fmt::print("  factor ± {}, offset ± {} (k = 2), scatter {}, {} pairs, correlation {}\n",
               significantDigits(2 * pair->factorStandard, 2), significantDigits(2 * pair->offsetStandard, 2),
               significantDigits(pair->scatter, 2), pair->count, fixedDigits(pair->correlation, 4));
    if (expected) fmt::print("  by the formulas of both gauges the factor is {}\n", plainNumber(*expected, 7));
    return kFine;
}

}  // namespace

void addCompare(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("compare", "Several instruments side by side, or two traces laid over each other");
    verb.option("--reading", options->readings, "name=value ± U, once for each: \"Wood store=44.6 ± 2\"");
    verb.option("--quantity", options->quantity, "of the readings: temperature, humidity, pressure, illuminance");
    verb.option("--unit", options->unit, "of the readings where none is written");
    verb.option("--in", options->in, "CSV file with two traces");
    verb.option("--columns", options->columns, "their two columns: what the second is of the first");
    verb.option("--gauge", options->gauges, "gauge files of the two columns, when they hold raw codes");
    verb.option("--at", options->at, "where the factor by the formulas is taken; else in the middle of the span");
    verb.option("--noise-ratio", options->noiseRatio, "noise of the second over noise of the first");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] {
        if (!options->in.empty()) return runTraces(*options);
        if (options->readings.empty()) return refuseUsage("compare needs --reading, or --in with --columns");
        return runSides(*options);
    });
}

}  // namespace fg::cli
