#include "files/new_file.h"
#include "files/output_file.h"
#include "gauge/csv_convert.h"
#include "inline_gauge.h"
#include "output.h"
#include "uncertainty/reading_text.h"
#include "units/input_file.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <unistd.h>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, raw, value, at, in, out, column;
    InlineGauge without;
    bool json = false;
};

/// The text of one of --raw, --value and --at as an entry into the path.
Expected<Entry> readEntry(const Options& options, const Gauge& gauge) {
    Stage stage = Stage::Converter;
    std::string text = options.raw, where = "--raw";
    if (!options.value.empty()) {
        stage = Stage::Reading;
        text = options.value;
        where = "--value";
    } else if (!options.at.empty()) {
        const std::size_t equals = options.at.find('=');
        const auto named = stageFromName(options.at.substr(0, equals));
        if (equals == std::string::npos || !named)
            return fail(ErrorCode::Syntax, "--at", "“" + options.at + "”",
                        "STAGE=VALUE with one of world, sensor, wiring, converter, formula, correction, reading");
        stage = *named;
        text = options.at.substr(equals + 1);
        where = "--at " + std::string(stageName(stage));
    }
    auto entry = gauge.entryAt(stage, text);
    if (!entry && entry.error().where != "converter" && entry.error().code != ErrorCode::Missing)
        return tl::unexpected(entry.error().within(where));
    return entry;
}

nlohmann::ordered_json codesJson(const Gauge& gauge, const Evaluation& evaluation) {
    auto list = nlohmann::ordered_json::array();
    for (const CodeReading& near : gauge.analog()->neighbourCodes(evaluation.reading()))
        list.push_back({{"code", near.code},
                        {"reading", jsonNumber(near.reading)},
                        {"unit", canonicalUnit(gauge.spec().quantity).id}});
    return list;
}

/// A limit has no uncertainty, and neither has a device whose document states none: its own step says nothing of how
/// true it is.
double shownUncertainty(const Gauge& gauge, const Budget* budget) {
    return budget && (gauge.analog() || budget->sensorStated) ? budget->expanded : 0;
}

std::optional<int> shownDecimals(const Gauge& gauge, const Evaluation& evaluation, const Budget* budget) {
    if (gauge.spec().reading.decimals || gauge.analog() || !budget || budget->sensorStated)
        return gauge.spec().reading.decimals;
    return decimalsWhenUnstated(evaluation.reading(), gauge.unit());
}

int printJson(const Gauge& gauge, const Evaluation& evaluation, const Budget* budget,
              const std::vector<Finding>& findings) {
    const StageValue& reading = evaluation.at(Stage::Reading);
    nlohmann::ordered_json json;
    json["value"] = jsonNumber(reading.value);
    json["unit"] = canonicalUnit(gauge.spec().quantity).id;
    json["display"] =
        readingText(reading, shownUncertainty(gauge, budget), gauge.unit(), shownDecimals(gauge, evaluation, budget))
            .joined();
    json["clipped"] =
        reading.clip == Clip::None ? nlohmann::ordered_json(nullptr) : nlohmann::ordered_json(clipText(reading.clip));
    if (budget)
        json["uncertainty"] = {{"expanded", jsonNumber(budget->expanded)},
                               {"k", jsonNumber(budget->coverage())},
                               {"sensor_stated", budget->sensorStated}};
    json["stages"] = stagesJson(evaluation);
    if (evaluation.entry.stage != Stage::Converter && gauge.analog()) json["codes"] = codesJson(gauge, evaluation);
    json["trace"] = traceJson(gauge.path().trace(evaluation));
    json["findings"] = findingsJson(findings);
    printJsonText(json);
    return kFine;
}

