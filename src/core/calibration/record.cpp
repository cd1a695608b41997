#include "calibration/record.h"

#include "calibration/study.h"
#include "path/correction.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr int kRows = 8;

std::string symbolOfUnit(const GaugeSpec& spec) { return std::string(spec.readingUnit().symbol); }

/// "2026-10-05 17:20" of an ISO 8601 time.
std::string shortTime(std::string time) {
    constexpr std::size_t kDate = 10, kMinutes = 16;
    if (time.size() > kDate) time[kDate] = ' ';
    return time.substr(0, kMinutes);
}

/// "offset + slope · (reading − centre)" with its numbers, in the gauge's unit.
std::string formulaOf(const CorrectionSpec& correction, const Unit& unit) {
    if (correction.kind == "table") return "straight between the points below, held beyond them";
    if (correction.kind == "parameters") {
        std::string names;
        for (const std::string& name : correction.parameters) names += (names.empty() ? "" : ", ") + name;
        return "the points gave these parameters of the sensor: " + names;
    }
    // A difference scales, a power of it scales again: c·(v)ⁿ with v in the reading's unit.
    const double scale = unit.differenceToCanonical(1);
    std::string text = plainNumber(unit.differenceFromCanonical(correction.offset), 6) + " " + std::string(unit.symbol);
    const std::string from = correction.centre == 0 && unit.offset == 0
                                 ? "reading"
                                 : fmt::format("(reading − {})", plainNumber(unit.fromCanonical(correction.centre), 7));
    const double powers[] = {correction.slope, correction.quadratic, correction.cubic};
    const char* const signs[] = {"", "²", "³"};
    double factor = 1;
    for (std::size_t i = 0; i < 3; ++i, factor *= scale)
        if (powers[i] != 0)
            text += fmt::format(" {} {} × {}{}", powers[i] < 0 ? "−" : "+",
                                plainNumber(std::abs(powers[i]) * factor, 6), from, signs[i]);
    return text;
}

/// What the correction leaves at its points.
PaperFigure residualsOf(const GaugeSpec& spec, const CalibrationStudy& study) {
    const Unit& unit = spec.readingUnit();
    PaperFigure figure{"Left by the correction; bars are ± U of the reference",
                       "reading, " + symbolOfUnit(spec),
                       "left, " + symbolOfUnit(spec),
                       {}};
    FigureSeries points{FigureSeries::Style::Dots, {}, {}, {}};
    for (std::size_t i = 0; i < spec.correction.points.size(); ++i) {
        const CalibrationPoint& point = spec.correction.points[i];
        if (!point.setAside.empty()) continue;
        points.x.push_back(unit.fromCanonical(point.reading));
        points.y.push_back(unit.differenceFromCanonical(study.points[i].left));
        points.half.push_back(unit.differenceFromCanonical(statedOf(point.u)));
    }
    figure.series.push_back(std::move(points));
    return figure;
}

PaperSection pointsOf(const GaugeSpec& spec, const CalibrationStudy& study) {
    const Unit& unit = spec.readingUnit();
    PaperSection section{"Points", {}, {}};
    section.table.heads = {"Point",       "Reference, " + symbolOfUnit(spec),
                           "± U (k = 2)", "Read as found",
                           "Difference",  "Left",
                           "Time",        "Not used because"};
    section.table.numbers = {1, 2, 3, 4, 5};
    const auto& points = spec.correction.points;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const CalibrationPoint& point = points[i];
        section.table.rows.push_back(
            {point.note.empty() ? fmt::format("{}", i + 1) : point.note,
             plainNumber(unit.fromCanonical(point.reference), 7),
             point.u > 0            ? plainNumber(unit.differenceFromCanonical(statedOf(point.u)), 3)
             : point.stated.empty() ? std::string("not given")
                                    : point.stated,
             plainNumber(unit.fromCanonical(point.reading), 7),
             signedDigits(unit.differenceFromCanonical(study.points[i].wanted), study.decimals),
             signedDigits(unit.differenceFromCanonical(study.points[i].left), study.decimals), shortTime(point.time),
             point.setAside});
    }
    section.figures.push_back(residualsOf(spec, study));
    return section;
}

