#include "gauge/csv_convert.h"
#include "inline_gauge.h"
#include "output.h"
#include "uncertainty/reading_text.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <cstring>

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
    fmt::print("{}: {}", gauge.spec().name, reading.joined());
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

/// A whole file in memory: mapped when it is one, read when it is a pipe.
class Input {
  public:
    static Expected<Input> open(const std::string& name) {
        Input input;
        const int descriptor = name == "-" ? STDIN_FILENO : ::open(name.c_str(), O_RDONLY | O_CLOEXEC);
        if (descriptor < 0) return fail(ErrorCode::Io, name, std::strerror(errno), "a CSV file that can be read");
        struct stat status {};
        ::fstat(descriptor, &status);
        if (S_ISREG(status.st_mode) && status.st_size > 0) {
            input.m_size = static_cast<std::size_t>(status.st_size);
            void* map = ::mmap(nullptr, input.m_size, PROT_READ, MAP_PRIVATE | MAP_POPULATE, descriptor, 0);
            if (map != MAP_FAILED) input.m_map = map;
        }
        if (!input.m_map) {
            std::array<char, 65536> buffer{};
            ssize_t got = 0;
            while ((got = ::read(descriptor, buffer.data(), buffer.size())) > 0)
                input.m_text.append(buffer.data(), static_cast<std::size_t>(got));
            if (got < 0) return fail(ErrorCode::Io, name, std::strerror(errno), "a CSV file that can be read");
        }
        if (descriptor != STDIN_FILENO) ::close(descriptor);
        return input;
    }
    Input(Input&& other) noexcept
        : m_map(std::exchange(other.m_map, nullptr)), m_size(other.m_size), m_text(std::move(other.m_text)) {}
    Input& operator=(Input&&) = delete;
    ~Input() {
        if (m_map) ::munmap(m_map, m_size);
    }
    [[nodiscard]] std::string_view text() const {
        return m_map ? std::string_view(static_cast<const char*>(m_map), m_size) : std::string_view(m_text);
    }

  private:
    Input() = default;
    void* m_map = nullptr;
    std::size_t m_size = 0;
    std::string m_text;
};

bool writeAll(int descriptor, std::string_view text) {
    while (!text.empty()) {
        const ssize_t written = ::write(descriptor, text.data(), text.size());
        if (written < 0 && errno == EINTR) continue;
        if (written <= 0) return false;
        text.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

int convertFile(const Options& options, const Gauge& gauge) {
    const auto input = Input::open(options.in);
    if (!input) return refuse(input.error());
    const bool toStdout = options.out.empty() || options.out == "-";
    // Written beside its place and renamed when whole: a failed run leaves an earlier output as it was.
    const std::string partial = options.out + ".part";
    const int descriptor =
        toStdout ? STDOUT_FILENO : ::open(partial.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
    if (descriptor < 0) return refuse({ErrorCode::Io, options.out, std::strerror(errno), "a file that can be written"});
    auto report = convertCsv(input->text(), gauge, options.column,
                             [&](std::string_view piece) { return writeAll(descriptor, piece); });
    if (!toStdout) {
        const bool kept =
            ::close(descriptor) == 0 && report.has_value() && ::rename(partial.c_str(), options.out.c_str()) == 0;
        if (!kept) ::unlink(partial.c_str());
        if (!kept && report)
            report = fail(ErrorCode::Io, options.out, std::strerror(errno), "a file that can be written");
    }
    if (!report) return refuse(report.error().within(options.in));
    if (report->refused > 0)
        fmt::print(stderr, "fgauge: {}: {} of {} rows have no reading; the first is {}\n", options.in, report->refused,
                   report->rows, report->firstProblem);
    if (!report->note.empty()) fmt::print(stderr, "fgauge: {}: {}\n", options.in, report->note);
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
    verb.option("--gauge", options->gauge, "gauge file (JSON)");
    verb.option("--part", options->without.part,
                "a catalogue part instead of a gauge file: tmp36, ntc, thermocouple-k");
    verb.option(
        "--adc", options->without.converter,
        "its converter, id or name=value: bits=10,vref=5,law=2^n (also gain=, polarity=bipolar, measured=, word=)");
    verb.option("--wiring", options->without.wiring,
                "its wiring: kind,name=value: divider,fixed_ohm=10k,sensor_side=low");
    verb.option("--sensor", options->without.sensor,
                "what the part leaves open: r25_ohm=10k,beta_K=3950; pairs: points=25:0.314V,85:0.380V (or codes of "
                "the converter)");
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
