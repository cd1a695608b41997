#include "reports/bench_papers.h"

#include "bench/gauge_json.h"
#include "bench/linked_inputs.h"
#include "calibration/record.h"
#include "files/output_file.h"
#include "gauge/gauge.h"
#include "handover/code_text.h"
#include "handover/code_thresholds.h"
#include "path/examples.h"
#include "planning/plan.h"
#include "uncertainty/reading_text.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>
#include <filesystem>
#include <system_error>

namespace fg {
namespace {

std::string joined(const std::vector<std::string>& all, const char* between) {
    std::string text;
    for (const std::string& one : all) text += (text.empty() ? "" : between) + one;
    return text;
}

std::string amps(double current_A) { return shortEngineering(current_A, Quantity::Current, 3).joined(); }

void addFindings(Paper& paper, const std::vector<Finding>& findings) {
    PaperSection section{"Findings", {}, {}}, care{"Care", {}, {}};
    for (const Finding& one : findings) {
        const bool isCare = one.severity == Severity::Care;
        (isCare ? care : section)
            .paragraphs.push_back(isCare
                                      ? fmt::format("{}. {}", one.title, one.detail)
                                      : fmt::format("{}: {}. {}", severityName(one.severity), one.title, one.detail));
    }
    if (section.paragraphs.empty()) section.paragraphs.push_back("Nothing found.");
    paper.sections.push_back(std::move(section));
    if (!care.paragraphs.empty()) paper.sections.push_back(std::move(care));
}

PaperSection placesOf(const Bench& bench, const PlanGroup& group) {
    PaperSection section{group.title.empty() ? group.line : group.title, {}, {}};
    if (group.pullUp) section.paragraphs.push_back(group.pullUp->text);
    section.table.heads = {"Place", "Gauges", "Part"};
    for (const PlanPlace& place : group.places) {
        if (place.isFree()) continue;
        std::vector<std::string> names;
        for (const std::int64_t id : place.gauges)
            if (const BenchGauge* gauge = bench.find(id)) names.push_back(gauge->spec.name);
        if (!place.other.empty()) names.push_back(place.other);
        section.table.rows.push_back({place.label, joined(names, ", "), place.part});
    }
    return section;
}

/// `cable`: null for a converter.
PaperSection wiresOf(const PinWires& wires, const CableRun* cable) {
    PaperSection section{fmt::format("Wires of {} ({})", wires.who, wires.part), {}, {}};
    if (cable)
        section.paragraphs.push_back(cable->length_m > 0
                                         ? fmt::format("Cable {}, {} m.", wires.cable, plainNumber(cable->length_m, 3))
                                         : fmt::format("Cable {}, length not given.", wires.cable));
    for (const std::string& text : wires.beside) section.paragraphs.push_back(text);
    if (!wires.problem.empty()) section.paragraphs.push_back("Not given yet: " + wires.problem);
    if (!wires.source.empty()) section.paragraphs.push_back("Pins: " + wires.source + ".");
    section.drawings = wires.drawings;
    section.table.heads = {"Mark", "Conductor", "Pin of the part", "To", "Colour"};
    for (const Wire& wire : wires.wires)
        section.table.rows.push_back({wire.mark, wire.conductor, wire.pin, wire.to, wire.colour});
    return section;
}

PaperSection valuesOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    PaperSection section{"Circuit", {}, {}};
    section.table.heads = {"Stage", "Value", "Is", "Tolerance"};
    section.table.rows.push_back({"sensor", "part", spec.sensor.part, ""});
    for (const GivenValue& one : givenValues(spec, catalogue))
        section.table.rows.push_back({one.field.substr(0, one.field.find('.')), one.label,
                                      one.text + (one.isExample ? " (an example, not given)" : ""), one.tolerance});
    if (const ConverterPart* part = catalogue.findConverter(spec.converter.part))
        section.table.rows.push_back({"converter", "part", part->title, ""});
    return section;
}

/// How a converter is read by its pins.
PaperSection stepsOf(const ConverterPart& part) {
    PaperSection section{"Reading the converter", {}, {}};
    section.table.heads = {"Step", "What"};
    for (std::size_t i = 0; i < part.sequence.size(); ++i)
        section.table.rows.push_back({std::to_string(i + 1), pinStepText(part.sequence[i])});
    return section;
}

/// The path at places of the span: what a meter shows at each stage when everything is right.
PaperSection checkPoints(const Gauge& gauge) {
    PaperSection section{"What to expect", {"With a meter and a program: each stage at a few values of the span."}, {}};
    section.table.heads = {"World", "Sensor", "At the converter", "Code", "Reading"};
    section.table.numbers = {0, 1, 2, 3, 4};
    const Interval span = gauge.spec().reading.span;
    constexpr int kPoints = 5;
    for (int i = 0; i < kPoints; ++i) {
        const double value = gauge.unit().toCanonical(span.low + i * span.width() / (kPoints - 1));
        const auto evaluation = gauge.evaluate({Stage::World, value});
        if (!evaluation) continue;
        std::vector<std::string> row;
        for (const Stage stage : {Stage::World, Stage::Sensor, Stage::Wiring, Stage::Converter, Stage::Reading}) {
            const StageValue& at = evaluation->at(stage);
            const std::string limit = at.clip == Clip::None ? "" : std::string(clipText(at.clip)) + " ";
            if (!at.text.empty())
                row.push_back(at.text);
            else if (!std::isfinite(at.value))
                row.emplace_back("–");
            else if (stage == Stage::World || stage == Stage::Reading)
                row.push_back(limit + plainNumber(gauge.unit().fromCanonical(at.value), 5) + " " +
                              std::string(gauge.unit().symbol));
            else
                row.push_back(limit + (stage == Stage::Converter
                                           ? plainNumber(at.value, 10)
                                           : shortEngineering(at.value, at.quantity, 4).joined()));
        }
        section.table.rows.push_back(std::move(row));
    }
    return section;
}

PaperSection trustOf(const Gauge& gauge) {
    PaperSection section{"Uncertainty", {}, {}};
    const Interval span = gauge.spec().spanCanonical();
    const auto budget = gauge.budgetAt((span.low + span.high) / 2);
    if (!budget) {
        section.paragraphs.push_back("There is no budget: " + budget.error().message() + ".");
        return section;
    }
    const Unit& unit = gauge.unit();
    const auto size = [&](double value) {
        return significantDigits(unit.differenceFromCanonical(value), 2) + " " + std::string(unit.symbol);
    };
    section.paragraphs.push_back(fmt::format("In the middle of the span ± {} (95 %, k = {:.2f}).{}",
                                             size(budget->expanded), budget->coverage(),
                                             budget->sensorStated ? "" : " Nobody stated how accurate the sensor is."));
    section.table = {{"Stage", "Contribution", "±", "u", "Share"}, {2, 3, 4}, {}};
    for (const Contribution& one : budget->contributions)
        section.table.rows.push_back({std::string(stageName(one.stage)), one.label, size(one.limit), size(one.standard),
                                      fmt::format("{:.0f} %", 100 * one.share)});
    return section;
}

PaperSection alarmOf(const Gauge& gauge) {
    PaperSection section{"Alarm", {}, {}};
    const Unit& unit = gauge.unit();
    section.table = {{"Comparison", "Set at", "Write", "Or", "Switches at"}, {1, 4}, {}};
    for (const CodeThreshold& one : codeThresholds(gauge))
        section.table.rows.push_back(
            {one.name, plainNumber(unit.fromCanonical(one.setAt), 6) + " " + std::string(unit.symbol),
             one.threshold.text(), one.threshold.strictText(),
             plainNumber(unit.fromCanonical(one.threshold.edge), 6) + " " + std::string(unit.symbol)});
    return section;
}

/// A gauge with the readings of its linked inputs: those of their spans' middles.
GaugeSpec filledSpec(const Bench& bench, const GaugeSpec& spec, const Catalogue& catalogue) {
    const auto filled = withInputs(spec, catalogue, [&](const LinkedInput& input) -> std::optional<LinkedReading> {
        const BenchGauge* other = bench.find(input.gauge);
        if (!other) return std::nullopt;
        const Interval span = other->spec.spanCanonical();
        return LinkedReading{(span.low + span.high) / 2, 0};
    });
    return filled ? *filled : spec;
}

}  // namespace

