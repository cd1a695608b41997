#pragma once

#include "engine/engine.h"
#include "recording/store.h"

#include <memory>
#include <mutex>

namespace fg {

/// Both clocks of a moment: the computer's, which may be set, and the engine's, which only rises.
struct Moment {
    Micros wall_us = 0;
    double engine_s = 0;
};

/// Writes what the gauges of a bench hear into a store, about once a second: take() gathers, flush() stores.
///
/// The times of a recording are the engine's, counted from the wall clock at its start; a clock that is set meanwhile
/// is noted (MarkKind::Clock) and changes no time. All members may be called from any thread.
class Recorder {
  public:
    /// `gauges` of the bench, by id; those without a channel are passed over, but derived ones. Errors: Missing where
    /// none is left; those of the store.
    [[nodiscard]] static Expected<std::unique_ptr<Recorder>> start(RecordingStore& store, const Bench& bench,
                                                                   std::span<const std::int64_t> gauges,
                                                                   const std::string& name, const std::string& source,
                                                                   Moment now);

    /// What the engine tells; never waits for the store.
    void take(const GaugeBatch& batch);
    /// The gauges are described like this from now on.
    void describe(const Bench& bench, Moment now);
    void mark(const std::string& text, Moment now);
    /// An alarm of a gauge went on, or off again; it is one mark for as long as it is on.
    void alarm(std::int64_t gauge, const std::string& text, bool isOn, Moment now);
    /// Nothing comes any more, for that reason; again something comes. The stretch between is noted.
    void interrupted(const std::string& why, Moment now);
    void resumed(Moment now);

    /// Stores what was gathered. After an error nothing more is taken: the recording ends where it was last stored.
    [[nodiscard]] Expected<void> flush(Moment now);
    /// The last flush, and the end.
    [[nodiscard]] Expected<void> stop(Moment now);

    struct Status {
        std::uint64_t samples = 0;  ///< stored
        std::uint64_t lost = 0;     ///< gathered and not stored
        bool isRunning = true;
        std::string problem = {};  ///< why it does not run any more
        Micros started_us = 0, last_us = 0;
    };
    [[nodiscard]] Status status() const;
    [[nodiscard]] std::int64_t recording() const { return m_recording.id; }
    /// The wall clock's time of an engine's time.
    [[nodiscard]] Micros timeOf(double engine_s) const;

    /// How many samples are held at most while the store does not answer.
    static constexpr std::size_t kMostWaiting = 1'000'000;

  private:
    Recorder(RecordingStore& store, BenchRecording recording, Moment start)
        : m_store(store), m_recording(std::move(recording)), m_start(start) {}
    void watchClock(Moment now);
    [[nodiscard]] Expected<void> store(Moment now, bool isEnd);

    RecordingStore& m_store;
    BenchRecording m_recording;
    Moment m_start;

    mutable std::mutex m_guard;                                     // of what follows
    std::map<std::int64_t, std::vector<RecordedSample>> m_waiting;  // by track
    std::size_t m_waitingCount = 0;
    std::vector<std::pair<std::int64_t, Description>> m_descriptions;
    std::vector<TimeMark> m_marks;
    std::optional<TimeMark> m_gap;
    std::map<std::int64_t, TimeMark> m_alarms;  // on, by gauge
    Micros m_clockOff_us = 0;                   // noted already
    Status m_status;

    std::mutex m_storing;  // one flush at a time
};

}  // namespace fg