int printText(const Gauge& gauge, const Evaluation& evaluation, const Budget* budget,
              const std::vector<Finding>& findings) {
    const Unit& unit = gauge.unit();
    const double expanded = shownUncertainty(gauge, budget);
    const auto decimals = shownDecimals(gauge, evaluation, budget);
    const ReadingText reading = readingText(evaluation.at(Stage::Reading), expanded, unit, decimals);
    fmt::print("{}: {}", plainLine(gauge.spec().name), reading.joined());
    if (!reading.uncertainty.empty())
        fmt::print(" ± {} {} (95 %, k = {})", reading.uncertainty, unit.symbol, fixedDigits(budget->coverage(), 2));
    fmt::print("\n\n");
    for (const StageValue& at : evaluation.stages) {
        fmt::print("  {:<11} {}", stageTitle(at.stage),
                   at.text.empty() ? stageText(at, expanded, unit, decimals).joined() : at.text);
        if (at.stage == Stage::Converter && at.value != at.exact && !std::isnan(at.exact))
            fmt::print("   (exact {})", plainNumber(at.exact, 8));
        if (!at.problem.empty()) fmt::print("   {}", at.problem);
        fmt::print("{}\n", at.stage == evaluation.entry.stage ? "   <- entered" : "");
    }
    if (evaluation.entry.stage != Stage::Converter && gauge.analog()) {
        fmt::print("\n");
        for (const CodeReading& near : gauge.analog()->neighbourCodes(evaluation.reading()))
            fmt::print("  code {} is {} {}\n", near.code, plainNumber(unit.fromCanonical(near.reading), 7),
                       unit.symbol);
    }
    fmt::print("\n");
    printTrace(gauge.path().trace(evaluation));
    if (!findings.empty()) fmt::print("\n");
    printFindings(findings);
    return kFine;
}

int convertFile(const Options& options, const Gauge& gauge) {
    auto input = InputFile::open(options.in, "a CSV file");
    if (!input) return refuse(input.error());
    const bool toStdout = options.out.empty() || options.out == "-";
    std::unique_ptr<OutputFile> output;
    if (!toStdout) {
        auto opened = OutputFile::open(options.out);
        if (!opened) return refuse(opened.error());
        output = std::move(*opened);
    }
    auto report = convertCsv(
        [&](char* bytes, std::size_t count) { return input->read(bytes, count); }, gauge, options.column,
        [&](std::string_view piece) { return toStdout ? writeAll(STDOUT_FILENO, piece) : output->write(piece); });
    if (output && (report || report.error().code == ErrorCode::Io))
        if (const auto stored = output->commit(); !stored) return refuse(stored.error());
    if (!report) return refuse(report.error().within(options.in));
    if (report->refused > 0)
        fmt::print(stderr, "fgauge: {}: {} of {} rows have no reading; the first is {}\n", options.in, report->refused,
                   report->rows, report->firstProblem);
    for (const std::string& note : report->notes) fmt::print(stderr, "fgauge: {}: {}\n", options.in, note);
    if (report->rows > 0 && report->converted == 0) return kBadInput;
    return report->refused > 0 ? kFault : kFine;
}

int run(const Options& options) {
    const auto gauge = openGauge(options.gauge, options.without);
    if (!gauge) return refuse(gauge.error());
    if (!options.in.empty()) return convertFile(options, *gauge);

    const auto entry = readEntry(options, *gauge);
    if (!entry) return refuse(entry.error());
    const auto evaluation = gauge->evaluate(*entry);
    if (!evaluation) return refuse(evaluation.error());
    if (std::isnan(evaluation->reading()))
        return refuse({ErrorCode::Domain, std::string(stageName(entry->stage)),
                       entry->raw ? options.raw : plainNumber(entry->value, 7),
                       "a value this path can have; " + evaluation->at(Stage::Reading).problem});
    const auto budget = gauge->budgetOf(*evaluation);
    const Budget* known = budget ? &*budget : nullptr;
    const auto findings = gauge->findings(&*evaluation, known);
    return options.json ? printJson(*gauge, *evaluation, known, findings)
                        : printText(*gauge, *evaluation, known, findings);
}

}  // namespace

void addConvert(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb =
        program.verb("convert", "Convert a raw value to a reading, a value back to a code, or a whole CSV file");
    addGaugeOptions(verb, options->gauge, options->without);
    verb.option("--unit", options->without.unit, "unit of the reading: degF, hPa");
    Verb entry = verb.oneOf("entry", "what to convert");
    entry.option(
        "--raw", options->raw,
        "what arrived: a code (817, 0x331, 0b1100110001), a word, two registers, or the bytes of a digital part");
    entry.option("--value", options->value, "a reading, to be converted backwards: \"61 °C\"");
    entry.option("--at", options->at, "a value at any stage: STAGE=VALUE");
    entry.option("--in", options->in, "CSV file of raw values; - is stdin");
    verb.option("--out", options->out, "where the converted CSV goes; - or nothing is stdout");
    verb.option("--column", options->column, "name or number of the column of raw codes");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