Paper benchSheet(const Bench& bench, const Catalogue& catalogue, const std::string& name) {
    const BenchPlan plan = planOf(bench, catalogue);
    Paper paper;
    paper.title = name;
    paper.lead.push_back(fmt::format("{} gauges.", bench.gauges.size()));
    for (const PlanGroup& group : plan.groups) {
        PaperSection section = placesOf(bench, group);
        if (!section.table.rows.empty()) paper.sections.push_back(std::move(section));
    }
    for (std::size_t i = 0; i < plan.wires.size(); ++i)
        paper.sections.push_back(wiresOf(plan.wires[i], i < plan.cables.size() ? &plan.cables[i] : nullptr));
    PaperSection rails{"Supplies", {}, {}};
    rails.table = {{"Rail", "Voltage", "Peak", "Average", "Loads"}, {1, 2, 3}, {}};
    for (const PlanRail& rail : plan.rails) {
        std::vector<std::string> loads;
        for (const PlanLoad& load : rail.loads)
            loads.push_back(load.who + (load.isKnown ? "" : " (current not known)"));
        rails.table.rows.push_back({rail.rail.name, plainNumber(rail.rail.voltage_V, 4) + " V", amps(rail.peak_A),
                                    amps(rail.average_A), joined(loads, ", ")});
    }
    if (!rails.table.rows.empty()) paper.sections.push_back(std::move(rails));
    PaperSection parts{"Parts", {}, {}};
    parts.table = {{"Count", "Value", "What", "Tolerance", "Where"}, {0}, {}};
    for (const PartsLine& line : plan.parts)
        parts.table.rows.push_back({std::to_string(line.count), line.value, line.what, line.tolerance, line.where});
    paper.sections.push_back(std::move(parts));
    std::vector<Finding> findings = plan.findings;
    findings.insert(findings.end(), plan.cautions.begin(), plan.cautions.end());
    addFindings(paper, findings);
    return paper;
}

