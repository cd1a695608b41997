// export and import: recordings of a bench out to CSV and in from it.

#include "files/new_file.h"
#include "files/output_file.h"
#include "output.h"
#include "recording/recording_csv.h"
#include "recording/worked_out.h"
#include "recording_choice.h"
#include "units/date.h"
#include "units/input_file.h"
#include "verbs.h"

#include <fmt/core.h>
#include <unistd.h>
#include <algorithm>
#include <chrono>
#include <limits>

namespace fg::cli {
namespace {

struct ExportOptions {
    std::string bench, recording, from, to, out;
    std::vector<std::string> gauges;
    bool list = false, now = false, json = false;
};

std::string lengthText(const BenchRecording& recording) {
    const double seconds = recording.span().seconds();
    constexpr double kMinute = 60, kHour = 3600;
    if (seconds < 2 * kMinute) return fmt::format("{:.0f} s", seconds);
    return seconds < 2 * kHour ? fmt::format("{:.0f} min", seconds / kMinute)
                               : fmt::format("{:.1f} h", seconds / kHour);
}

int listRecordings(const std::vector<BenchRecording>& recordings, bool isJson) {
    auto list = nlohmann::ordered_json::array();
    for (const BenchRecording& one : recordings) {
        const std::uint64_t count = one.samples();
        auto gauges = nlohmann::ordered_json::array();
        for (const Track& track : one.tracks) gauges.push_back(track.newest().name);
        if (isJson)
            list.push_back({{"number", one.id},
                            {"name", one.name},
                            {"source", one.source},
                            {"started", timeOfMicros(one.started_us)},
                            {"ended", one.ended_us ? nlohmann::ordered_json(timeOfMicros(*one.ended_us)) : nullptr},
                            {"samples", count},
                            {"gauges", gauges}});
        else
            fmt::print("{:>4}  {:<24}  {}  {:>8}  {:>10} samples of {} gauges  {}\n", one.id, plainLine(one.name),
                       timeOfMicros(one.started_us), lengthText(one), count, one.tracks.size(), plainLine(one.source));
    }
    if (isJson) printJsonText({{"recordings", list}});
    if (!isJson && recordings.empty()) fmt::print("no recordings\n");
    return kFine;
}

Expected<Micros> timeOption(const std::string& option, const std::string& text, Micros otherwise) {
    if (text.empty()) return otherwise;
    if (const auto time_us = microsOfTime(text)) return *time_us;
    return fail(ErrorCode::Syntax, option, "“" + text + "”", "2026-11-27T09:00:00Z");
}

Expected<std::vector<std::int64_t>> gaugesOf(const std::vector<std::string>& names, const BenchRecording& recording) {
    std::vector<std::int64_t> ids;
    for (const std::string& name : names) {
        const auto it = std::find_if(recording.tracks.begin(), recording.tracks.end(),
                                     [&](const Track& track) { return track.newest().name == name; });
        if (it == recording.tracks.end())
            return fail(ErrorCode::Unknown, "--gauge", "“" + name + "”", "a gauge of this recording");
        ids.push_back(it->gauge);
    }
    return ids;
}

int runExport(const ExportOptions& options) {
    const auto stored = BenchFile::look(options.bench);
    if (!stored) return refuse(stored.error());
    const auto store = BenchFile::lookAtRecordings(options.bench);
    if (!store) return refuse(store.error());
    const auto all = (*store)->recordings();
    if (!all) return refuse(all.error());
    if (options.list) return listRecordings(*all, options.json);
    auto recording = recordingOf(*all, options.recording);
    if (!recording) return refuse(recording.error());
    // Derived gauges that were not recorded are worked out where they are asked for.
    if (!options.gauges.empty()) *recording = withWorkedOut(std::move(*recording), stored->bench);
    const auto from = timeOption("--from", options.from, recording->span().from_us);
    if (!from) return refuse(from.error());
    const auto to = timeOption("--to", options.to, recording->span().to_us);
    if (!to) return refuse(to.error());
    auto gauges = gaugesOf(options.gauges, *recording);
    if (!gauges) return refuse(gauges.error());
    const CsvExport what{{*from, *to}, std::move(*gauges), options.now ? Conversion::AsNow : Conversion::AsRecorded};

    const bool toStdout = options.out.empty() || options.out == "-";
    std::unique_ptr<OutputFile> output;
    if (!toStdout) {
        auto opened = OutputFile::open(options.out);
        if (!opened) return refuse(opened.error());
        output = std::move(*opened);
    }
    const auto rows =
        exportRecording(**store, *recording, what, stored->bench, catalogue(), [&](std::string_view text) {
            return toStdout ? writeAll(STDOUT_FILENO, text) : output->write(text);
        });
    if (!rows && rows.error().code != ErrorCode::Io) return refuse(rows.error());
    if (output)
        if (const auto kept = output->commit(); !kept) return refuse(kept.error());
    if (!rows) return refuse(rows.error());
    fmt::print(stderr, "fgauge: {} rows of “{}”\n", *rows, plainLine(recording->name));
    return kFine;
}

struct ImportOptions {
    std::string file, bench, name, time, start;
    std::vector<std::string> columns;
};

int runImport(const ImportOptions& options) {
    const auto file = BenchFile::open(options.bench);
    if (!file) return refuse(file.error());
    const auto bench = (*file)->read();
    if (!bench) return refuse(bench.error());
    CsvImport what;
    what.source = options.file;
    what.name = options.name;
    what.timeColumn = options.time;
    const auto now =
        std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::system_clock::now().time_since_epoch())
            .count();
    const auto start = timeOption("--start", options.start, now);
    if (!start) return refuse(start.error());
    what.start_us = *start;
    for (const std::string& text : options.columns) {
        const std::size_t equals = text.rfind('=');
        const std::string name = equals == std::string::npos ? std::string() : text.substr(equals + 1);
        const auto it = std::find_if(bench->gauges.begin(), bench->gauges.end(),
                                     [&](const BenchGauge& gauge) { return gauge.spec.name == name; });
        if (it == bench->gauges.end())
            return refuse(
                {ErrorCode::Unknown, "--column", "“" + text + "”", "COLUMN=the name of a gauge of the bench"});
        what.columns.emplace_back(text.substr(0, equals), it->id);
    }
    auto input = InputFile::open(options.file, "a CSV file");
    if (!input) return refuse(input.error());
    const auto report = importRecording([&](char* bytes, std::size_t count) { return input->read(bytes, count); }, what,
                                        *bench, (*file)->recordings());
    if (!report) return refuse(report.error().within(options.file));
    fmt::print("recording {}: {} rows, {} samples\n", report->recording, report->rows, report->samples);
    if (report->refused == 0) return kFine;
    fmt::print(stderr, "fgauge: {}: {} values not taken; the first is {}\n", options.file, report->refused,
               plainLine(report->firstProblem));
    return kFault;
}

}  // namespace

