#include "bench_choice.h"
#include "engine/engine.h"
#include "files/new_file.h"
#include "output.h"
#include "recording/recorder.h"
#include "recording/recording_csv.h"
#include "sources/source.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <poll.h>
#include <unistd.h>
#include <algorithm>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <limits>

namespace fg::cli {
namespace {

struct Options {
    std::string bench, duration, out, into, name;
    std::vector<std::string> sources, gauges;
};

volatile std::sig_atomic_t stopWanted = 0;

/// From now on an interrupt ends the loop, and with it the recording in order.
void listenForStop() {
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
        struct sigaction action {};
        action.sa_handler = [](int) { stopWanted = 1; };
        ::sigaction(signal, &action, nullptr);
    }
}

Expected<double> secondsOf(const std::string& text) {
    if (text.empty()) return std::numeric_limits<double>::infinity();
    const auto read = readValue(text, Quantity::Time);
    if (!read) return tl::unexpected(read.error().within("--for"));
    if (!(read->canonical > 0)) return fail(ErrorCode::Range, "--for", "“" + text + "”", "a time above 0: 10s, 8h");
    return read->canonical;
}

/// Every gauge that came from a file of its own has to be heard of.
Expected<void> checkChannels(const Options& options, const Bench& bench) {
    const std::size_t own = bench.gauges.size() - options.gauges.size();
    for (std::size_t i = 0; i < options.gauges.size(); ++i) {
        const GaugeSpec& spec = bench.gauges[own + i].spec;
        if (spec.channel.empty() && !DerivedPath::applies(spec))
            return fail(ErrorCode::Missing, options.gauges[i] + ": channel", "nothing",
                        "the channel whose values the gauge takes");
    }
    return {};
}

/// Where lines of CSV go as they come: the standard output, or a new file.
class Output {
  public:
    static Expected<Output> open(const std::string& path) {
        if (path.empty() || path == "-") return Output(STDOUT_FILENO, "standard output");
        const int descriptor = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (descriptor < 0)
            return systemError(ErrorCode::Io, path, "a new file: what is recorded does not replace one that is there");
        return Output(descriptor, path);
    }
    bool write(std::string_view text) const { return writeAll(m_descriptor, text); }
    /// What is written stands on the disk; a pipe has none.
    void settle() const {
        if (m_descriptor != STDOUT_FILENO) (void)::fdatasync(m_descriptor);
    }
    [[nodiscard]] const std::string& name() const { return m_name; }

  private:
    Output(int descriptor, std::string name) : m_descriptor(descriptor), m_name(std::move(name)) {}
    int m_descriptor;
    std::string m_name;
};

/// Both clocks: the engine's runs as fast as the source wants, from the time at which what it plays began.
class Clocks {
  public:
    explicit Clocks(const Source& source) : m_speed(source.speed()), m_origin_us(source.origin_us()) {}
    [[nodiscard]] double elapsed_s() const {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - m_begin).count();
    }
    [[nodiscard]] Moment now() const {
        const double engine_s = elapsed_s() * m_speed;
        if (m_origin_us) return {*m_origin_us + microsOf(engine_s), engine_s};
        const auto wall = std::chrono::system_clock::now().time_since_epoch();
        return {std::chrono::duration_cast<std::chrono::microseconds>(wall).count(), engine_s};
    }

  private:
    std::chrono::steady_clock::time_point m_begin = std::chrono::steady_clock::now();
    double m_speed;
    std::optional<Micros> m_origin_us;
};

/// A source that is listened to, and what is wrong with it now.
struct Listened {
    std::unique_ptr<Source> source;
    std::string problem = {};
    bool isAtEnd = false;
};
using Sources = std::vector<Listened>;

/// Until one of them has something, or may have.
void waitFor(const Sources& sources, double now_s) {
    std::vector<pollfd> waiting;
    double quiet_s = std::numeric_limits<double>::infinity();
    for (const Listened& one : sources) {
        if (one.isAtEnd) continue;
        quiet_s = std::min(quiet_s, one.source->quietFor_s(now_s) / one.source->speed());
        if (one.source->descriptor() >= 0) waiting.push_back({one.source->descriptor(), POLLIN, 0});
    }
    const int wait_ms = std::max(1, static_cast<int>(std::min(quiet_s, 1.0) * 1000));
    (void)::poll(waiting.data(), waiting.size(), wait_ms);
}

