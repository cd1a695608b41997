#include "bench/gauge_json.h"
#include "calibration/advice.h"
#include "calibration/apply.h"
#include "calibration/electronics.h"
#include "calibration/series.h"
#include "calibration/study.h"
#include "files/output_file.h"
#include "output.h"
#include "path/correction.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <optional>

namespace fg::cli {
namespace {

struct Options {
    std::string points, gauge, fit = "auto", of = "reference", centre, at, shared, with, time, out;
    bool json = false, apply = false;
};

/// "20 °C" or 20 in the points' unit.
Expected<std::optional<double>> placeOf(const std::string& text, const char* option, const PointsFile& points) {
    if (text.empty()) return std::optional<double>();
    const Unit& unit = points.isResistance ? canonicalUnit(Quantity::Resistance) : *points.unit;
    const auto value = readValue(text, unit.quantity, &unit);
    if (!value) return tl::unexpected(value.error().within(option));
    return std::optional(unit.fromCanonical(value->canonical));
}

nlohmann::ordered_json coefficientsJson(const std::vector<FitCoefficient>& coefficients) {
    auto json = nlohmann::ordered_json::array();
    for (const FitCoefficient& one : coefficients)
        json.push_back({{"name", one.name},
                        {"value", jsonNumber(one.value)},
                        {"unit", one.unit},
                        {"standard_uncertainty", jsonNumber(one.standard)}});
    return json;
}

nlohmann::ordered_json fitJson(const PointsFile& file, const CurveFit& fit, const std::optional<Prediction>& prediction,
                               const std::string& recommended, const std::vector<Finding>& findings) {
    nlohmann::ordered_json json{{"fit", fitName(fit.kind)},
                                {"of", fit.isOfCorrection ? "correction" : "reference"},
                                {"unit", file.unit->id},
                                {"centre", fit.centre}};
    json["coefficients"] = coefficientsJson(fit.coefficients);
    for (const auto& line : fit.correlation) {
        auto row = nlohmann::ordered_json::array();
        for (const double one : line) row.push_back(jsonNumber(one));
        json["correlation"].push_back(std::move(row));
    }
    json["residual_standard_deviation"] = jsonNumber(fit.scatter);
    json["prediction"] = prediction ? nlohmann::ordered_json{{"at", prediction->at},
                                                             {"value", jsonNumber(prediction->value)},
                                                             {"standard_uncertainty", jsonNumber(prediction->standard)}}
                                    : nlohmann::ordered_json(nullptr);
    json["leave_one_out"] = jsonNumber(fit.leaveOneOutRms);
    json["recommended"] = recommended.empty() ? nlohmann::ordered_json(nullptr) : nlohmann::ordered_json(recommended);
    for (std::size_t i = 0; i < file.points.size(); ++i) {
        const Comparison& point = file.points[i];
        json["points"].push_back({{"line", point.line},
                                  {"reference", point.reference},
                                  {file.isResistance ? "resistance_ohm" : "reading", point.x},
                                  {"residual", jsonNumber(fit.residuals[i])},
                                  {"used", point.setAside.empty()},
                                  {"reason", point.setAside.empty() ? nlohmann::ordered_json(nullptr)
                                                                    : nlohmann::ordered_json(point.setAside)}});
    }
    json["findings"] = findingsJson(findings);
    return json;
}

void print(const PointsFile& file, const CurveFit& fit, const std::optional<Prediction>& prediction,
           const std::string& why, const std::vector<Finding>& findings) {
    const std::string unit(file.unit->symbol);
    fmt::print("{}{}\n", fitName(fit.kind), fit.isOfCorrection ? ", of the correction" : "");
    for (const FitCoefficient& one : fit.coefficients)
        fmt::print("  {:<10} {:<14} u {:<10} {}\n", one.name, plainNumber(one.value, 8),
                   std::isfinite(one.standard) ? significantDigits(one.standard, 2) : "unknown",
                   one.unit == "1" ? "" : one.unit);
    if (std::isfinite(fit.scatter))
        fmt::print("  scatter about it {} {}, a point left out would be off by {} {}\n",
                   significantDigits(fit.scatter, 2), unit, significantDigits(fit.leaveOneOutRms, 2), unit);
    if (prediction)
        fmt::print("  at {}: {} {} ± {} (k = 2)\n", plainNumber(prediction->at, 7), plainNumber(prediction->value, 7),
                   unit,
                   std::isfinite(prediction->standard) ? significantDigits(2 * prediction->standard, 2) : "unknown");
    if (!why.empty()) fmt::print("  recommended: {}\n", why);
    fmt::print("\n");
    for (std::size_t i = 0; i < file.points.size(); ++i)
        fmt::print("  line {:<4} {:>12} {:>12}  residual {:>10}{}\n", file.points[i].line,
                   plainNumber(file.points[i].x, 7), plainNumber(file.points[i].reference, 7),
                   significantDigits(std::abs(fit.residuals[i]) < 1e-12 * (std::abs(file.points[i].reference) + 1)
                                         ? 0
                                         : fit.residuals[i],
                                     2),
                   file.points[i].setAside.empty() ? "" : "  set aside: " + plainLine(file.points[i].setAside));
    fmt::print("\n");
    printFindings(findings);
}

Expected<CalibrationNotes> notesOf(const Options& options, const PointsFile& file) {
    CalibrationNotes notes{0, options.with, options.time};
    if (options.shared.empty()) return notes;
    const auto shared = readDifference(options.shared, file.unit->quantity, file.unit);
    if (!shared) return tl::unexpected(shared.error().within("--u-shared"));
    notes.shared = file.unit->differenceFromCanonical(*shared);
    return notes;
}

int writeInto(const Options& options, const GaugeSpec& changed) {
    const std::string path = options.out.empty() ? options.gauge : options.out;
    auto out = OutputFile::open(path);
    if (!out) return refuse(out.error());
    (*out)->write(writeGauge(changed));
    if (const auto done = (*out)->commit(); !done) return refuse(done.error());
    if (!options.json) fmt::print("written: {}\n", path);
    return kFine;
}

/// What the electronics are, rather than what is to be added.
int runElectronics(const Options& options, const GaugeSpec& spec, const PointsFile& file) {
    const auto fit = options.fit == "codes" ? refitCodes(spec, catalogue(), calibrationPoints(file))
                                            : refitReference(spec, catalogue(), calibrationPoints(file));
    if (!fit) return refuse(fit.error().within(options.points));
    const double before = file.unit->differenceFromCanonical(fit->before),
                 after = file.unit->differenceFromCanonical(fit->after);
    if (options.json) {
        printJsonText(nlohmann::ordered_json{{"fit", options.fit},
                                             {"coefficients", coefficientsJson(fit->coefficients)},
                                             {"unit", file.unit->id},
                                             {"worst_before", jsonNumber(before)},
                                             {"worst_after", jsonNumber(after)}});
    } else {
        for (const FitCoefficient& one : fit->coefficients)
            fmt::print("  {:<12} {:<14} u {} {}\n", one.name, plainNumber(one.value, 8),
                       std::isfinite(one.standard) ? significantDigits(one.standard, 2) : "unknown",
                       one.unit == "1" ? "" : one.unit);
        fmt::print("  the worst point was off by {} {}, is off by {} {}\n", significantDigits(before, 2),
                   file.unit->symbol, significantDigits(after, 2), file.unit->symbol);
    }
    return options.apply ? writeInto(options, fit->spec) : kFine;
}

/// Straight between the points: each of them is a corner with its own uncertainty.
int runPiecewise(const Options& options, const std::optional<GaugeSpec>& spec, const PointsFile& file,
                 const std::optional<double>& at) {
    if (file.isResistance)
        return refuse(
            {ErrorCode::Range, "--fit", "piecewise", "readings: a table of resistances is a part of its own"});
    CorrectionSpec correction;
    correction.points = calibrationPoints(file);
    const auto table = refit(correction, "table", file.unit->quantity);
    if (!table) return refuse(table.error().within(options.points));
    const auto made = Correction::make(*table, file.unit->quantity);
    if (!made) return refuse(made.error().within(options.points));
    std::vector<FitCoefficient> corners;
    for (const Comparison& one : file.points)
        if (one.setAside.empty())
            corners.push_back({"at " + plainNumber(one.x, 7), one.reference - one.x, std::string(file.unit->id),
                               one.u > 0 ? one.u : std::nan("")});
    const double predicted = at ? file.unit->fromCanonical(made->apply(file.unit->toCanonical(*at))) : std::nan("");
    if (options.json) {
        printJsonText(nlohmann::ordered_json{{"fit", "piecewise"},
                                             {"of", "correction"},
                                             {"unit", file.unit->id},
                                             {"coefficients", coefficientsJson(corners)},
                                             {"prediction",
                                              at ? nlohmann::ordered_json{{"at", *at}, {"value", jsonNumber(predicted)}}
                                                 : nlohmann::ordered_json(nullptr)}});
    } else {
        fmt::print("piecewise, of the correction: straight between the points, held beyond them\n");
        for (const FitCoefficient& one : corners)
            fmt::print("  {:<14} {:<12} u {}\n", one.name, plainNumber(one.value, 7),
                       std::isfinite(one.standard) ? significantDigits(one.standard, 2) : "not given");
        if (at) fmt::print("  at {}: {} {}\n", plainNumber(*at, 7), plainNumber(predicted, 7), file.unit->symbol);
    }
    if (!options.apply) return kFine;
    const auto notes = notesOf(options, file);
    if (!notes) return refuse(notes.error());
    GaugeSpec changed = *spec;
    changed.correction = *table;
    changed.correction.reference = file.unit->differenceToCanonical(notes->shared);
    changed.correction.with = notes->with;
    changed.correction.time = notes->time;
    const auto works = Gauge::make(changed, catalogue());
    return works ? writeInto(options, changed) : refuse(works.error());
}

int run(const Options& options) {
    std::optional<GaugeSpec> spec;
    std::optional<Gauge> gauge;
    if (!options.gauge.empty()) {
        auto read = readGaugeFile(options.gauge);
        if (!read) return refuse(read.error());
        // Compared is the gauge without any correction.
        GaugeSpec bare = *read;
        if (bare.correction.kind != "parameters") bare.correction = {};
        auto made = Gauge::make(bare, catalogue());
        if (!made) return refuse(made.error().within(options.gauge));
        if (const auto missing = made->missing()) return refuse(missing->within(options.gauge));
        spec = std::move(*read);
        gauge.emplace(std::move(*made));
    }
    if (options.apply && !gauge) return refuseUsage("--apply needs --gauge");
    if (options.of != "reference" && options.of != "correction")
        return refuse({ErrorCode::Unknown, "--of", "“" + options.of + "”", "“reference” or “correction”"});
    const auto text = readTextFile(options.points, "a file of points");
    if (!text) return refuse(text.error());
    const auto file = readPoints(*text, options.points, gauge ? &*gauge : nullptr);
    if (!file) return refuse(file.error());
    const auto centre = placeOf(options.centre, "--centre", *file), at = placeOf(options.at, "--at", *file);
    if (!centre) return refuse(centre.error());
    if (!at) return refuse(at.error());
    const bool isOfCorrection = options.of == "correction";
    if (options.fit == "reference-voltage" || options.fit == "codes") {
        if (!gauge) return refuseUsage("--fit " + options.fit + " needs --gauge");
        return runElectronics(options, *spec, *file);
    }
    if (options.fit == "piecewise") return runPiecewise(options, spec, *file, *at);
    std::string why, recommended;
    FitKind kind = FitKind::Beta;
    if (!file->isResistance) {
        const auto best = recommendedFit(file->points, centre->value_or(0), isOfCorrection, *file->unit);
        if (!best) return refuse(best.error().within(options.points));
        kind = best->kind;
        why = best->why;
        recommended = fitName(best->kind);
    }
    if (options.fit != "auto") {
        const auto named = fitFromName(options.fit);
        if (!named)
            return refuse({ErrorCode::Unknown, "--fit", "“" + options.fit + "”",
                           "auto, offset, line, quadratic, cubic, piecewise, steinhart-hart, beta, callendar, "
                           "reference-voltage or codes"});
        kind = *named;
    }
    if (isRefit(kind) != file->isResistance)
        return refuse({ErrorCode::Range, "--fit", std::string(fitName(kind)),
                       file->isResistance ? "“beta”, “steinhart-hart” or “callendar” for a column “resistance_ohm”"
                                          : "“offset”, “line”, “quadratic” or “cubic” for readings"});
    const auto fit = fitCurve(kind, file->points, centre->value_or(0), isOfCorrection, *file->unit);
    if (!fit) return refuse(fit.error().within(options.points));
    AdviceContext context;
    context.at = *at;
    context.unit = file->unit;
    if (gauge && !file->isResistance) {
        const Interval span = gauge->spec().spanCanonical();
        context.span = {file->unit->fromCanonical(span.low), file->unit->fromCanonical(span.high)};
        context.expanded = [&](double reading) {
            const auto budget = gauge->budgetAt(file->unit->toCanonical(reading));
            return budget ? file->unit->differenceFromCanonical(budget->expanded) : INFINITY;
        };
    }
    const auto findings = calibrationFindings(file->points, *fit, context);
    const auto prediction = *at ? std::optional(fit->at(**at)) : std::nullopt;
    const bool isFault = !findings.empty() && findings.front().severity == Severity::Fault;
    if (options.json)
        printJsonText(fitJson(*file, *fit, prediction, recommended, findings));
    else
        print(*file, *fit, prediction, why, findings);
    if (!options.apply) return isFault ? kFault : kFine;
    if (isFault) return kFault;  // said above; the gauge stays as it is
    const auto notes = notesOf(options, *file);
    if (!notes) return refuse(notes.error());
    const auto changed = calibrated(*spec, catalogue(), kind, *file, centre->value_or(0), *notes);
    return changed ? writeInto(options, *changed) : refuse(changed.error());
}

struct StatsOptions {
    std::string in, column;
    bool json = false;
};

int runStats(const StatsOptions& options) {
    const auto text = readTextFile(options.in, "a CSV file");
    if (!text) return refuse(text.error());
    const auto column = readColumn(*text, options.in, options.column);
    if (!column) return refuse(column.error());
    const auto stats = statisticsOf(column->values, column->times_s);
    if (!stats) return refuse(stats.error().within(options.in));
    const bool hasTimes = !column->times_s.empty();
    if (options.json) {
        printJsonText(nlohmann::ordered_json{{"count", stats->count},
                                             {"skipped", column->skipped},
                                             {"mean", stats->mean},
                                             {"standard_deviation", stats->deviation},
                                             {"standard_uncertainty_of_mean", stats->meanStandard},
                                             {"drift", stats->drift},
                                             {"drift_per", hasTimes ? "second" : "reading"},
                                             {"drift_standard_uncertainty", stats->driftStandard},
                                             {"drifting", stats->isDrifting},
                                             {"neighbour_correlation", stats->neighbours},
                                             {"white", stats->isWhite},
                                             {"independent_readings", stats->independent}});
        return kFine;
    }
    fmt::print("{} readings{}\n", stats->count,
               column->skipped > 0 ? fmt::format(", {} rows without a number left out", column->skipped) : "");
    fmt::print("  mean                 {}, standard uncertainty {}\n", plainNumber(stats->mean, 9),
               significantDigits(stats->meanStandard, 2));
    fmt::print("  standard deviation   {}\n", significantDigits(stats->deviation, 3));
    fmt::print("  drift                {} ± {} a {} (k = 2){}\n", significantDigits(stats->drift, 2),
               significantDigits(2 * stats->driftStandard, 2), hasTimes ? "second" : "reading",
               stats->isDrifting ? ": it drifts, the mean stands for no moment" : "");
    fmt::print("  noise                {}\n",
               stats->isWhite
                   ? "white as far as these readings tell"
                   : fmt::format("not white: a reading and the next are alike (correlation {}); the {} are worth {} "
                                 "independent ones",
                                 fixedDigits(stats->neighbours, 2), stats->count, fixedDigits(stats->independent, 0)));
    return kFine;
}

}  // namespace

void addCalibrate(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("calibrate", "Compare a gauge with something better: fit, uncertainty, correction");
    verb.required(
        "--points", options->points,
        "CSV with a header: reference and reading, raw (with --gauge) or resistance_ohm; optionally u_reference, "
        "set_aside; units in brackets: reference [degC]");
    verb.option("--gauge", options->gauge, "gauge file (JSON)");
    verb.option(
        "--fit", options->fit,
        "auto, offset, line, quadratic, cubic, piecewise; of resistances steinhart-hart, beta, callendar; of the "
        "electronics reference-voltage, codes (offset and gain of the converter)");
    verb.option("--of", options->of, "reference: what it reads for a reading; correction: what is to be added");
    verb.option("--centre", options->centre, "the reading from which a line's slope is counted: \"20 °C\"");
    verb.option("--at", options->at, "predict there: \"30 °C\"");
    verb.option("--u-shared", options->shared,
                "standard uncertainty of the reference that all points share, for --apply");
    verb.option("--with", options->with, "what it was compared with, for --apply: \"ice and water\"");
    verb.option("--time", options->time, "when, for --apply: 2026-11-27");
    verb.flag("--apply", options->apply, "write the correction into the gauge file");
    verb.option("--out", options->out, "write the gauge there instead");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });

    auto stats = std::make_shared<StatsOptions>();
    Verb series = program.verb("stats", "Mean, noise and drift of readings of one thing");
    series.required("--in", stats->in, "CSV file with a header");
    series.required("--column", stats->column, "name of the column");
    series.flag("--json", stats->json, "one JSON object instead of text");
    series.run([stats] { return runStats(*stats); });
}

}  // namespace fg::cli