void addExport(Verb& program) {
    auto options = std::make_shared<ExportOptions>();
    Verb verb = program.verb("export", "A recording of a bench as CSV: raw values beside readings");
    verb.required("bench", options->bench, "bench file; it may be open in the window");
    verb.flag("--list", options->list, "which recordings there are");
    verb.option("--recording", options->recording, "its number or name; without it the newest");
    verb.option("--gauge", options->gauges, "names of gauges; without it all");
    verb.option("--from", options->from, "from this time on: 2026-11-27T09:00:00Z");
    verb.option("--to", options->to, "up to this time");
    verb.flag("--now", options->now, "convert with the gauges as they are now, not as they were recorded");
    verb.option("--out", options->out, "the CSV file; - or nothing is stdout");
    verb.flag("--json", options->json, "--list as one JSON object");
    verb.run([options] { return runExport(*options); });
}

void addImport(Verb& program) {
    auto options = std::make_shared<ImportOptions>();
    Verb verb = program.verb("import", "A CSV with times and raw values into a bench, as a recording");
    verb.required("file", options->file, "CSV file; - is stdin");
    verb.required("--into", options->bench, "bench file");
    verb.option("--name", options->name, "what the recording is called");
    verb.option("--time", options->time, "the column with the time; without it “time”, “t” or the first");
    verb.option("--start", options->start, "when second 0 was, where times are seconds: 2026-11-27T09:00:00Z");
    verb.option("--column", options->columns, "COLUMN=GAUGE where a column is not named like a gauge's channel");
    verb.run([options] { return runImport(*options); });
}

}  // namespace fg::cli
