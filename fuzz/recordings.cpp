// CSV of recordings, and chunks: what is read back of what was taken is the same.
#include "path/default_gauge.h"
#include "recording/recording_csv.h"
#include "target.h"

using namespace fg;

namespace {

/// Keeps what it is given in memory.
class Memory final : public RecordingStore {
  public:
    Expected<std::vector<BenchRecording>> recordings(std::vector<Error>*) const override {
        return std::vector<BenchRecording>();
    }
    Expected<BenchRecording> begin(const BenchRecording& recording) override {
        BenchRecording kept = recording;
        kept.id = 1;
        for (Track& track : kept.tracks) track.id = 1;
        return kept;
    }
    Expected<void> append(std::int64_t, const RecordingStep& step) override {
        for (const auto& of : step.samples) {
            for (std::span<const RecordedSample> rest = of.samples; !rest.empty();) {
                const std::size_t length = chunkLength(rest);
                fuzz::expect(length > 0 && length <= kChunkSamples);
                SampleColumns columns;
                fuzz::expect(unpackChunk(packChunk(rest.first(length)), "chunk", columns).has_value());
                for (std::size_t i = 0; i < length; ++i) fuzz::expect(columns.sample(i) == rest[i]);
                rest = rest.subspan(length);
                count += length;
            }
        }
        return {};
    }
    Expected<void> removeMark(std::int64_t, std::int64_t) override { return {}; }
    Expected<void> rename(std::int64_t, const std::string&) override { return {}; }
    Expected<void> remove(std::int64_t) override { return {}; }
    Expected<std::vector<ChunkSummary>> summaries(std::int64_t, TimeSpan) const override {
        return std::vector<ChunkSummary>();
    }
    Expected<void> read(std::int64_t, TimeSpan, const Take&) const override { return {}; }
    std::uint64_t count = 0;
};

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Bench bench = [] {
        Bench made;
        GaugeSpec spec = defaultGauge(*fuzz::catalogue().findPart("lm35"));
        spec.name = "Glue pot";
        spec.channel = "pot";
        made.add(spec);
        return made;
    }();
    const std::string_view text = fuzz::textOf(data, size);
    SampleColumns columns;
    (void)unpackChunk(text, "chunk", columns);
    Memory store;
    std::size_t at = 0;
    const auto report = importRecording(
        [&](char* bytes, std::size_t count) -> Expected<std::size_t> {
            const std::size_t got = std::min(count, text.size() - at);
            std::copy_n(text.begin() + static_cast<std::ptrdiff_t>(at), got, bytes);
            at += got;
            return got;
        },
        {}, bench, store);
    if (report) fuzz::expect(report->samples == store.count);
    return 0;
}