Paper gaugeSheet(const GaugeSpec& spec, const Catalogue& catalogue) {
    Paper paper;
    paper.title = spec.name;
    if (!spec.note.empty()) paper.lead.push_back(spec.note);
    paper.lead.push_back(fmt::format("{} from {} to {} {}.", quantityName(spec.quantity),
                                     plainNumber(spec.reading.span.low, 6), plainNumber(spec.reading.span.high, 6),
                                     spec.readingUnit().symbol));
    paper.sections.push_back(valuesOf(spec, catalogue));
    if (const ConverterPart* part = catalogue.findConverter(spec.converter.part); part && !part->sequence.empty())
        paper.sections.push_back(stepsOf(*part));
    const auto gauge = Gauge::make(spec, catalogue);
    if (!gauge) {
        paper.sections.push_back({"Problem", {gauge.error().message()}, {}});
        return paper;
    }
    if (const auto missing = gauge->missing()) {
        paper.sections.push_back({"Not given yet", {missing->message()}, {}});
        return paper;
    }
    paper.sections.push_back(checkPoints(*gauge));
    paper.sections.push_back(trustOf(*gauge));
    if (spec.alarm && gauge->analog()) paper.sections.push_back(alarmOf(*gauge));
    addFindings(paper, gauge->findings(nullptr, nullptr));
    return paper;
}

std::vector<NamedPaper> papersOf(const Bench& bench, const Catalogue& catalogue, const std::string& name) {
    Identifiers names;
    std::vector<NamedPaper> papers;
    papers.push_back({names.freshExact("bench"), benchSheet(bench, catalogue, name)});
    for (const BenchGauge& gauge : bench.gauges) {
        const GaugeSpec spec = filledSpec(bench, gauge.spec, catalogue);
        const std::string base = names.fresh(spec.name);
        papers.push_back({base, gaugeSheet(spec, catalogue)});
        if (auto record = calibrationRecord(spec, catalogue))
            papers.push_back({names.freshExact(base + "_calibration"), std::move(*record)});
    }
    return papers;
}

Expected<std::vector<std::string>> writePapers(const Bench& bench, const Catalogue& catalogue, const std::string& name,
                                               const std::string& folder) {
    std::error_code failed;
    std::filesystem::create_directories(folder, failed);
    if (failed) return fail(ErrorCode::Io, folder, failed.message(), "a folder that can be made");
    std::vector<std::string> written;
    const auto write = [&](const std::string& file, const std::string& text) -> Expected<void> {
        const auto output = OutputFile::open(std::filesystem::path(folder) / file);
        if (!output) return tl::unexpected(output.error());
        (*output)->write(text);
        if (const auto done = (*output)->commit(); !done) return done;
        written.push_back(file);
        return {};
    };
    Paper index{name, {"Each as a page for the browser or the printer, and as text."}, {}};
    PaperSection list{"Papers", {}, {{"Paper", "Files"}, {}, {}}};
    for (const NamedPaper& one : papersOf(bench, catalogue, name)) {
        if (const auto done = write(one.name + ".html", htmlOf(one.paper)); !done) return tl::unexpected(done.error());
        if (const auto done = write(one.name + ".md", markdownOf(one.paper)); !done)
            return tl::unexpected(done.error());
        list.table.rows.push_back({one.paper.title, one.name + ".html, " + one.name + ".md"});
    }
    if (const auto done = write("parts.csv", partsCsv(planOf(bench, catalogue).parts)); !done)
        return tl::unexpected(done.error());
    list.table.rows.push_back({"Parts list", "parts.csv"});
    if (const auto done = write("wires.csv", wiresCsv(planOf(bench, catalogue).wires)); !done)
        return tl::unexpected(done.error());
    list.table.rows.push_back({"Wires, pin by pin", "wires.csv"});
    Identifiers names;
    for (const BenchGauge& gauge : bench.gauges) {
        const std::string file = names.fresh(gauge.spec.name) + ".gauge.json";
        if (const auto done = write(file, writeGauge(gauge.spec)); !done) return tl::unexpected(done.error());
        list.table.rows.push_back({gauge.spec.name + ", gauge file", file});
    }
    index.sections.push_back(std::move(list));
    if (const auto done = write("README.md", markdownOf(index)); !done) return tl::unexpected(done.error());
    return written;
}

}  // namespace fg
