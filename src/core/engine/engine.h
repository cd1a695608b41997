// Room `engine`: the bench as it runs. Samples in, readings out, for every gauge and every sample.
#pragma once

#include "acquisition/feed.h"
#include "bench/document.h"
#include "gauge/gauge.h"

#include <functional>
#include <map>
#include <memory>
#include <mutex>

namespace fg {

/// Readings of one gauge, in the order of its samples; they live as long as the call that hands them over.
struct GaugeBatch {
    std::int64_t gauge = 0;
    std::span<const Sample* const> samples;
    std::span<const Reading> readings;  ///< of each sample
};

/// What a gauge last said.
struct LastReading {
    double time_s = 0;
    Reading reading;
    Raw raw;
    std::uint64_t count = 0;              ///< of the readings so far
    std::optional<double> standard = {};  ///< of a rate: see RunningWindow::standard()
};

/// What a channel brought last.
struct ChannelState {
    std::string name;
    std::string unit;  ///< as it was written behind a reading that the board worked out itself; empty: raw values
    Raw raw;
    double time_s = 0;
};

/// The gauges of a bench, each made once, in the order of their links: samples in, readings out to any number of
/// listeners, gauge by gauge. A gauge with linked inputs computes with what that one read last before
/// its own sample. A derived gauge has a reading whenever one of its inputs has; its samples hold that reading as it
/// was worked out. With a channel of its own it has one whenever that brings something. All members may be called from
/// any thread; listeners are called in the thread that takes.
class Engine {
  public:
    using Listener = std::function<void(const GaugeBatch&)>;

    /// `catalogue` must outlive it.
    explicit Engine(const Catalogue& catalogue) : m_catalogue(catalogue) {}

    /// From now on these gauges; those whose description did not change are kept as they stand.
    void setBench(const Bench& bench);

    /// Answers a number to take it out again with.
    std::size_t addListener(Listener listener);
    /// Waits until it is not being called; it is not called after that.
    void removeListener(std::size_t number);

    /// Bytes of a source at `now_s` of our clock, which only rises. Sources have numbers from 0 on; the channels of the
    /// first keep their names, those of the second are "2:pot" and so on, so that two boards may use the same names.
    void take(std::string_view bytes, double now_s, int source = 0);
    /// Samples whose channels have these names by number.
    void take(std::span<const Sample> samples, const std::vector<std::string>& channelNames);

    /// Other sources: new feeds, no channels, no readings.
    void restart();
    /// One source comes anew or goes: its lines and channels begin anew, those of the others stay.
    void restart(int source);
    /// The transport of a source was interrupted; see LineReader::interrupt().
    void interrupt(int source = 0);

    [[nodiscard]] std::optional<LastReading> last(std::int64_t gauge) const;
    /// The newest raw value of a channel and its time, whether a gauge is bound to it or not.
    [[nodiscard]] std::optional<std::pair<Raw, double>> lastRaw(const std::string& channel) const;

    /// All channels that came, by name.
    [[nodiscard]] std::vector<ChannelState> channels() const;
    /// The last lines, newest last; see LineReader::lastLines(). Of several sources one after the other, each line
    /// behind its source's number.
    [[nodiscard]] std::vector<SeenLine> lastLines() const;

    /// What the feeds say of themselves, all sources together; the drift of the first that knows its own.
    struct Status {
        std::uint64_t frames = 0, junk = 0, samples = 0, restarts = 0, wraps = 0;
        std::string lastJunk;
        bool looksLikeWrongSpeed = false;
        std::optional<double> drift_ppm;
        std::vector<std::string> channels;  ///< sorted
    };
    [[nodiscard]] Status status() const;

  private:
    /// A gauge as the engine runs it.
    struct Running {
        BenchGauge gauge;
        std::optional<Gauge> made;              ///< nothing where it cannot be made
        std::map<std::int64_t, double> linked;  ///< by gauge: the reading it was made with
        std::optional<LastReading> last;
        std::optional<RunningWindow> window;  ///< of a running value: its last while
        double windowTo_s = 0;                ///< the last of its input's samples that went into it
        // Of one batch:
        std::vector<Sample> own;  ///< of a derived gauge without a channel
        std::vector<const Sample*> samples;
        std::vector<Reading> readings;
        std::size_t ready = 0;  ///< readings of this batch that are made; in a circle of links another's are not yet
        std::optional<std::pair<double, Reading>> before;  ///< what it read last before the batch, and when
    };
    /// A source as the engine hears it.
    struct Heard {
        Feed feed;
        std::vector<std::string> names;               ///< of its channels by number, as gauges know them
        std::vector<std::vector<std::size_t>> bound;  ///< by channel number: indices of m_running
    };
    void bind(Heard& heard) const;
    void forgetBindings();
    void run(Running& one);
    void remake(Running& one);
    /// `turn`: counts the samples of one time, from 0 on. Lines that come in one piece without times of their own share
    /// a time.
    void followInputs(Running& one, double time_s, std::ptrdiff_t turn);
    [[nodiscard]] const Running* lenderOf(const Running& one, const LinkedInput& input) const;
    void makeOwnSamples(Running& one);
    void deriveAll(Running& one);
    void takeLocked(std::span<const Sample> samples, Heard& heard);

    const Catalogue& m_catalogue;
    mutable std::mutex m_guard;
    std::map<int, Heard> m_sources;
    Heard m_given;                   // samples that come without a feed
    std::vector<Running> m_running;  // in the order of their links
    std::map<std::string, std::pair<Raw, double>, std::less<>> m_lastRaw;
    std::map<std::size_t, Listener> m_listeners;
    std::size_t m_nextListener = 0;
    std::uint64_t m_samples = 0;
};

}  // namespace fg
