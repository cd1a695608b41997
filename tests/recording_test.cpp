// Recordings: what is kept comes back as it was, whatever stops the process; pictures of it agree with every sample; a
// gauge that is put right puts its recording right.

#include "fault_vfs.h"
#include "recording/recorder.h"
#include "recording/recording_csv.h"
#include "recording/track_reader.h"
#include "storage/bench_file.h"
#include "storage/salvage.h"
#include "support.h"
#include "units/date.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/wait.h>
#include <atomic>
#include <csignal>
#include <cstring>
#include <map>
#include <random>
#include <sstream>
#include <thread>

namespace fg {
namespace {

namespace fs = std::filesystem;
using test::TemporaryFolder;

constexpr Micros kNine_us = 1'795'597'200 * kMicrosASecond;  // 2026-11-25T09:00:00Z

std::vector<RecordedSample> codes(Micros from_us, Micros step_us, std::size_t count, double scale = 1) {
    std::vector<RecordedSample> samples;
    std::mt19937 random(7);
    for (std::size_t i = 0; i < count; ++i)
        samples.push_back({from_us + static_cast<Micros>(i) * step_us, scale * static_cast<double>(random() % 4096)});
    return samples;
}

std::vector<RecordedSample> allOf(const RecordingStore& store, std::int64_t track, TimeSpan span) {
    std::vector<RecordedSample> all;
    EXPECT_TRUE(store.read(track, span, [&](const SampleColumns& columns) {
        for (std::size_t i = 0; i < columns.size(); ++i) all.push_back(columns.sample(i));
        return true;
    }));
    return all;
}

constexpr TimeSpan kAlways{0, 10 * kNine_us};

Bench potBench() {
    Bench bench;
    bench.add(test::gluePot());
    return bench;
}

BenchRecording ofOne(const Bench& bench, Micros started_us = kNine_us) {
    return {0, "A day", "Simulated bench", started_us, {}, {{0, 1, {{started_us, bench.gauges[0].spec}}}}};
}

/// Rows as the product writes them are read by a quicker way than others; what stands in them means the same on both.
TEST(CsvImport, RowsOfEveryKindGiveTheSameTimesAndWords) {
    const TemporaryFolder folder;
    const auto file = BenchFile::create(folder / "a.fairgauge", potBench());
    ASSERT_TRUE(file);
    const std::string text =
        "# fair gauge recording: Odd rows\n"
        "time,note,Glue pot raw\n"
        "2026-11-25T09:00:00.250Z,,100\n"
        "2026-11-25T09:00:00.500Z,\"said \"\"twice\"\", here\",101\n"
        "2026-11-25T09:00:00.750001Z,x,102\r\n"
        "2026-11-25T10:00:01+01:00,,103\n"
        "2026-11-25T09:00:01.5Z,,104\n"
        "# 2026-11-25 a remark\n"
        "2026-11-25T09:00:02Z,,\n"
        "\n"
        "2026-11-25T09:00:03Z,, 105 \n"
        "2026-11-25T09:00:04.000Z,,10.5\n"
        "2026-11-25 09:00:05.000Z,,0x6A\n"
        "2026-11-25T09:00:06.000Z,,4294967296\n"
        "2026-11-25T09:00:07.000X,,1\n"
        "2026-11-25T09:00:08.000Z,,12x\n"
        "2026-11-25T09:00:09.000Z\n"
        "2026-11-25T09:00:10.000Z,,-7,more";
    std::size_t at = 0;
    const auto report = importRecording(
        [&](char* to, std::size_t count) -> Expected<std::size_t> {
            const std::size_t now = std::min({count, text.size() - at, std::size_t{31}});  // cut anywhere
            std::copy_n(text.data() + at, now, to);
            at += now;
            return now;
        },
        {"", "odd.csv", ""}, potBench(), (*file)->recordings());
    ASSERT_TRUE(report) << report.error().message();
    EXPECT_EQ(report->rows, 14u);
    EXPECT_EQ(report->refused, 2u);
    EXPECT_EQ(report->firstProblem,
              "line 15: “2026-11-25T09:00:07.000X” where a time was expected (ISO 8601 or seconds)");
    const auto recordings = (*file)->recordings().recordings();
    ASSERT_TRUE(recordings);
    EXPECT_EQ(recordings->at(0).name, "Odd rows");
    const std::vector<std::pair<Micros, double>> expected{{250'000, 100},    {500'000, 101},   {750'001, 102},
                                                          {1'000'000, 103},  {1'500'000, 104}, {3'000'000, 105},
                                                          {4'000'000, 10.5}, {5'000'000, 106}, {6'000'000, 4294967296},
                                                          {10'000'000, -7}};
    const auto samples = allOf((*file)->recordings(), recordings->at(0).tracks[0].id, kAlways);
    ASSERT_EQ(samples.size(), expected.size());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        EXPECT_EQ(samples[i].time_us - kNine_us, expected[i].first) << i;
        EXPECT_EQ(std::get<double>(samples[i].raw), expected[i].second) << i;
    }
}

TEST(Time, IsReadAndWrittenToTheMicrosecond) {
    EXPECT_EQ(microsOfTime("2026-11-25T09:00:00Z"), kNine_us);
    EXPECT_EQ(microsOfTime("2026-11-25T10:00:00.25+01:00"), kNine_us + 250'000);
    EXPECT_EQ(timeOfMicros(kNine_us + 250'001), "2026-11-25T09:00:00.250001Z");
    EXPECT_EQ(timeOfMicros(-1), "1969-12-31T23:59:59.999999Z");
    EXPECT_EQ(timeOfMicros(kNine_us), "2026-11-25T09:00:00Z");
    EXPECT_FALSE(microsOfTime("25.11.2026"));
    // Many in a row, quicker: the same texts, there and back.
    TimeWriter writer;
    TimeReader reader;
    for (const Micros time_us :
         {kNine_us, kNine_us + 1, kNine_us + 250'000, kNine_us - 1, kNine_us + 3'600'000'000, Micros{-5}}) {
        std::string text;
        writer.append(time_us, text);
        EXPECT_EQ(text, timeOfMicros(time_us));
        EXPECT_EQ(reader.read(text), time_us);
    }
    EXPECT_EQ(reader.read("2026-11-25T10:00:00.25+01:00"), kNine_us + 250'000);
    EXPECT_FALSE(reader.read("2026-11-25T10:00:00.25xZ"));
    EXPECT_FALSE(reader.read("2026-11-25T25:00:00.25Z"));
}

// Sizes are those of docs/bench-file.md: a head of 16 bytes, 4 a time, the value as narrow as it goes.
TEST(Chunk, HoldsEveryKindOfRawValueExactly) {
    const auto backOf = [](const std::vector<RecordedSample>& samples) {
        SampleColumns columns;
        EXPECT_EQ(chunkLength(samples), samples.size());
        EXPECT_TRUE(unpackChunk(packChunk(samples), "test", columns));
        std::vector<RecordedSample> back;
        for (std::size_t i = 0; i < columns.size(); ++i) back.push_back(columns.sample(i));
        return back;
    };
    const auto narrow = codes(kNine_us, 100'000, 1000), wide = codes(kNine_us, 100'000, 1000, -4000);
    auto real = narrow;
    real[500].raw = 2047.4;
    std::vector<RecordedSample> frames;
    for (std::uint8_t i = 0; i < 100; ++i)
        frames.push_back({kNine_us + i, std::vector<std::uint8_t>{i, 0x80, static_cast<std::uint8_t>(255 - i)}});
    auto negativeZero = narrow;
    negativeZero[3].raw = -0.0;
    for (const auto& samples : {narrow, wide, real, frames, negativeZero}) EXPECT_EQ(backOf(samples), samples);
    EXPECT_TRUE(std::signbit(std::get<double>(backOf(negativeZero)[3].raw)));
    EXPECT_EQ(packChunk(narrow).size(), 16u + 1000 * 6);
    EXPECT_EQ(packChunk(wide).size(), 16u + 1000 * 8);
    EXPECT_EQ(packChunk(real).size(), 16u + 1000 * 12);
    EXPECT_EQ(packChunk(frames).size(), 16u + 100 * 7);
    const ChunkSummary summary = summaryOf(narrow);
    double least = 1e9, most = -1e9;
    for (const auto& one : narrow) {
        least = std::min(least, std::get<double>(one.raw));
        most = std::max(most, std::get<double>(one.raw));
    }
    EXPECT_EQ(summary.least, least);
    EXPECT_EQ(summary.most, most);
}

TEST(Chunk, EndsAtGapsAtAnotherKindAndWhereTimeGoesBack) {
    auto samples = codes(kNine_us, kMicrosASecond, 100);
    for (std::size_t i = 40; i < 100; ++i) samples[i].time_us += 60 * kMicrosASecond;
    EXPECT_EQ(chunkLength(samples), 40u);
    samples = codes(kNine_us, 60 * kMicrosASecond, 100);  // a minute is no gap to a gauge read once a minute
    EXPECT_EQ(chunkLength(samples), 72u);                 // 71 minutes 34 seconds fit in 32 bits of microseconds
    samples = codes(kNine_us, kMicrosASecond, 100);
    samples[30].raw = std::vector<std::uint8_t>{1, 2};
    EXPECT_EQ(chunkLength(samples), 30u);
    samples = codes(kNine_us, kMicrosASecond, 100);
    samples[20].time_us = kNine_us;
    EXPECT_EQ(chunkLength(samples), 20u);
}

TEST(Chunk, ThatIsDamagedIsRefused) {
    const std::string good = packChunk(codes(kNine_us, 1000, 50));
    std::mt19937 random(3);
    for (int i = 0; i < 2000; ++i) {
        std::string bad = good.substr(0, random() % (good.size() + 1));
        if (!bad.empty() && i % 2)
            bad[random() % std::min<std::size_t>(bad.size(), 16)] ^= static_cast<char>(1 << random() % 8);
        SampleColumns columns;
        const auto read = unpackChunk(bad, "test", columns);
        EXPECT_TRUE(!read || bad.size() == good.size());  // only the time of its start may differ
    }
}

TEST(Recordings, ComeBackWithDescriptionsAndMarks) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    std::int64_t id = 0, track = 0;
    const auto samples = codes(kNine_us, 250'000, 2345);
    GaugeSpec later = bench.gauges[0].spec;
    later.converter.parameters.set("reference_V", 3.21);
    {
        const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
        RecordingStore& store = file->recordings();
        const auto begun = store.begin(ofOne(bench)).value();
        id = begun.id;
        track = begun.tracks[0].id;
        for (std::size_t at = 0; at < samples.size(); at += 7) {
            RecordingStep step;
            step.samples.push_back(
                {track, std::span(samples).subspan(at, std::min<std::size_t>(7, samples.size() - at))});
            ASSERT_TRUE(store.append(id, step));
        }
        RecordingStep step;
        step.descriptions.push_back({track, {samples[1000].time_us, later}});
        step.marks.push_back({0, MarkKind::Marker, {kNine_us + 5, kNine_us + 5}, 0, "Stove <b>lit</b>"});
        ASSERT_TRUE(store.append(id, step));
        EXPECT_EQ(allOf(store, track, kAlways), samples);
        EXPECT_EQ(allOf(store, track, {samples[990].time_us, samples[1010].time_us}),
                  std::vector(samples.begin() + 990, samples.begin() + 1011));
    }
    const auto file = BenchFile::open(folder / "a.fairgauge").value();
    const auto all = file->recordings().recordings().value();
    ASSERT_EQ(all.size(), 1u);
    EXPECT_EQ(all[0].name, "A day");
    EXPECT_EQ(all[0].tracks[0].count, samples.size());
    EXPECT_EQ(all[0].tracks[0].span, (TimeSpan{samples.front().time_us, samples.back().time_us}));
    EXPECT_EQ(all[0].tracks[0].gaugeAt(samples[999].time_us), bench.gauges[0].spec);
    EXPECT_EQ(all[0].tracks[0].gaugeAt(samples[1000].time_us), later);
    EXPECT_EQ(all[0].marks[0].text, "Stove <b>lit</b>");
    EXPECT_EQ(allOf(file->recordings(), track, kAlways), samples);
    RecordingStep end;
    end.ended_us = samples.back().time_us;
    ASSERT_TRUE(file->recordings().append(id, end));
    EXPECT_EQ(allOf(file->recordings(), track, kAlways), samples);
    const auto chunks = file->recordings().summaries(track, kAlways).value();
    for (const ChunkSummary& chunk : chunks) EXPECT_NE(chunk.id, 0);
    // A bench that only is looked at, also while it is open; a copy has them too.
    const auto looked = BenchFile::lookAtRecordings(folder / "a.fairgauge");
    ASSERT_FALSE(looked);  // this process has it open itself
    ASSERT_TRUE(file->saveCopy(folder / "b.fairgauge"));
    const auto copy = BenchFile::lookAtRecordings(folder / "b.fairgauge").value();
    EXPECT_EQ(allOf(*copy, track, kAlways), samples);
    EXPECT_FALSE(copy->begin(ofOne(bench)));
    ASSERT_TRUE(file->recordings().remove(id));
    EXPECT_TRUE(file->recordings().recordings()->empty());
    EXPECT_EQ(file->read().value(), bench);
}

// Before version 5 there were no recordings: such a bench is kept beside, and can record from then on.
TEST(Recordings, OfAnEarlierBenchBegin) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    ASSERT_TRUE(BenchFile::create(folder / "a.fairgauge", bench));
    {
        SQLite::Database database((folder / "a.fairgauge").string(), SQLite::OPEN_READWRITE);
        for (const char* table : {"recording", "track", "description", "mark", "chunk", "tail"})
            database.exec("DROP TABLE " + std::string(table));
        database.exec("PRAGMA user_version = 4");
    }
    EXPECT_TRUE(BenchFile::lookAtRecordings(folder / "a.fairgauge").value()->recordings()->empty());
    const auto file = BenchFile::open(folder / "a.fairgauge").value();
    EXPECT_TRUE(fs::exists(folder / "a (version 4).fairgauge"));
    EXPECT_EQ(file->read().value(), bench);
    EXPECT_TRUE(file->recordings().begin(ofOne(bench)));
}

// At most 8 bytes a raw 16-bit sample with its time, as it stands in the file.
TEST(Recordings, AreSmallAndDoNotSlowTheOpening) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    const auto before = fs::file_size(folder / "a.fairgauge");
    const auto begun = file->recordings().begin(ofOne(bench)).value();
    const auto samples = codes(kNine_us, 10'000, 200'000);
    RecordingStep step;
    step.samples.push_back({begun.tracks[0].id, samples});
    ASSERT_TRUE(file->recordings().append(begun.id, step));
    const auto grown = static_cast<double>(fs::file_size(folder / "a.fairgauge") - before);
    EXPECT_LT(grown / static_cast<double>(samples.size()), 7.0);
}

TEST(Recordings, OneFlippedBitOfAChunkIsTold) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    std::int64_t track = 0;
    {
        const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
        const auto begun = file->recordings().begin(ofOne(bench)).value();
        track = begun.tracks[0].id;
        const auto samples = codes(kNine_us, 10'000, 3000);
        RecordingStep step;
        step.samples.push_back({track, samples});
        ASSERT_TRUE(file->recordings().append(begun.id, step));
    }
    {
        SQLite::Database database((folder / "a.fairgauge").string(), SQLite::OPEN_READWRITE);
        database.exec(
            "UPDATE chunk SET data = CAST(substr(data, 1, 3000) || x'55' || substr(data, 3002) AS BLOB) WHERE id = 2");
    }
    const auto health = BenchFile::check(folder / "a.fairgauge").value();
    ASSERT_EQ(health.problems.size(), 1u);
    EXPECT_NE(health.problems[0].message().find("chunk 2"), std::string::npos) << health.problems[0].message();
    const auto file = BenchFile::open(folder / "a.fairgauge").value();
    const auto read = file->recordings().read(track, kAlways, [](const SampleColumns&) { return true; });
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().code, ErrorCode::Damaged);
}

// Single flipped bits anywhere in the file: what is read is what was recorded, or less of it; never something else.
TEST(Recordings, FlippedBitsNeverGiveOtherSamples) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    const auto samples = codes(kNine_us, 100'000, 1300);
    {
        const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
        const auto begun = file->recordings().begin(ofOne(bench)).value();
        RecordingStep step;
        step.samples.push_back({begun.tracks[0].id, samples});
        ASSERT_TRUE(file->recordings().append(begun.id, step));
    }
    const std::string bytes = test::readText(folder / "a.fairgauge");
    std::mt19937 random(17);
    int opened = 0, refused = 0;
    for (int i = 0; i < 600; ++i) {
        std::string flipped = bytes;
        flipped[random() % flipped.size()] ^= static_cast<char>(1 << random() % 8);
        test::writeText(folder / "b.fairgauge", flipped);
        const auto looked = BenchFile::look(folder / "b.fairgauge");
        const auto store = BenchFile::lookAtRecordings(folder / "b.fairgauge");
        if (!looked || !store) {
            ++refused;
            continue;
        }
        const auto all = (*store)->recordings();
        if (!all || all->empty() || (*all)[0].tracks.empty()) {
            ++refused;
            continue;
        }
        ++opened;
        const Track& track = (*all)[0].tracks[0];
        EXPECT_EQ(track.gauge, 1);
        EXPECT_EQ(track.descriptions[0].gauge, bench.gauges[0].spec);
        (void)(*store)->read(track.id, kAlways, [&](const SampleColumns& columns) {
            for (std::size_t at = 0; at < columns.size(); ++at) {
                const RecordedSample one = columns.sample(at);
                const auto index = static_cast<std::size_t>((one.time_us - kNine_us) / 100'000);
                EXPECT_TRUE(index < samples.size() && samples[index] == one);
            }
            return true;
        });
    }
    EXPECT_GT(opened, 100);
    EXPECT_GT(refused, 20);
}

TEST(Recordings, AreSalvagedChunkByChunk) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    const auto samples = codes(kNine_us, 10'000, 3500);
    {
        const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
        auto wanted = ofOne(bench);
        wanted.marks.push_back({0, MarkKind::Marker, {kNine_us, kNine_us}, 0, "here"});
        const auto begun = file->recordings().begin(wanted).value();
        RecordingStep step;
        step.samples.push_back({begun.tracks[0].id, samples});
        ASSERT_TRUE(file->recordings().append(begun.id, step));
    }
    {
        SQLite::Database database((folder / "a.fairgauge").string(), SQLite::OPEN_READWRITE);
        database.exec("UPDATE chunk SET sum = sum + 1 WHERE id = 2; UPDATE mark SET json = 'x'");
    }
    std::vector<Error> unread;
    EXPECT_EQ(BenchFile::lookAtRecordings(folder / "a.fairgauge").value()->recordings(&unread)->size(), 1u);
    EXPECT_EQ(unread.size(), 1u);
    const auto other = BenchFile::create(folder / "b.fairgauge", bench).value();
    EXPECT_EQ(salvageRecordings(folder / "a.fairgauge", other->recordings()).size(), 2u);
    const auto kept = other->recordings().recordings()->at(0);
    auto expected = std::vector(samples.begin(), samples.begin() + 1000);
    expected.insert(expected.end(), samples.begin() + 2000, samples.end());
    EXPECT_EQ(allOf(other->recordings(), kept.tracks[0].id, kAlways), expected);
    EXPECT_TRUE(kept.ended_us);
}

// After kill -9 at any moment the file opens clean and has every sample that was confirmed.
TEST(Recordings, SurviveBeingKilled) {
    const TemporaryFolder folder;
    std::mt19937 random(11);
    constexpr int kKills = 200;
    for (int kill = 0; kill < kKills; ++kill) {
        const auto path = folder / ("k" + std::to_string(kill) + ".fairgauge");
        int pipe[2];
        ASSERT_EQ(::pipe(pipe), 0);
        const pid_t child = ::fork();
        if (child == 0) {
            const auto file = BenchFile::create(path, potBench());
            const auto begun = (*file)->recordings().begin(ofOne(potBench()));
            const auto samples = codes(kNine_us, 100'000, 20'000);
            for (std::uint32_t at = 0; at + 300 < samples.size(); at += 300) {
                RecordingStep step;
                step.samples.push_back({begun->tracks[0].id, std::span(samples).subspan(at, 300)});
                if (!(*file)->recordings().append(begun->id, step)) ::_exit(1);
                const std::uint32_t confirmed = at + 300;
                if (::write(pipe[1], &confirmed, sizeof confirmed) != sizeof confirmed) ::_exit(2);
            }
            ::_exit(0);
        }
        ::close(pipe[1]);
        std::uint32_t confirmed = 0, read = 0;
        while (confirmed == 0 && ::read(pipe[0], &read, sizeof read) == sizeof read) confirmed = read;
        ::usleep(static_cast<useconds_t>(random() % 20'000));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        while (::read(pipe[0], &read, sizeof read) == sizeof read) confirmed = read;
        ::close(pipe[0]);
        const auto file = BenchFile::open(path);
        ASSERT_TRUE(file) << file.error().message();
        const auto recordings = (*file)->recordings().recordings().value();
        const auto got = allOf((*file)->recordings(), recordings.at(0).tracks.at(0).id, kAlways);
        ASSERT_GE(got.size(), confirmed);
        ASSERT_LE(got.size(), confirmed + 300);
        const auto samples = codes(kNine_us, 100'000, got.size());
        ASSERT_EQ(got, samples);
        fs::remove(path);
    }
}

TEST(Recordings, StopWithAValidFileWhenTheDiskIsFull) {
    for (int at = 3; at < 60; at += 4) {
        const TemporaryFolder folder;
        const Bench bench = potBench();
        ASSERT_TRUE(BenchFile::create(folder / "a.fairgauge", bench));
        test::FaultVfs::install(test::FaultVfs::Mode::None, -1);
        const auto file = BenchFile::open(folder / "a.fairgauge").value();
        const std::vector<std::int64_t> gauges{1};
        const auto recorder =
            Recorder::start(file->recordings(), bench, gauges, "A day", "test", {kNine_us, 0}).value();
        const auto samples = codes(0, 100'000, 4000);
        std::size_t confirmed = 0;
        test::FaultVfs::install(test::FaultVfs::Mode::Fail, at);
        Expected<void> stored;
        for (std::size_t begin = 0; stored && begin < samples.size(); begin += 400) {
            std::vector<Sample> batch;
            for (std::size_t i = begin; i < begin + 400; ++i)
                batch.push_back({0, static_cast<double>(samples[i].time_us) * 1e-6, samples[i].raw});
            std::vector<const Sample*> pointers;
            for (const Sample& one : batch) pointers.push_back(&one);
            recorder->take({1, pointers, {}});
            stored = recorder->flush(
                {kNine_us + samples[begin].time_us, static_cast<double>(samples[begin].time_us) * 1e-6});
            if (stored) confirmed = begin + 400;
        }
        test::FaultVfs::install(test::FaultVfs::Mode::None, -1);
        ASSERT_FALSE(stored);
        EXPECT_FALSE(recorder->status().isRunning);
        EXPECT_FALSE(recorder->status().problem.empty());
        EXPECT_EQ(recorder->status().samples, confirmed);
        EXPECT_EQ(recorder->status().lost, 400u);
        const auto track = file->recordings().recordings()->at(0).tracks.at(0);
        EXPECT_EQ(allOf(file->recordings(), track.id, kAlways).size(), confirmed);
        EXPECT_EQ(track.count, confirmed);
        test::FaultVfs::uninstall();
    }
}

TEST(Recorder, NotesGapsClocksAndAlarmsAndKeepsItsOwnTime) {
    const TemporaryFolder folder;
    Bench bench = potBench();
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    const std::vector<std::int64_t> gauges{1};
    const auto recorder = Recorder::start(file->recordings(), bench, gauges, "A day", "test", {kNine_us, 100}).value();
    const auto at = [](double seconds, double jump_s = 0) {
        return Moment{kNine_us + static_cast<Micros>((seconds + jump_s) * 1e6), 100 + seconds};
    };
    const auto take = [&](double seconds) {
        const Sample sample{0, 100 + seconds, Raw(2155.0)};
        const Sample* pointer = &sample;
        recorder->take({1, std::span(&pointer, 1), {}});
    };
    take(0.25);
    recorder->interrupted("the cable was pulled", at(1));
    recorder->interrupted("still", at(2));
    recorder->resumed(at(30));
    take(31);
    ASSERT_TRUE(recorder->flush(at(31)));
    ASSERT_TRUE(recorder->flush(at(32, -3600)));  // the clock goes back an hour
    take(33);
    recorder->alarm(1, "above 63 °C", true, at(33, -3600));
    recorder->alarm(1, "above 63 °C", true, at(34, -3600));
    bench.gauges[0].spec.converter.parameters.set("reference_V", 3.2);
    recorder->describe(bench, at(35, -3600));
    ASSERT_TRUE(recorder->stop(at(40, -3600)));
    EXPECT_FALSE(recorder->flush(at(41)));
    const auto kept = file->recordings().recordings()->at(0);
    EXPECT_EQ(kept.ended_us, kNine_us + 40 * kMicrosASecond);
    ASSERT_EQ(kept.marks.size(), 3u);
    EXPECT_EQ(kept.marks[0].kind, MarkKind::Gap);
    EXPECT_EQ(kept.marks[0].span, (TimeSpan{kNine_us + kMicrosASecond, kNine_us + 30 * kMicrosASecond}));
    EXPECT_EQ(kept.marks[0].text, "the cable was pulled");
    EXPECT_EQ(kept.marks[1].kind, MarkKind::Clock);
    EXPECT_NE(kept.marks[1].text.find("back by 3600 s"), std::string::npos) << kept.marks[1].text;
    EXPECT_EQ(kept.marks[2].span, (TimeSpan{kNine_us + 33 * kMicrosASecond, kNine_us + 40 * kMicrosASecond}));
    const auto samples = allOf(file->recordings(), kept.tracks[0].id, kAlways);
    ASSERT_EQ(samples.size(), 3u);
    EXPECT_EQ(samples[2].time_us, kNine_us + 33 * kMicrosASecond);
    EXPECT_EQ(kept.tracks[0].newest(), bench.gauges[0].spec);
}

// Every column against every sample, converted one by one.
TEST(TrackReader, PicturesAgreeWithEverySample) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    RecordingStore& store = file->recordings();
    const auto begun = store.begin(ofOne(bench)).value();
    auto samples = codes(kNine_us, 100'000, 30'000);
    for (std::size_t i = 12'000; i < samples.size(); ++i) samples[i].time_us += 300 * kMicrosASecond;
    samples[5].raw = 4095.0;
    RecordingStep step;
    step.samples.push_back({begun.tracks[0].id, samples});
    ASSERT_TRUE(store.append(begun.id, step));
    const auto recording = store.recordings()->at(0);
    auto reader = TrackReader::make(store, recording, 1, Conversion::AsRecorded, bench, test::catalogue()).value();
    const Gauge gauge = Gauge::make(bench.gauges[0].spec, test::catalogue()).value();
    const TimeSpan whole = *recording.tracks[0].span, part{samples[100].time_us, samples[400].time_us};
    // By limits of chunks, sample by sample, then from the pieces in which the chunks are known by now, the whole and a
    // stretch of it; and too close for pieces.
    const TimeSpan most{samples[1'000].time_us, samples[25'000].time_us};
    for (const auto& [span, columns, isExact] :
         {std::tuple(whole, 20u, false), std::tuple(whole, 1000u, true), std::tuple(whole, 1000u, false),
          std::tuple(most, 700u, false), std::tuple(part, 50u, true)}) {
        const auto view = reader.view(span, columns).value();
        ASSERT_EQ(view.columns.size(), columns);
        EXPECT_EQ(view.isExact, isExact) << columns;
        const auto length_us = static_cast<double>(span.to_us - span.from_us);
        std::vector<double> least(columns, 1e9), greatest(columns, -1e9);
        for (const auto& one : samples) {
            if (!span.holds(one.time_us)) continue;
            const double value = gauge.read(std::get<double>(one.raw)).value;
            const auto column = std::min<std::size_t>(
                static_cast<std::size_t>(static_cast<double>(one.time_us - span.from_us) / length_us * columns),
                columns - 1);
            least[column] = std::min(least[column], value);
            greatest[column] = std::max(greatest[column], value);
        }
        for (std::size_t i = 0; i < columns; ++i) {
            if (view.isExact || !view.columns[i].hasValue()) {
                EXPECT_EQ(view.columns[i].hasValue(), least[i] <= greatest[i]) << i;
                if (!view.columns[i].hasValue()) continue;
                EXPECT_DOUBLE_EQ(view.columns[i].least, least[i]);
                EXPECT_DOUBLE_EQ(view.columns[i].most, greatest[i]);
            } else {
                // A chunk or a piece that reaches over an edge counts on both sides, no further; at the ends of the
                // picture also what lies a column beyond.
                const std::size_t from = i == 0 ? 0 : i - 1, to = std::min<std::size_t>(i + 2, columns);
                const auto at = [](auto& values, std::size_t k) {
                    return values.begin() + static_cast<std::ptrdiff_t>(k);
                };
                EXPECT_LE(view.columns[i].least, least[i]);
                EXPECT_GE(view.columns[i].most, greatest[i]);
                if (i == 0 || i + 1 == columns) continue;
                EXPECT_GE(view.columns[i].least, *std::min_element(at(least, from), at(least, to))) << i;
                EXPECT_LE(view.columns[i].most, *std::max_element(at(greatest, from), at(greatest, to))) << i;
            }
        }
    }
    const auto view = reader.view(whole, 100).value();
    ASSERT_EQ(view.gaps.size(), 1u);
    EXPECT_EQ(view.gaps[0], (TimeSpan{samples[11'999].time_us, samples[12'000].time_us}));
    EXPECT_TRUE(view.columns[0].isAtMost);  // full scale of an NTC to ground: at most that warm
    EXPECT_FALSE(view.columns[1].isAtMost);
}

/// Two gauges, several pieces of a hundred thousand samples, rows with one value and with both, saturated codes and a
/// mark: a row for each time, in order, with what was recorded at it.
TEST(CsvExport, OfALongRecordingIsARowForEveryTime) {
    const TemporaryFolder folder;
    Bench bench = potBench();
    GaugeSpec second = bench.gauges[0].spec;
    second.name = "Lid";
    second.channel = "lid";
    bench.add(second);
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    RecordingStore& store = file->recordings();
    const auto begun = store
                           .begin({0,
                                   "Long",
                                   "bench",
                                   kNine_us,
                                   {},
                                   {{0, 1, {{kNine_us, bench.gauges[0].spec}}}, {0, 2, {{kNine_us, second}}}}})
                           .value();
    auto pot = codes(kNine_us, 10'000, 250'000), lid = codes(kNine_us + 3'000'000, 15'000, 130'000);
    pot[77'777].raw = 4095.0;
    RecordingStep step;
    step.samples = {{begun.tracks[0].id, pot}, {begun.tracks[1].id, lid}};
    step.marks.push_back({0, MarkKind::Marker, {kNine_us + 5'000'000, kNine_us + 5'000'000}, 0, "stove lit"});
    ASSERT_TRUE(store.append(begun.id, step));
    const auto recording = store.recordings()->at(0);

    std::map<Micros, std::array<std::optional<double>, 2>> rows;
    for (const auto& one : pot) rows[one.time_us][0] = std::get<double>(one.raw);
    for (const auto& one : lid) rows[one.time_us][1] = std::get<double>(one.raw);
    std::string text;
    const auto count =
        exportRecording(store, recording, {recording.span()}, bench, test::catalogue(), [&](std::string_view piece) {
            text += piece;
            return true;
        });
    ASSERT_TRUE(count) << count.error().message();
    EXPECT_EQ(*count, rows.size());
    const Gauge gauge = Gauge::make(bench.gauges[0].spec, test::catalogue()).value();
    const Unit& unit = bench.gauges[0].spec.readingUnit();
    std::istringstream lines(text);
    std::string line;
    while (std::getline(lines, line) && !line.starts_with("time,")) EXPECT_TRUE(line.starts_with("# ")) << line;
    ASSERT_TRUE(std::getline(lines, line));
    EXPECT_TRUE(line.starts_with("# marker 2026-11-25T09:00:05Z") && line.ends_with("stove lit")) << line;
    std::size_t number = 0;
    for (const auto& [time_us, values] : rows) {
        ASSERT_TRUE(std::getline(lines, line)) << number;
        std::string expected = timeOfMicros(time_us);
        for (const auto& value : values) {
            if (!value) {
                expected += ",,,";
                continue;
            }
            // Every thousandth by the gauge, the rest as far as the raw value.
            expected += fmt::format(",{:.0f},", *value);
            const std::size_t from = expected.size(), until = line.find(',', from);
            if (number % 1000 == 0 || *value == 4095) {
                const Reading reading = gauge.read(*value);
                const double shown = test::number(line.substr(from, until - from));
                EXPECT_NEAR(shown, unit.fromCanonical(reading.value), 1e-9 * std::abs(shown)) << line;
            }
            expected += line.substr(from, until == std::string::npos ? until : until - from);
            expected += *value == 4095 || *value == 0 ? (*value == 0 ? ",at least" : ",at most") : ",";
        }
        ASSERT_EQ(line, expected) << number;
        ++number;
    }
    EXPECT_FALSE(std::getline(lines, line)) << line;

    // Stopped on the way, and into what takes no more.
    int asked = 0;
    const auto stopped = exportRecording(
        store, recording, {recording.span()}, bench, test::catalogue(), [](std::string_view) { return true; },
        [&](double done) { return done < 1 && ++asked < 3; });
    EXPECT_EQ(stopped.error().code, ErrorCode::Busy);
    std::size_t room = 3'000'000;
    const auto full =
        exportRecording(store, recording, {recording.span()}, bench, test::catalogue(), [&](std::string_view piece) {
            const bool fits = piece.size() <= room;
            room -= std::min(room, piece.size());
            return fits;
        });
    EXPECT_EQ(full.error().code, ErrorCode::Io);
}

/// What is being recorded is read meanwhile: each look finds the beginning of it, as it was recorded.
TEST(Recordings, AreReadWhileTheyGrow) {
    const TemporaryFolder folder;
    const Bench bench = potBench();
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    RecordingStore& store = file->recordings();
    const auto begun = store.begin(ofOne(bench)).value();
    const auto samples = codes(kNine_us, 10'000, 200'000);
    std::atomic<bool> isDone = false;
    std::thread writer([&] {
        constexpr std::size_t kStep = 1'700;
        for (std::size_t at = 0; at < samples.size(); at += kStep) {
            RecordingStep step;
            step.samples.push_back(
                {begun.tracks[0].id, std::span(samples).subspan(at, std::min(kStep, samples.size() - at))});
            EXPECT_TRUE(store.append(begun.id, step));
        }
        isDone = true;
    });
    for (std::size_t looks = 0, before = 0; !isDone || looks < 3; ++looks) {
        const auto read = allOf(store, begun.tracks[0].id, kAlways);
        ASSERT_GE(read.size(), before);
        before = read.size();
        ASSERT_TRUE(std::equal(read.begin(), read.end(), samples.begin(),
                               [](const auto& a, const auto& b) { return a.time_us == b.time_us && a.raw == b.raw; }));
    }
    writer.join();
    EXPECT_EQ(allOf(store, begun.tracks[0].id, kAlways).size(), samples.size());
}

// The divider is ratiometric only to its own reference: with another one stated every reading moves, because the raw
// codes are what is kept.
TEST(TrackReader, FollowsAReferenceThatIsPutRight) {
    const TemporaryFolder folder;
    Bench bench;
    bench.add(test::directGauge("tmp36", 10, 5));
    const auto file = BenchFile::create(folder / "a.fairgauge", bench).value();
    RecordingStore& store = file->recordings();
    const auto begun = store.begin(ofOne(bench)).value();
    std::vector<RecordedSample> samples(10, {kNine_us, Raw(150.0)});
    for (std::size_t i = 0; i < samples.size(); ++i) samples[i].time_us += static_cast<Micros>(i) * kMicrosASecond;
    RecordingStep step;
    step.samples.push_back({begun.tracks[0].id, samples});
    GaugeSpec measured = bench.gauges[0].spec;
    measured.converter.parameters.set("reference_V", 4.7);
    step.descriptions.push_back({begun.tracks[0].id, {samples[5].time_us, measured}});
    ASSERT_TRUE(store.append(begun.id, step));
    const auto readings = [&](Conversion conversion, const Bench& now) {
        std::vector<double> values;
        auto reader = TrackReader::make(store, store.recordings()->at(0), 1, conversion, now, test::catalogue());
        EXPECT_TRUE(reader->read(kAlways, [&](const SampleColumns&, std::span<const Reading> converted) {
            for (const Reading& one : converted) values.push_back(one.value);
            return true;
        }));
        return values;
    };
    // TMP36: 0.5 V at 0 °C, 10 mV/°C; code 150 of 1024.
    const double nominal = (150 * 5.0 / 1024 - 0.5) * 100, right = (150 * 4.7 / 1024 - 0.5) * 100;
    const auto then = readings(Conversion::AsRecorded, bench);
    EXPECT_NEAR(then[4], nominal, 1e-9);
    EXPECT_NEAR(then[5], right, 1e-9);
    bench.gauges[0].spec = measured;
    for (const double value : readings(Conversion::AsNow, bench)) EXPECT_NEAR(value, right, 1e-9);
}

}  // namespace
}  // namespace fg
