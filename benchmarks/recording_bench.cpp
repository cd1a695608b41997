// Recordings: what storing, looking at, importing and exporting costs beside the least that could be done. Ratios of
// one run.

#include "analysis/look.h"
#include "bench/gauge_json.h"
#include "files/new_file.h"
#include "files/output_file.h"
#include "ratio.h"
#include "recording/recording_csv.h"
#include "storage/bench_file.h"
#include "units/date.h"
#include "units/input_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <unistd.h>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <random>

using namespace fg;

namespace {

constexpr int kRuns = 5;
constexpr Micros kStart_us = 1'795'597'200 * kMicrosASecond;

std::vector<RecordedSample> samplesOf(std::size_t count, Micros step_us) {
    std::vector<RecordedSample> samples;
    std::mt19937 random(1);
    for (std::size_t i = 0; i < count; ++i)
        samples.push_back(
            {kStart_us + static_cast<Micros>(i) * step_us, Raw(static_cast<double>(1500 + random() % 900))});
    return samples;
}

void append(RecordingStore& store, std::int64_t recording, std::int64_t track,
            std::span<const RecordedSample> samples) {
    RecordingStep step;
    step.samples.push_back({track, samples});
    if (const auto done = store.append(recording, step); !done) std::printf("%s\n", done.error().message().c_str());
}

/// Takes samples and keeps none: what is left is what came before storing.
class NoStore : public RecordingStore {
  public:
    Expected<std::vector<BenchRecording>> recordings(std::vector<Error>*) const override { return {}; }
    Expected<BenchRecording> begin(const BenchRecording& recording) override { return recording; }
    Expected<void> append(std::int64_t, const RecordingStep& step) override {
        for (const RecordingStep::OfTrack& of : step.samples) taken += of.samples.size();
        return {};
    }
    Expected<void> removeMark(std::int64_t, std::int64_t) override { return {}; }
    Expected<void> rename(std::int64_t, const std::string&) override { return {}; }
    Expected<void> remove(std::int64_t) override { return {}; }
    Expected<std::vector<ChunkSummary>> summaries(std::int64_t, TimeSpan) const override { return {}; }
    Expected<void> read(std::int64_t, TimeSpan, const Take&) const override { return {}; }
    std::size_t taken = 0;
};

/// A million rows: a time and the raw values of four gauges, which the bench gets. Gives the file's size.
std::size_t writeRows(const std::filesystem::path& path, Bench& bench) {
    constexpr std::size_t kRows = 1'000'000, kGauges = 4;
    std::string text = "time";
    for (std::size_t i = 0; i < kGauges; ++i) {
        GaugeSpec spec = bench.gauges[0].spec;
        spec.name += fmt::format(" {}", i);
        text += "," + spec.name + " raw";
        bench.add(spec);
    }
    text += "\n";
    std::mt19937 random(1);
    TimeWriter times;
    for (std::size_t row = 0; row < kRows; ++row) {
        times.append(kStart_us + static_cast<Micros>(row) * 10'000, text);
        for (std::size_t i = 0; i < kGauges; ++i) text += "," + std::to_string(1500 + random() % 900);
        text += "\n";
    }
    const int descriptor = ::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0644);
    (void)writeAll(descriptor, text);
    ::close(descriptor);
    return text.size();
}

}  // namespace

