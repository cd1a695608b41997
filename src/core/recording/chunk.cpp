#include "recording/chunk.h"

#include <fmt/format.h>
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <limits>

namespace fg {
namespace {

// The layout is the machine's own; a big-endian build would have to turn the bytes round.
static_assert(std::endian::native == std::endian::little);

enum class Kind : std::uint8_t { Word16 = 1, Word32 = 2, Real = 3, Frame = 4 };

constexpr std::uint8_t kLayout = 1;

/// In front of the columns: times as distances from the first, then values.
struct Head {
    std::uint8_t layout = kLayout;
    Kind kind = Kind::Word16;
    std::uint16_t valueBytes = 2;
    std::uint32_t count = 0;
    std::int64_t first_us = 0;
};
static_assert(sizeof(Head) == 16);

const double* wordOf(const RecordedSample& sample) { return std::get_if<double>(&sample.raw); }

std::size_t frameLengthOf(const RecordedSample& sample) {
    const auto* frame = std::get_if<std::vector<std::uint8_t>>(&sample.raw);
    return frame ? frame->size() : 0;
}

bool isWhole(double word, double least, double most) {
    return word >= least && word <= most && word == std::floor(word) && !(word == 0 && std::signbit(word));
}

Head headOf(std::span<const RecordedSample> samples) {
    Head head;
    head.count = static_cast<std::uint32_t>(samples.size());
    head.first_us = samples.front().time_us;
    if (!wordOf(samples.front())) {
        head.kind = Kind::Frame;
        head.valueBytes = static_cast<std::uint16_t>(frameLengthOf(samples.front()));
        return head;
    }
    using Limits16 = std::numeric_limits<std::uint16_t>;
    using Limits32 = std::numeric_limits<std::int32_t>;
    const auto all = [&](double least, double most) {
        return std::all_of(samples.begin(), samples.end(),
                           [&](const RecordedSample& one) { return isWhole(*wordOf(one), least, most); });
    };
    if (all(0, Limits16::max())) return head;
    const bool isWord32 = all(Limits32::min(), Limits32::max());
    head.kind = isWord32 ? Kind::Word32 : Kind::Real;
    head.valueBytes = isWord32 ? 4 : 8;
    return head;
}

template <class Stored>
void putWords(std::span<const RecordedSample> samples, char* at) {
    for (const RecordedSample& one : samples) {
        const auto value = static_cast<Stored>(*wordOf(one));
        std::memcpy(at, &value, sizeof value);
        at += sizeof value;
    }
}

template <class Stored>
void takeWords(const char* at, std::size_t count, std::vector<double>& words) {
    const std::size_t before = words.size();
    words.resize(before + count);
    for (std::size_t i = 0; i < count; ++i, at += sizeof(Stored)) {
        Stored value;
        std::memcpy(&value, at, sizeof value);
        words[before + i] = static_cast<double>(value);
    }
}

bool isHead(const Head& head) {
    switch (head.kind) {
        case Kind::Word16:
            return head.valueBytes == 2;
        case Kind::Word32:
            return head.valueBytes == 4;
        case Kind::Real:
            return head.valueBytes == 8;
        case Kind::Frame:
            return head.valueBytes > 0;
    }
    return false;
}

}  // namespace

RecordedSample SampleColumns::sample(std::size_t i) const {
    if (frameLength == 0) return {times[i], Raw(words[i])};
    const auto bytes = frame(i);
    return {times[i], Raw(std::vector<std::uint8_t>(bytes.begin(), bytes.end()))};
}

std::size_t chunkLength(std::span<const RecordedSample> samples) {
    constexpr Micros kLeastGap_us = 5 * kMicrosASecond;
    constexpr Micros kGapTimes = 10;
    const std::size_t most = std::min(samples.size(), kChunkSamples);
    for (std::size_t i = 1; i < most; ++i) {
        const Micros step_us = samples[i].time_us - samples[i - 1].time_us;
        const Micros since_us = samples[i].time_us - samples[0].time_us;
        if (step_us < 0 || since_us > kLongestChunk_us || frameLengthOf(samples[i]) != frameLengthOf(samples[0]))
            return i;
        const Micros typical_us = (samples[i - 1].time_us - samples[0].time_us) / static_cast<Micros>(i);
        if (i > 1 && step_us > kLeastGap_us && step_us > kGapTimes * typical_us) return i;
    }
    return most;
}

std::string packChunk(std::span<const RecordedSample> samples) {
    const Head head = headOf(samples);
    std::string chunk(sizeof head + samples.size() * (sizeof(std::uint32_t) + head.valueBytes), '\0');
    std::memcpy(chunk.data(), &head, sizeof head);
    char* at = chunk.data() + sizeof head;
    for (const RecordedSample& one : samples) {
        const auto delta_us = static_cast<std::uint32_t>(one.time_us - head.first_us);
        std::memcpy(at, &delta_us, sizeof delta_us);
        at += sizeof delta_us;
    }
    switch (head.kind) {
        case Kind::Word16:
            putWords<std::uint16_t>(samples, at);
            break;
        case Kind::Word32:
            putWords<std::int32_t>(samples, at);
            break;
        case Kind::Real:
            putWords<double>(samples, at);
            break;
        case Kind::Frame:
            for (const RecordedSample& one : samples) {
                const auto& frame = std::get<std::vector<std::uint8_t>>(one.raw);
                std::copy(frame.begin(), frame.end(), at);
                at += head.valueBytes;
            }
    }
    return chunk;
}

ChunkSummary summaryOf(std::span<const RecordedSample> samples) {
    ChunkSummary summary;
    summary.span = {samples.front().time_us, samples.back().time_us};
    summary.count = static_cast<std::uint32_t>(samples.size());
    summary.least = summary.most = std::nan("");
    if (!wordOf(samples.front())) return summary;
    const auto [least, most] =
        std::minmax_element(samples.begin(), samples.end(),
                            [](const RecordedSample& a, const RecordedSample& b) { return *wordOf(a) < *wordOf(b); });
    summary.least = *wordOf(*least);
    summary.most = *wordOf(*most);
    return summary;
}

Expected<void> unpackChunk(std::string_view chunk, const std::string& where, SampleColumns& columns) {
    Head head;
    if (chunk.size() < sizeof head)
        return fail(ErrorCode::Damaged, where, fmt::format("{} bytes", chunk.size()), "a chunk of at least 16 bytes");
    std::memcpy(&head, chunk.data(), sizeof head);
    if (head.layout != kLayout || !isHead(head))
        return fail(ErrorCode::Damaged, where, "a head that is none", "a chunk as docs/bench-file.md has it");
    const std::size_t count = head.count;
    const std::size_t expected = sizeof head + count * (sizeof(std::uint32_t) + head.valueBytes);
    if (chunk.size() != expected)
        return fail(ErrorCode::Damaged, where, fmt::format("{} bytes", chunk.size()),
                    fmt::format("{} bytes for {} samples", expected, count));
    const std::size_t frameLength = head.kind == Kind::Frame ? head.valueBytes : 0;
    if (!columns.times.empty() && columns.frameLength != frameLength)
        return fail(ErrorCode::Unsupported, where, "values of another kind", "words, or frames of one length");
    columns.frameLength = frameLength;
    const std::size_t before = columns.times.size();
    columns.times.resize(before + count);
    const char* at = chunk.data() + sizeof head;
    for (std::size_t i = 0; i < count; ++i, at += sizeof(std::uint32_t)) {
        std::uint32_t delta_us = 0;
        std::memcpy(&delta_us, at, sizeof delta_us);
        columns.times[before + i] = head.first_us + delta_us;
    }
    switch (head.kind) {
        case Kind::Word16:
            takeWords<std::uint16_t>(at, count, columns.words);
            break;
        case Kind::Word32:
            takeWords<std::int32_t>(at, count, columns.words);
            break;
        case Kind::Real:
            takeWords<double>(at, count, columns.words);
            break;
        case Kind::Frame:
            columns.frames.insert(columns.frames.end(), at, at + count * frameLength);
            break;
    }
    return {};
}

}  // namespace fg
