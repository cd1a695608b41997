#include "calibration/history.h"
#include "output.h"
#include "storage/bench_file.h"
#include "units/date.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>
#include <chrono>

namespace fg::cli {
namespace {

struct Options {
    std::string bench, gauge, search, note, time;
    bool json = false, history = false;
};

double today_days() {
    const auto since = std::chrono::system_clock::now().time_since_epoch();
    return std::chrono::duration<double, std::ratio<86400>>(since).count();
}

const BenchGauge* gaugeNamed(const Bench& bench, const std::string& name) {
    for (const BenchGauge& gauge : bench.gauges)
        if (gauge.spec.name == name) return &gauge;
    return nullptr;
}

int showHistory(const Options& options, const Bench& bench, const BenchGauge& gauge) {
    const auto history = historyOf(bench.journal.calibrationsOf(gauge.id), gauge.spec, catalogue(), today_days());
    if (!history) return refuse(history.error());
    const Unit& unit = gauge.spec.readingUnit();
    const auto amount = [&](double canonical) { return jsonNumber(unit.differenceFromCanonical(canonical)); };
    if (options.json) {
        nlohmann::ordered_json json{{"gauge", gauge.spec.name}, {"unit", unit.id}};
        json["calibrations"] = nlohmann::ordered_json::array();
        for (const HistoryLine& line : history->lines)
            json["calibrations"].push_back({{"time", line.time},
                                            {"with", line.with},
                                            {"fit", line.fit},
                                            {"points", line.points},
                                            {"found_mean", line.foundMean ? amount(*line.foundMean) : nullptr},
                                            {"found_worst", line.foundWorst ? amount(*line.foundWorst) : nullptr},
                                            {"left_worst", amount(line.leftWorst)},
                                            {"expanded", amount(line.expanded)}});
        json["drift_per_year"] = history->drift ? amount(history->drift->perYear) : nullptr;
        json["drift_standard_uncertainty"] = history->drift ? amount(history->drift->standard) : nullptr;
        json["due"] = history->due_days ? nlohmann::ordered_json(dateOfDays(*history->due_days)) : nullptr;
        json["findings"] = findingsJson(history->findings);
        printJsonText(json);
        return kFine;
    }
    for (const HistoryLine& line : history->lines)
        fmt::print("  {}  {}, {} points, with {}: found off by {}, left off by at most {} {}\n",
                   line.time.substr(0, 10), line.fit, line.points,
                   line.with.empty() ? "something not given" : plainLine(line.with),
                   line.foundMean ? signedDigits(unit.differenceFromCanonical(*line.foundMean), 2) : "not known",
                   signedDigits(unit.differenceFromCanonical(line.leftWorst), 2), unit.symbol);
    fmt::print("{}\nThe next is due: {}\n", history->driftText, history->dueText);
    printFindings(history->findings);
    return kFine;
}

int addNote(const Options& options, const BenchGauge* gauge) {
    const auto file = BenchFile::open(options.bench);
    if (!file) return refuse(file.error());
    const auto before = (*file)->read();
    if (!before) return refuse(before.error());
    if (!options.time.empty() && !daysOfTime(options.time))
        return refuse({ErrorCode::Syntax, "--time", "“" + options.time + "”", "2026-11-27, or 2026-11-27T17:00:00Z"});
    Bench after = *before;
    JournalEntry entry;
    entry.time = options.time.empty() ? dateOfDays(today_days()) : options.time;
    if (gauge) {
        entry.gauge = gauge->id;
        entry.name = gauge->spec.name;
    }
    entry.text = options.note;
    after.journal.add(entry);
    const auto done = (*file)->write(*before, after);
    return done ? kFine : refuse(done.error());
}

int run(const Options& options) {
    const auto stored = BenchFile::look(options.bench);
    if (!stored) return refuse(stored.error());
    warnOfUnread(*stored);
    const Bench& bench = stored->bench;
    const BenchGauge* gauge = options.gauge.empty() ? nullptr : gaugeNamed(bench, options.gauge);
    if (!options.gauge.empty() && !gauge)
        return refuse({ErrorCode::Unknown, "--gauge", "“" + options.gauge + "”", "the name of a gauge of this bench"});
    if (!options.note.empty()) return addNote(options, gauge);
    if (options.history) {
        if (!gauge) return refuseUsage("--history needs --gauge");
        return showHistory(options, bench, *gauge);
    }
    const auto found = bench.journal.search(options.search, gauge ? gauge->id : 0);
    if (options.json) {
        nlohmann::ordered_json json{{"entries", nlohmann::ordered_json::array()}};
        for (const Journal::Entry& entry : found)
            json["entries"].push_back({{"time", entry->time},
                                       {"gauge", entry->name},
                                       {"kind", entryKindName(entry->kind)},
                                       {"text", entry->text},
                                       {"file", entry->file}});
        printJsonText(json);
        return kFine;
    }
    for (const Journal::Entry& entry : found)
        fmt::print("{:<20}  {:<18}  {:<11}  {}{}\n", entry->time,
                   plainLine(entry->name.empty() ? "the bench" : entry->name), entryKindName(entry->kind),
                   plainLine(entry->text), entry->file.empty() ? "" : "  " + plainLine(entry->file));
    fmt::print("{} of {} entries\n", found.size(), bench.journal.entries().size());
    return kFine;
}

}  // namespace

void addJournal(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb =
        program.verb("journal", "The journal of a bench: searched, added to, and a gauge's calibrations over time");
    verb.required("bench", options->bench, "bench file");
    verb.option("--search", options->search, "entries that have all of these words");
    verb.option("--gauge", options->gauge, "of the gauge of that name");
    verb.option("--note", options->note, "write this down");
    verb.option("--time", options->time, "when, for --note: 2026-11-27");
    verb.flag("--history", options->history, "calibrations of --gauge: as found, as left, drift, when the next is due");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
