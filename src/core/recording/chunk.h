#pragma once

#include "recording/recording.h"
#include "units/error.h"

#include <span>
#include <string>
#include <string_view>

namespace fg {

/// Samples by columns, as they are computed with. Either words or frames of one length.
struct SampleColumns {
    std::vector<Micros> times;
    std::vector<double> words;         ///< as many as times, or none
    std::vector<std::uint8_t> frames;  ///< one behind the other, or none
    std::size_t frameLength = 0;       ///< bytes of one frame; 0: words
    [[nodiscard]] std::size_t size() const { return times.size(); }
    [[nodiscard]] std::span<const std::uint8_t> frame(std::size_t i) const {
        return std::span(frames).subspan(i * frameLength, frameLength);
    }
    [[nodiscard]] RecordedSample sample(std::size_t i) const;
    /// None, with the room kept for others.
    void clear() {
        times.clear();
        words.clear();
        frames.clear();
        frameLength = 0;
    }
};

/// What is known of a chunk without unpacking it.
struct ChunkSummary {
    std::int64_t id = 0;
    TimeSpan span;
    std::uint32_t count = 0;
    double least = 0, most = 0;  ///< of the words; NaN for frames
    [[nodiscard]] bool hasWords() const { return least <= most; }
};

/// How many samples a full chunk has.
inline constexpr std::size_t kChunkSamples = 1000;
/// How long it is at most: its times are distances from the first in 32 bits.
inline constexpr Micros kLongestChunk_us = 0xFFFF'FFFF;

/// How many of the samples, from the first on, go into one chunk: at most kChunkSamples of one kind (words, or frames
/// of one length) whose times rise and lie within 71 minutes, with no gap in them: no two neighbours further apart than
/// 5 s and ten times the typical distance before. 0 only for no samples.
[[nodiscard]] std::size_t chunkLength(std::span<const RecordedSample> samples);

/// Packs samples that chunkLength() allows together: docs/bench-file.md, chunks. 6 bytes a sample for words that are
/// whole numbers of 0 to 65 535, 8 for other whole numbers of 32 bits, 12 for the rest.
[[nodiscard]] std::string packChunk(std::span<const RecordedSample> samples);
[[nodiscard]] ChunkSummary summaryOf(std::span<const RecordedSample> samples);

/// Appends what a chunk holds to columns of the same kind, which may be empty. Errors, with `where`: Damaged for a
/// chunk that is none or cut off; Unsupported for one of another kind than the columns.
[[nodiscard]] Expected<void> unpackChunk(std::string_view chunk, const std::string& where, SampleColumns& columns);

}  // namespace fg
