#include "gauge/gauge.h"
#include "storage/bench_file.h"
#include "storage_support.h"
#include "support.h"

#include <sys/stat.h>
#include <sys/wait.h>
#include <csignal>

namespace fg {
namespace {

using test::TemporaryFolder;
using test::writeVersion2;

std::filesystem::path makeBench(const TemporaryFolder& folder, const std::string& name = "a.fairgauge") {
    const auto file = BenchFile::create(folder / name).value();
    Bench bench;
    bench.add(test::gluePot());
    if (const auto written = file->write({}, bench); !written) throw std::runtime_error(written.error().message());
    return folder / name;
}

TEST(BenchFile, KeepsGaugesAndTheirOrder) {
    const TemporaryFolder folder;
    const auto path = makeBench(folder);
    Bench bench = BenchFile::open(path).value()->read().value();
    ASSERT_EQ(bench.gauges.size(), 1u);
    EXPECT_EQ(bench.gauges[0].spec, test::gluePot());
    Bench after = bench;
    after.add(test::directGauge("tmp36", 10, 5));
    after.add(test::directGauge("lm35", 10, 5));
    std::swap(after.gauges[0], after.gauges[2]);
    after.remove(2);
    after.journal.add({0, "2026-05-01", 1, "Glue pot", EntryKind::Note, "Lid replaced", {}, {}});
    after.journal.add({0,
                       "2026-05-02",
                       1,
                       "Glue pot",
                       EntryKind::Calibration,
                       "as left",
                       {},
                       std::make_shared<const CalibrationKept>(CalibrationKept{test::gluePot(), test::gluePot()})});
    ASSERT_TRUE(BenchFile::open(path).value()->write(bench, after));
    EXPECT_EQ(BenchFile::open(path).value()->read().value(), after);
    Bench without = after;
    without.journal.remove(1);
    ASSERT_TRUE(BenchFile::open(path).value()->write(after, without));
    EXPECT_EQ(BenchFile::open(path).value()->read().value(), without);
    // An entry that was changed behind the product's back is named, and the rest opens.
    {
        SQLite::Database database(path.string(), SQLite::OPEN_READWRITE);
        database.exec("UPDATE entry SET json = replace(json, 'as left', 'as lent')");
    }
    const auto seen = BenchFile::look(path).value();
    EXPECT_EQ(seen.bench.gauges.size(), 2u);
    ASSERT_EQ(seen.unread.size(), 1u);
    EXPECT_NE(seen.unread[0].why.message().find("entry 2 of the journal"), std::string::npos);
}

TEST(BenchFile, SavesACopyAndNeverOverAnother) {
    const TemporaryFolder folder;
    const auto file = BenchFile::open(makeBench(folder)).value();
    ASSERT_TRUE(file->saveCopy(folder / "copy.fairgauge"));
    EXPECT_EQ(BenchFile::open(folder / "copy.fairgauge").value()->read().value(), file->read().value());
    EXPECT_EQ(file->saveCopy(folder / "copy.fairgauge").error().code, ErrorCode::Range);
    EXPECT_FALSE(std::filesystem::exists(folder / "copy.fairgauge.part"));
    EXPECT_EQ(BenchFile::create(folder / "copy.fairgauge").error().code, ErrorCode::Range);
    EXPECT_EQ(file->saveCopy(folder / "no/such/folder.fairgauge").error().code, ErrorCode::Io);
}

/// What was read on opening is given once; after that, and after a change, it is the file that is asked.
TEST(BenchFile, GivesWhatStandsInItEveryTime) {
    const TemporaryFolder folder;
    const auto path = makeBench(folder);
    const Bench before = BenchFile::open(path).value()->read().value();
    ASSERT_EQ(before.gauges.size(), 1u);
    Bench after = before;
    after.gauges[0].spec.name = "Another";
    {
        const auto file = BenchFile::open(path).value();
        for (int time = 0; time < 2; ++time) EXPECT_EQ(file->read().value(), before) << time;
    }
    const auto file = BenchFile::open(path).value();
    ASSERT_TRUE(file->write(before, after));
    for (int time = 0; time < 2; ++time) EXPECT_EQ(file->read().value(), after) << time;
}

struct Spoilt {
    const char* name;
    ErrorCode code;
    void (*spoil)(const std::filesystem::path&);
};

void PrintTo(const Spoilt& spoilt, std::ostream* out) { *out << spoilt.name; }

void patch(const std::filesystem::path& file, std::streamoff at, const std::string& bytes) {
    std::fstream stream(file, std::ios::in | std::ios::out | std::ios::binary);
    stream.seekp(at);
    stream << bytes;
}

class RefusedBench : public testing::TestWithParam<Spoilt> {};

TEST_P(RefusedBench, ClearlyAndUntouched) {
    const TemporaryFolder folder;
    const auto path = makeBench(folder);
    GetParam().spoil(path);
    const std::string before = test::readText(path);
    const auto file = BenchFile::open(path);
    ASSERT_FALSE(file);
    EXPECT_EQ(file.error().code, GetParam().code) << file.error().message();
    EXPECT_NE(file.error().message().find(path.string()), std::string::npos);
    EXPECT_EQ(test::readText(path), before);
}

INSTANTIATE_TEST_SUITE_P(
    Files, RefusedBench,
    testing::Values(
        Spoilt{"foreign", ErrorCode::Foreign,
               [](const std::filesystem::path& p) {
                   test::writeText(p, "Dear diary, today the glue set too soon.\n");
               }},
        Spoilt{"empty", ErrorCode::Foreign, [](const std::filesystem::path& p) { test::writeText(p, ""); }},
        Spoilt{"other_database", ErrorCode::Foreign, [](const std::filesystem::path& p) { patch(p, 68, "ABCD"); }},
        Spoilt{"newer", ErrorCode::Newer,
               [](const std::filesystem::path& p) { patch(p, 60, std::string("\0\0\0\6", 4)); }},
        Spoilt{"cut_off", ErrorCode::Damaged,
               [](const std::filesystem::path& p) { std::filesystem::resize_file(p, 60); }},
        Spoilt{"torn_page", ErrorCode::Damaged,
               [](const std::filesystem::path& p) { patch(p, 4096, std::string(4096, '\xA5')); }},
        Spoilt{"half_missing", ErrorCode::Damaged,
               [](const std::filesystem::path& p) { std::filesystem::resize_file(p, 5000); }},
        Spoilt{"read_only", ErrorCode::ReadOnly, [](const std::filesystem::path& p) { ::chmod(p.c_str(), 0444); }}),
    [](const auto& test) { return test.param.name; });

TEST(BenchFile, AnEarlierVersionIsKeptBesideAndBroughtUpToDate) {
    const TemporaryFolder folder;
    const auto path = folder / "old.fairgauge";
    Bench bench;
    bench.add(test::gluePot());
    writeVersion2(path, bench);
    bench.nextId = 7;
    EXPECT_EQ(BenchFile::look(path).value().bench, bench);
    {
        const auto file = BenchFile::open(path).value();
        EXPECT_EQ(file->read().value(), bench);
        Bench placed = bench;
        placed.board.places[1] = {"A2", "", 1.5};
        ASSERT_TRUE(file->write(bench, placed));
        EXPECT_EQ(file->read().value(), placed);
    }
    const auto kept = folder / "old (version 2).fairgauge";
    ASSERT_TRUE(std::filesystem::exists(kept));
    EXPECT_EQ(test::readText(kept).substr(60, 4), std::string("\0\0\0\2", 4));
    EXPECT_EQ(test::readText(path).substr(60, 4), std::string("\0\0\0\5", 4));
}

TEST(BenchFile, MissingFilesFoldersAndUnreadableGauges) {
    const TemporaryFolder folder;
    EXPECT_EQ(BenchFile::open(folder / "none.fairgauge").error().code, ErrorCode::Missing);
    EXPECT_EQ(BenchFile::open(folder.path()).error().code, ErrorCode::Foreign);
    EXPECT_EQ(BenchFile::create("/no/such/folder/a.fairgauge").error().code, ErrorCode::Io);
}

TEST(BenchFile, IsOpenInOnePlaceOnly) {
    const TemporaryFolder folder;
    const auto path = makeBench(folder);
    auto first = BenchFile::open(path).value();
    EXPECT_EQ(BenchFile::open(path).error().code, ErrorCode::Busy);  // this process
    const pid_t child = ::fork();
    if (child == 0) {
        // Another process: it has no memory of who opened what, only the lock on the file.
        ::execl(FAIRGAUGE_STORAGE_HELPER, FAIRGAUGE_STORAGE_HELPER, "open", path.c_str(), nullptr);
        ::_exit(99);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    EXPECT_EQ(WEXITSTATUS(status), static_cast<int>(ErrorCode::Busy) + 1);
    // The refused attempts have not loosened the first one's hold, and closing it gives the file free.
    EXPECT_EQ(BenchFile::open(path).error().code, ErrorCode::Busy);
    Bench bench = first->read().value();
    EXPECT_TRUE(first->write(bench, bench));
    first.reset();
    EXPECT_TRUE(BenchFile::open(path));
}

// A process writes gauges as fast as it can and tells the number of each after it was stored; it is killed at some
// moment. Whatever it told must be there. Another process that only looks: beside the one that has it open, at a file
// that may not be written, at an earlier version; and the folder is afterwards as it was.
TEST(BenchFile, IsLookedAtWithoutBeingTouched) {
    const TemporaryFolder folder;
    const auto path = makeBench(folder, "50 % #1?.fairgauge");
    const auto names = [&] {
        std::vector<std::string> list;
        for (const auto& entry : std::filesystem::directory_iterator(folder / ""))
            list.push_back(entry.path().filename().string());
        return list;
    };
    const std::string before = test::readText(path);
    EXPECT_EQ(BenchFile::look(path).value().bench.gauges.size(), 1u);
    ASSERT_EQ(::chmod(path.c_str(), 0444), 0);
    EXPECT_EQ(BenchFile::look(path).value().bench.gauges[0].spec, test::gluePot());
    EXPECT_EQ(names().size(), 1u);
    EXPECT_EQ(test::readText(path), before);
    ASSERT_EQ(::chmod(path.c_str(), 0644), 0);
    {
        const auto file = BenchFile::open(path).value();
        EXPECT_EQ(BenchFile::look(path).error().code, ErrorCode::Busy);  // this very process
        Bench changed = file->read().value();
        changed.add(test::directGauge("tmp36", 10, 5));
        ASSERT_TRUE(file->write(file->read().value(), changed));
        const pid_t other = ::fork();
        if (other == 0) {
            // A process of its own has not opened it.
            ::execl(FAIRGAUGE_STORAGE_HELPER, FAIRGAUGE_STORAGE_HELPER, "look", path.c_str(), nullptr);
            ::_exit(127);
        }
        int status = 0;
        ::waitpid(other, &status, 0);
        EXPECT_EQ(WEXITSTATUS(status), 2);  // gauges, the newest change among them
    }
    EXPECT_EQ(BenchFile::look(folder / "none").error().code, ErrorCode::Missing);
    EXPECT_EQ(BenchFile::look(folder / "").error().code, ErrorCode::Foreign);
    test::writeText(folder / "torn.fairgauge", before.substr(0, 5000));
    EXPECT_EQ(BenchFile::look(folder / "torn.fairgauge").error().code, ErrorCode::Damaged);
}

TEST(BenchFile, KillNineLosesNothingThatWasSaved) {
    for (const int delay_ms : {15, 40, 85}) {
        const TemporaryFolder folder;
        const auto path = makeBench(folder);
        int channel[2];
        ASSERT_EQ(::pipe(channel), 0);
        const pid_t child = ::fork();
        if (child == 0) {
            ::dup2(channel[1], STDOUT_FILENO);
            ::execl(FAIRGAUGE_STORAGE_HELPER, FAIRGAUGE_STORAGE_HELPER, "write", path.c_str(), nullptr);
            ::_exit(99);
        }
        ::close(channel[1]);
        char byte = 0;
        ASSERT_EQ(::read(channel[0], &byte, 1), 1);  // it has begun
        ::usleep(static_cast<useconds_t>(delay_ms) * 1000);
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        std::size_t told = 1;
        while (::read(channel[0], &byte, 1) == 1) ++told;
        ::close(channel[0]);
        const auto file = BenchFile::open(path);
        ASSERT_TRUE(file) << file.error().message();
        const Bench bench = (*file)->read().value();
        EXPECT_GE(bench.gauges.size(), told + 1);  // one was there before
        EXPECT_LE(bench.gauges.size(), told + 2);  // at most one stored but not told
        EXPECT_EQ(bench.gauges.back().spec.name, "Gauge " + std::to_string(bench.gauges.size() - 1));
    }
}

// Written and read by the version of 27 November 2026, before every formula was written once (tests/data/kept).
TEST(KeptFiles, OpenAndReadTheSame) {
    const std::filesystem::path folder = std::filesystem::path(FAIRGAUGE_SOURCE) / "tests/data/kept";
    const auto kept = BenchFile::look(folder / "bench-3.fairgauge");
    ASSERT_TRUE(kept) << kept.error().message();
    EXPECT_EQ(kept->bench.gauges.size(), 11u);
    std::istringstream rows(test::readText(folder / "readings.tsv"));
    int compared = 0;
    for (std::string row; std::getline(rows, row);) {
        if (row.empty() || row[0] == '#') continue;
        std::istringstream cells(row);
        std::string file, cell;
        std::vector<double> numbers;
        std::getline(cells, file, '\t');
        while (std::getline(cells, cell, '\t')) numbers.push_back(test::number(cell));
        ASSERT_EQ(numbers.size(), 4u) << row;
        const GaugeSpec spec = readGaugeFile((folder / file).string()).value();
        const auto inBench = std::find_if(kept->bench.gauges.begin(), kept->bench.gauges.end(),
                                          [&](const BenchGauge& gauge) { return gauge.spec.name == spec.name; });
        ASSERT_NE(inBench, kept->bench.gauges.end()) << spec.name;
        for (const GaugeSpec* one : {&spec, &inBench->spec}) {
            const Gauge gauge = Gauge::make(*one, test::catalogue()).value();
            const Interval span = one->spanCanonical();
            const Evaluation evaluation =
                gauge.evaluate({Stage::World, span.low + numbers[0] * (span.high - span.low)}).value();
            const double digit = 1e-12 * span.width();
            EXPECT_NEAR(evaluation.reading(), numbers[1], digit) << row;
            EXPECT_NEAR(evaluation.at(Stage::Sensor).value, numbers[2], 1e-12 * std::abs(numbers[2]) + 1e-15) << row;
            EXPECT_NEAR(gauge.budgetOf(evaluation)->expanded, numbers[3], 1e-9 * numbers[3]) << row;
            ++compared;
        }
    }
    EXPECT_EQ(compared, 66);
}

}  // namespace
}  // namespace fg