/// Error that the gauge may have over its span: before, after, and the points.
PaperFigure bandOf(const GaugeSpec& spec, const CalibrationStudy& study) {
    const Unit& unit = spec.readingUnit();
    PaperFigure figure{"Error over the span: dashed before, drawn after; dots are the points, grey lies beyond them",
                       "reading, " + symbolOfUnit(spec),
                       "error, " + symbolOfUnit(spec),
                       {}};
    const auto side = [&](const std::vector<double>& expanded, double sign, bool isAfter) {
        FigureSeries series{isAfter ? FigureSeries::Style::Line : FigureSeries::Style::Dashed, {}, {}, {}};
        for (std::size_t i = 0; i < study.band.reading.size() && i < expanded.size(); ++i) {
            series.x.push_back(unit.fromCanonical(study.band.reading[i]));
            series.y.push_back(unit.differenceFromCanonical((isAfter ? study.band.amount[i] : 0) + sign * expanded[i]));
        }
        if (sign > 0) series.name = isAfter ? "after" : "before";
        return series;
    };
    for (const double sign : {1.0, -1.0}) {
        figure.series.push_back(side(study.band.before, sign, false));
        figure.series.push_back(side(study.band.after, sign, true));
    }
    FigureSeries points{FigureSeries::Style::Dots, {}, {}, {}};
    for (std::size_t i = 0; i < spec.correction.points.size(); ++i) {
        const CalibrationPoint& point = spec.correction.points[i];
        if (!point.setAside.empty()) continue;
        points.x.push_back(unit.fromCanonical(point.reading));
        points.y.push_back(unit.differenceFromCanonical(study.points[i].wanted));
        points.half.push_back(unit.differenceFromCanonical(statedOf(point.u)));
    }
    figure.series.push_back(std::move(points));
    if (study.band.points) {
        figure.insideFrom = unit.fromCanonical(study.band.points->low);
        figure.insideTo = unit.fromCanonical(study.band.points->high);
    }
    return figure;
}

PaperSection overTheSpan(const GaugeSpec& spec, const CalibrationStudy& study) {
    const Unit& unit = spec.readingUnit();
    PaperSection section{"Over the span",
                         {study.band.points
                              ? fmt::format("Compared between {} and {} {}; beyond that the uncertainty is "
                                            "that of the gauge without calibration.",
                                            plainNumber(unit.fromCanonical(study.band.points->low), 5),
                                            plainNumber(unit.fromCanonical(study.band.points->high), 5), unit.symbol)
                              : "The points are not known."},
                         {}};
    section.table.heads = {"Reading before, " + symbolOfUnit(spec), "Correction", "± U before", "± U after"};
    section.table.numbers = {0, 1, 2, 3};
    section.figures.push_back(bandOf(spec, study));
    const std::size_t count = study.band.reading.size();
    for (int row = 0; row <= kRows && count > 0; ++row) {
        const std::size_t i = (count - 1) * static_cast<std::size_t>(row) / kRows;
        const auto expanded = [&](const std::vector<double>& all) {
            return i < all.size() && std::isfinite(all[i]) ? significantDigits(unit.differenceFromCanonical(all[i]), 2)
                                                           : std::string("–");
        };
        section.table.rows.push_back({plainNumber(unit.fromCanonical(study.band.reading[i]), 5),
                                      signedDigits(unit.differenceFromCanonical(study.band.amount[i]), study.decimals),
                                      expanded(study.band.before), expanded(study.band.after)});
    }
    return section;
}