int main() {
    const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    const std::string demo = Catalogue::standardFolders().front().string() + "/demo/";
    const std::filesystem::path folder =
        std::filesystem::temp_directory_path() / fmt::format("fg-bench-{}", ::getpid());
    std::filesystem::create_directory(folder);
    Bench bench;
    bench.add(readGaugeFile(demo + "glue-pot.json").value());
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    RecordingStore& store = file->recordings();
    const auto begin = [&] {
        return store.begin({0, "bench", "bench", kStart_us, {}, {{0, 1, {{kStart_us, bench.gauges[0].spec}}}}}).value();
    };

    // Appending: chunks against plain rows, 1,000 a transaction.
    const auto batch = samplesOf(100'000, 10'000);
    const auto into = begin();
    const auto chunks = [&] { append(store, into.id, into.tracks[0].id, batch); };
    SQLite::Database plain((folder / "rows.db").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    plain.exec(
        "PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; CREATE TABLE sample (time INTEGER, raw INTEGER)");
    const auto rows = [&] {
        SQLite::Statement put(plain, "INSERT INTO sample VALUES (?, ?)");
        for (std::size_t at = 0; at < batch.size(); at += 1000) {
            SQLite::Transaction transaction(plain);
            for (std::size_t i = at; i < at + 1000; ++i) {
                put.bind(1, batch[i].time_us);
                put.bind(2, std::get<double>(batch[i].raw));
                put.exec();
                put.reset();
            }
            transaction.commit();
        }
    };
    std::printf("ratio  rows / packed chunks, appending   %5.2f   (wanted: at least 10)\n",
                fg::bench::ratio(rows, chunks, kRuns));

    // Ten million samples at 1 kHz, in their own bench.
    const auto big = BenchFile::create(folder / "big.fairgauge", bench).value();
    const auto before = std::filesystem::file_size(folder / "big.fairgauge");
    auto recording = big->recordings()
                         .begin({0, "big", "bench", kStart_us, {}, {{0, 1, {{kStart_us, bench.gauges[0].spec}}}}})
                         .value();
    constexpr std::size_t kAll = 10'000'000, kPiece = 500'000;
    std::vector<std::uint16_t> words;
    std::vector<Micros> times;
    for (std::size_t at = 0; at < kAll; at += kPiece) {
        auto piece = samplesOf(kPiece, 1000);
        for (RecordedSample& one : piece) {
            one.time_us += static_cast<Micros>(at) * 1000;
            times.push_back(one.time_us);
            words.push_back(static_cast<std::uint16_t>(std::get<double>(one.raw)));
        }
        append(big->recordings(), recording.id, recording.tracks[0].id, piece);
    }
    std::printf("bytes a sample in the file             %5.2f   (wanted: at most 8)\n",
                static_cast<double>(std::filesystem::file_size(folder / "big.fairgauge") - before) /
                    static_cast<double>(kAll));
    recording = big->recordings().recordings()->at(0);
    const TimeSpan whole = recording.span();
    double sink = 0;
    // Least and greatest of each column, by the times of the samples.
    const auto scan = [&] {
        constexpr Micros kColumns = 1000;
        std::vector<std::uint16_t> least(kColumns, 65535), most(kColumns, 0);
        const Micros width_us = (whole.to_us - whole.from_us) / kColumns + 1;
        std::size_t column = 0;
        Micros end_us = whole.from_us + width_us;
        for (std::size_t i = 0; i < kAll; ++i) {
            while (times[i] >= end_us) {
                ++column;
                end_us += width_us;
            }
            least[column] = std::min(least[column], words[i]);
            most[column] = std::max(most[column], words[i]);
        }
        sink += least[7] + most[7];
    };
    auto reader = TrackReader::make(big->recordings(), recording, 1, Conversion::AsRecorded, bench, catalogue).value();
    const auto view = [&] { sink += reader.view(whole, 1000)->columns[0].least; };
    std::printf("ratio  first view of 10 M / scan       %5.2f   (wanted: at most 0.25)\n",
                fg::bench::ratio(view, scan, kRuns));
    const auto full = [&] {
        (void)reader.read(whole, [&](const SampleColumns&, std::span<const Reading> readings) {
            sink += readings.back().value;
            return true;
        });
    };
    std::printf("ratio  converting all 10 M / scan      %5.2f   (wanted: at most 6)\n",
                fg::bench::ratio(full, scan, 3));
    const auto opened = [&](const char* name) {
        return [&, name] {
            const auto looked = BenchFile::look(folder / name);
            sink += looked ? static_cast<double>(looked->bench.gauges.size()) : 0;
        };
    };
    (void)BenchFile::create(folder / "empty.fairgauge", bench);
    std::filesystem::create_hard_link(folder / "big.fairgauge", folder / "linked.fairgauge");
    (void)big->saveCopy(folder / "copy.fairgauge");
    std::printf("ratio  opening with 10 M / without     %5.2f   (wanted: about 1)\n",
                fg::bench::ratio(opened("copy.fairgauge"), opened("empty.fairgauge"), kRuns));

    // CSV out and in. Out into a file as the product writes all of its files: under another name, synchronised, and
    // then put in place.
    std::string bytes;
    const auto record = store.recordings()->at(0);
    const auto exported = [&](const CsvWriter& take) {
        (void)exportRecording(store, record, {record.span()}, bench, catalogue, take);
    };
    exported([&](std::string_view piece) {
        bytes += piece;
        return true;
    });
    const auto out = [&] {
        const auto target = OutputFile::open(folder / "out.csv");
        exported([&](std::string_view piece) {
            (*target)->write(piece);
            return true;
        });
        (void)(*target)->commit();
    };
    const auto write = [&] {
        const auto target = OutputFile::open(folder / "bytes.csv");
        (*target)->write(bytes);
        (void)(*target)->commit();
    };
    const auto toMemory = [&] {
        exported([&](std::string_view piece) {
            sink += piece.back();
            return true;
        });
    };
    std::printf("ratio  CSV export / writing it         %5.2f   (wanted: at most 3)\n",
                fg::bench::ratio(out, write, kRuns));
    std::printf("rate   CSV export, making the rows     %5.0f MB a second\n",
                1e-6 * static_cast<double>(bytes.size()) / fg::bench::seconds(toMemory));
    // A million rows of five columns, as its limit was measured: all of it read into a buffer.
    const auto inSize = writeRows(folder / "in.csv", bench);
    const auto read = [&] {
        auto input = InputFile::open(folder / "in.csv", "CSV");
        std::string buffer(inSize, '\0');
        for (std::size_t at = 0; at < inSize;) at += input->read(buffer.data() + at, inSize - at).value_or(inSize);
        sink += buffer.back();
    };
    const auto target = BenchFile::create(folder / "in.fairgauge", bench).value();
    const auto importTo = [&](RecordingStore& kept) {
        auto input = InputFile::open(folder / "in.csv", "CSV");
        (void)importRecording([&](char* to, std::size_t count) { return input->read(to, count); }, {}, bench, kept);
    };
    NoStore nowhere;
    std::printf("ratio  CSV into columns / reading it   %5.2f   (wanted: at most 6)\n",
                fg::bench::ratio([&] { importTo(nowhere); }, read, kRuns));
    const auto readBlocks = [&] {
        auto input = InputFile::open(folder / "in.csv", "CSV");
        std::string buffer(1 << 16, '\0');
        while (input->read(buffer.data(), buffer.size()).value_or(0) > 0) sink += buffer[0];
    };
    std::printf("ratio  CSV into columns / in 64 KiB    %5.2f   (read into one small buffer again and again)\n",
                fg::bench::ratio([&] { importTo(nowhere); }, readBlocks, kRuns));
    std::printf("ratio  CSV import, stored / reading it %5.2f\n",
                fg::bench::ratio([&] { importTo(target->recordings()); }, read, 3));
    sink += static_cast<double>(nowhere.taken);
    std::filesystem::remove_all(folder);
    return std::isnan(sink) ? 1 : 0;
}