/// Several at once share one clock: it can run as fast as the first wants, and stand for one time of then.
Expected<Sources> openSources(const Options& options) {
    Sources sources;
    for (const std::string& text : options.sources) {
        auto source = openSource(text, catalogue());
        if (!source) return tl::unexpected(source.error());
        if (!sources.empty() &&
            ((*source)->speed() != sources.front().source->speed() || (*source)->origin_us().has_value()))
            return fail(ErrorCode::Unsupported, "--source", text + " beside " + options.sources.front(),
                        "sources whose clocks run alike: what is played again goes first, and alone at its speed");
        sources.push_back({std::move(*source)});
    }
    return sources;
}

std::string nameOf(const Sources& sources) {
    std::string name;
    for (const Listened& one : sources) name += (name.empty() ? "" : "; ") + one.source->name();
    return name;
}

/// What becomes of the readings, beside being computed.
struct Sinks {
    std::unique_ptr<Recorder> recorder;
    std::unique_ptr<RecordingCsv> csv;
    std::optional<Output> output;
};

/// Takes what a source has, and notes where it fails and comes back; true when something came.
bool takeFrom(Listened& from, int number, Engine& engine, Sinks& sinks, const Moment& now) {
    const Source::Given given = from.source->take(now.engine_s);
    from.isAtEnd |= given.isAtEnd;
    if (given.problem != from.problem) {
        if (!given.problem.empty()) {
            fmt::print(stderr, "fgauge: {}\n", plainLine(given.problem));
            engine.interrupt(number);
            if (sinks.recorder) sinks.recorder->interrupted(given.problem, now);
        } else if (sinks.recorder) {
            sinks.recorder->resumed(now);
        }
        from.problem = given.problem;
    }
    for (const Source::Piece& piece : given.pieces) engine.take(piece.bytes, piece.at_s, number);
    return !given.pieces.empty();
}

int runLoop(Sources& sources, Engine& engine, Sinks& sinks, double duration_s, const Clocks& clocks) {
    constexpr double kFlush_s = 1;
    double flushed_s = 0;
    for (bool isEnd = false; !isEnd;) {
        isEnd = stopWanted || clocks.elapsed_s() >= duration_s;
        const Moment now = clocks.now();
        bool hasCome = false;
        for (std::size_t i = 0; i < sources.size(); ++i)
            if (!sources[i].isAtEnd) hasCome |= takeFrom(sources[i], static_cast<int>(i), engine, sinks, now);
        isEnd |= std::all_of(sources.begin(), sources.end(), [](const Listened& one) { return one.isAtEnd; });
        if (sinks.csv && !sinks.csv->writeUpTo(std::numeric_limits<Micros>::max())) {
            const auto error = systemError(ErrorCode::Io, sinks.output->name(), "room for what is recorded");
            return refuse(error.value());
        }
        if (isEnd || clocks.elapsed_s() - flushed_s >= kFlush_s) {
            flushed_s = clocks.elapsed_s();
            if (sinks.output) sinks.output->settle();
            if (sinks.recorder) {
                const auto done = isEnd ? sinks.recorder->stop(now) : sinks.recorder->flush(now);
                if (!done) return refuse(done.error());
            }
        }
        if (!isEnd && !hasCome) waitFor(sources, now.engine_s);
    }
    return kFine;
}

