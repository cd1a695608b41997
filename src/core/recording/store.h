#pragma once

#include "recording/chunk.h"

#include <functional>

namespace fg {

/// What is added to a recording at once: all of it, or nothing.
struct RecordingStep {
    struct OfTrack {
        std::int64_t track = 0;
        std::span<const RecordedSample> samples;  ///< by time
    };
    std::vector<OfTrack> samples = {};
    std::vector<std::pair<std::int64_t, Description>> descriptions = {};  ///< by track
    std::vector<TimeMark> marks = {};  ///< without an id: new; with one: takes its place
    std::optional<Micros> ended_us = {};
};

/// Where recordings are kept. May be called from any thread. Errors of all: Missing where the file was taken away, Io
/// with the system's reason (a full disk), Damaged where what is there does not fit its checksum; then nothing of the
/// call was done.
class RecordingStore {
  public:
    virtual ~RecordingStore() = default;

    /// All of them without their samples, oldest first. What of them cannot be read is left out, and told in `unread`.
    [[nodiscard]] virtual Expected<std::vector<BenchRecording>> recordings(
        std::vector<Error>* unread = nullptr) const = 0;
    /// A new one with its tracks, which get ids. Answers it as it is kept.
    [[nodiscard]] virtual Expected<BenchRecording> begin(const BenchRecording& recording) = 0;
    /// When it returns without error the step survives the death of the process.
    [[nodiscard]] virtual Expected<void> append(std::int64_t recording, const RecordingStep& step) = 0;
    [[nodiscard]] virtual Expected<void> removeMark(std::int64_t recording, std::int64_t mark) = 0;
    [[nodiscard]] virtual Expected<void> rename(std::int64_t recording, const std::string& name) = 0;
    /// With all its samples; cannot be undone.
    [[nodiscard]] virtual Expected<void> remove(std::int64_t recording) = 0;

    /// The chunks of a track that touch a span, by time. What stands in no chunk yet is one of id 0, last.
    [[nodiscard]] virtual Expected<std::vector<ChunkSummary>> summaries(std::int64_t track, TimeSpan span) const = 0;
    /// The samples of a track within a span, chunk by chunk in order of time; `take` answers false to stop.
    using Take = std::function<bool(const SampleColumns&)>;
    [[nodiscard]] virtual Expected<void> read(std::int64_t track, TimeSpan span, const Take& take) const = 0;
};

}  // namespace fg