PaperSection uncertaintyOf(const GaugeSpec& spec, const Gauge& gauge, const CalibrationStudy& study) {
    const Unit& unit = spec.readingUnit();
    const Interval span = study.band.points.value_or(spec.spanCanonical());
    const double at = (span.low + span.high) / 2;
    PaperSection section{
        "Uncertainty",
        {"U is half the interval that holds 95 % of the values that the reading may stand for, found by combining the "
         "distributions of the contributions below. What is the same at every reading of this piece was taken off as "
         "far as "
         "the points saw it; what changes from reading to reading stays, and so does what the reference may have been "
         "off. "
         "It says nothing of what happens to the gauge afterwards: ageing, another place, another cable."},
        {}};
    const auto budget = gauge.budgetAt(at);
    if (!budget) return section;
    section.paragraphs.push_back(fmt::format(
        "At {} {}: U = {} {}, k = {}.{}", plainNumber(unit.fromCanonical(at), 5), unit.symbol,
        significantDigits(unit.differenceFromCanonical(budget->expanded), 2), unit.symbol,
        fixedDigits(budget->coverage(), 2),
        budget->sensorStated ? "" : " This leaves the sensor itself out: nobody has stated how accurate it is."));
    section.table.heads = {"Contribution", "Standard uncertainty, " + symbolOfUnit(spec), "Share"};
    section.table.numbers = {1, 2};
    for (const Contribution& line : budget->contributions)
        section.table.rows.push_back({line.label, significantDigits(unit.differenceFromCanonical(line.standard), 2),
                                      fixedDigits(100 * line.share, 0) + " %"});
    return section;
}

}  // namespace

Expected<Paper> calibrationRecord(const GaugeSpec& given, const Catalogue& catalogue) {
    GaugeSpec spec = given;
    spec.correction.check.clear();  // points taken since belong to the next one
    const CorrectionSpec& correction = spec.correction;
    if (correction.kind == "none")
        return fail(ErrorCode::Missing, "correction", "none", "a gauge with a correction: calibrate it first");
    const auto gauge = Gauge::make(spec, catalogue);
    if (!gauge) return tl::unexpected(gauge.error());
    const auto study = studyOf(spec, catalogue);
    if (!study) return tl::unexpected(study.error());
    const Unit& unit = spec.readingUnit();
    Paper paper;
    paper.title = "Calibration record: " + spec.name;
    if (!spec.note.empty()) paper.lead.push_back(spec.note);
    paper.lead.emplace_back(
        "This is a maker's own record of a comparison. It is not a certificate of an accredited laboratory, and "
        "nothing that "
        "protects people or goods may rest on it alone.");
    PaperSection what{"Gauge and reference", {}, {}};
    what.table.heads = {"What", "How"};
    const auto row = [&](const std::string& name, const std::string& value) {
        if (!value.empty()) what.table.rows.push_back({name, value});
    };
    for (const Stage stage : {Stage::Sensor, Stage::Wiring, Stage::Converter, Stage::Formula})
        row(std::string(stageTitle(stage)), gauge->path().stageNote(stage));
    row("Settings", spec.sensor.parameters.textOr("settings", ""));
    row("Compared with", correction.with.empty() ? "not given" : correction.with);
    row("Uncertainty of the reference at all points alike",
        correction.reference > 0
            ? fmt::format("± {} {} (k = 2)",
                          plainNumber(unit.differenceFromCanonical(statedOf(correction.reference)), 3), unit.symbol)
            : "not given");
    row("When", correction.time.empty() ? "not given" : correction.time);
    row("Correction", correction.kind);
    row("Added to the reading", formulaOf(correction, unit));
    paper.sections.push_back(std::move(what));
    if (!correction.points.empty()) paper.sections.push_back(pointsOf(spec, *study));
    paper.sections.push_back(overTheSpan(spec, *study));
    paper.sections.push_back(uncertaintyOf(spec, *gauge, *study));
    PaperSection mind{"To mind", {}, {}};
    for (const Finding& finding : study->findings) mind.paragraphs.push_back(finding.title + ". " + finding.detail);
    for (const Finding& finding : gauge->findings(nullptr, nullptr))
        if (finding.severity == Severity::Care) mind.paragraphs.push_back(finding.title + ". " + finding.detail);
    if (!mind.paragraphs.empty()) paper.sections.push_back(std::move(mind));
    return paper;
}

}  // namespace fg