int run(const Options& options) {
    const auto duration_s = secondsOf(options.duration);
    if (!duration_s) return refuse(duration_s.error());
    Options wanted = options;
    if (!options.into.empty() && options.bench.empty() && options.gauges.empty()) wanted.bench = options.into;
    if (!options.into.empty() && (wanted.bench != options.into || !options.gauges.empty()))
        return refuseUsage("--into records the gauges of that bench: give no other, and no --gauge");
    const auto bench = benchOf(wanted.bench, wanted.gauges);
    if (!bench) return refuse(bench.error());
    if (const auto good = checkChannels(wanted, *bench); !good) return refuse(good.error());
    if (bench->gauges.empty())
        return refuseUsage("no gauges: --bench FILE.fairgauge, --gauge FILE.json or --into FILE.fairgauge");
    if (wanted.sources.empty()) wanted.sources.emplace_back("sim");
    auto sources = openSources(wanted);
    if (!sources) return refuse(sources.error());
    const Source& first = *sources->front().source;
    const std::string sourceName = nameOf(*sources);

    std::shared_ptr<BenchFile> file;
    Sinks sinks;
    const Clocks clocks(first);
    Engine engine(catalogue());
    engine.setBench(*bench);
    std::vector<std::int64_t> ids;
    for (const BenchGauge& gauge : bench->gauges)
        if (!gauge.spec.channel.empty() || DerivedPath::applies(gauge.spec)) ids.push_back(gauge.id);
    const std::string name = options.name.empty() ? "Recording" : options.name;
    Moment start = clocks.now();
    if (first.origin_us()) start = {*first.origin_us(), 0};
    if (!options.into.empty()) {
        auto opened = BenchFile::open(options.into);
        if (!opened) return refuse(opened.error());
        file = std::move(*opened);
        auto recorder = Recorder::start(file->recordings(), *bench, ids, name, sourceName, start);
        if (!recorder) return refuse(recorder.error());
        sinks.recorder = std::move(*recorder);
        engine.addListener([&](const GaugeBatch& batch) { sinks.recorder->take(batch); });
    } else {
        auto output = Output::open(options.out);
        if (!output) return refuse(output.error());
        sinks.output.emplace(std::move(*output));
        std::vector<RecordingCsv::Column> columns;
        for (const std::int64_t id : ids) columns.push_back({id, bench->find(id)->spec});
        sinks.csv = std::make_unique<RecordingCsv>(std::move(columns),
                                                   [&](std::string_view text) { return sinks.output->write(text); });
        if (!sinks.csv->begin(name, sourceName, start.wall_us))
            return refuse(systemError(ErrorCode::Io, sinks.output->name(), "room for what is recorded").value());
        engine.addListener([&](const GaugeBatch& batch) {
            const auto column = static_cast<std::size_t>(std::find(ids.begin(), ids.end(), batch.gauge) - ids.begin());
            for (std::size_t i = 0; i < batch.samples.size(); ++i)
                sinks.csv->put(column, start.wall_us + microsOf(batch.samples[i]->time_s - start.engine_s),
                               batch.samples[i]->raw, batch.readings[i]);
        });
    }
    listenForStop();
    const int code = runLoop(*sources, engine, sinks, *duration_s, clocks);
    const Engine::Status status = engine.status();
    if (sinks.recorder)
        fmt::print(stderr, "fgauge: {} samples of {} gauges recorded, {} junk lines\n",
                   sinks.recorder->status().samples, ids.size(), status.junk);
    else
        fmt::print(stderr, "fgauge: {} rows, {} junk lines\n", sinks.csv->rows(), status.junk);
    if (status.looksLikeWrongSpeed)
        fmt::print(stderr, "fgauge: nearly every line is junk: most likely the wrong speed of the line\n");
    if (code == kFine && status.samples == 0) {
        fmt::print(stderr, "fgauge: nothing came from {}\n", plainLine(sourceName));
        return kFault;
    }
    return code;
}

}  // namespace

void addLog(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("log", "Record gauges from a source: as CSV, line by line, or into a bench");
    verb.option(
        "--source", options->sources,
        "sim[@SPEED] (nothing: this), serial:PATH[@BAUD], replay:FILE.csv[@SPEED] or sysfs:DIR; several with the "
        "option repeated: channels of the second are 2:NAME");
    verb.option("--bench", options->bench, "the gauges of this bench file");
    verb.option("--gauge", options->gauges, "gauge files, each with a channel");
    verb.option("--for", options->duration, "how long: 10s, 8h; without it until it is interrupted");
    verb.option("--out", options->out, "a new CSV file; - or nothing is stdout");
    verb.option("--into", options->into, "record into this bench file, its own gauges");
    verb.option("--name", options->name, "what the recording is called");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
