// What lies around the storage engine: one file, damage, files taken away, file systems that cannot do everything, and
// a system call that fails or a process that dies at any moment.

#include "bench/gauge_json.h"
#include "fault_vfs.h"
#include "files/file_ops.h"
#include "files/new_file.h"
#include "files/output_file.h"
#include "storage/bench_file.h"
#include "storage/kept_copies.h"
#include "storage/salvage.h"
#include "storage_support.h"
#include "support.h"

#include <fcntl.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <array>
#include <csignal>
#include <map>
#include <random>
#include <set>

namespace fg {
namespace {

namespace fs = std::filesystem;
using test::TemporaryFolder;
using test::writeVersion2;

Bench threeGauges() {
    Bench bench;
    bench.add(test::gluePot());
    bench.add(test::directGauge("tmp36", 10, 5));
    bench.add(test::directGauge("lm35", 10, 5));
    bench.gauges[1].spec.name = "Second";
    bench.gauges[2].spec.name = "Third";
    bench.board.pin_V = 3.3;
    return bench;
}

/// Every file of a folder with its content.
std::map<std::string, std::string> contentOf(const fs::path& folder) {
    std::map<std::string, std::string> content;
    for (const auto& entry : fs::directory_iterator(folder))
        content[entry.path().filename().string()] = test::readText(entry.path());
    return content;
}

void sql(const fs::path& path, const std::string& text) {
    SQLite::Database database(path.string(), SQLite::OPEN_READWRITE);
    database.exec(text);
}

TEST(OneFile, HasEveryConfirmedChange) {
    const TemporaryFolder folder;
    const auto file = BenchFile::create(folder / "a.fairgauge", threeGauges()).value();
    Bench more = threeGauges();
    more.add(test::directGauge("lm35", 12, 3.3));
    ASSERT_TRUE(file->write(threeGauges(), more));
    // What people see is one file; copied alone, while it is open, it has everything.
    EXPECT_EQ(contentOf(folder / "").size(), 1u);
    fs::copy_file(folder / "a.fairgauge", folder / "b.fairgauge");
    EXPECT_EQ(BenchFile::look(folder / "b.fairgauge")->bench, more);
    fs::create_directory(folder / "links");
    fs::create_symlink(folder / "b.fairgauge", folder / "links/c.fairgauge");
    EXPECT_EQ(BenchFile::look(folder / "links/c.fairgauge")->bench, more);
}

TEST(OneFile, OfADeadProcessIsReadAndNotTouched) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, threeGauges()));
    const pid_t child = ::fork();
    if (child == 0) {
        // Dies in the middle of a change whose pages are in the file already.
        SQLite::Database database(path.string(), SQLite::OPEN_READWRITE);
        database.exec("PRAGMA cache_size = 1; PRAGMA cache_spill = 1; BEGIN IMMEDIATE; DELETE FROM gauge WHERE id > 1");
        for (int i = 0; i < 50; ++i)
            database.exec("INSERT INTO bench VALUES (hex(randomblob(900)), hex(randomblob(900)))");
        ::raise(SIGKILL);
    }
    ::waitpid(child, nullptr, 0);
    ASSERT_TRUE(fs::exists(folder / "a.fairgauge-journal"));
    const auto before = contentOf(folder / "");
    EXPECT_EQ(BenchFile::look(path).value().bench, threeGauges());
    EXPECT_TRUE(BenchFile::check(path)->isSound());
    EXPECT_EQ(contentOf(folder / ""), before);
    EXPECT_EQ(BenchFile::open(path).value()->read().value(), threeGauges());
    EXPECT_EQ(contentOf(folder / "").size(), 1u);
}

TEST(RefusedOpen, LeavesTheFolderAsItWas) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, threeGauges()));
    std::string bytes = test::readText(path);
    bytes.replace(4096, 4096, std::string(4096, '\xA5'));
    test::writeText(path, bytes);
    test::writeText(path.string() + "-wal", "of an earlier version");
    test::writeText(path.string() + "-journal", "left behind");
    const auto before = contentOf(folder / "");
    EXPECT_EQ(BenchFile::open(path).error().code, ErrorCode::Damaged);
    EXPECT_EQ(BenchFile::look(path).error().code, ErrorCode::Damaged);
    EXPECT_EQ(contentOf(folder / ""), before);
}

TEST(WhatCannotBeReadBack, IsNotWritten) {
    const TemporaryFolder folder;
    const auto file = BenchFile::create(folder / "a.fairgauge", threeGauges()).value();
    Bench bad = threeGauges();
    bad.gauges[1].spec.reading.span.high = std::numeric_limits<double>::infinity();
    const auto written = file->write(threeGauges(), bad);
    ASSERT_FALSE(written);
    EXPECT_EQ(written.error().code, ErrorCode::Unsupported);
    EXPECT_NE(written.error().message().find("Second"), std::string::npos);
    bad = threeGauges();
    bad.gauges[0].spec.wiring.parameters.set("capacitor_F", std::vector<Point>{});
    EXPECT_TRUE(!file->write(threeGauges(), bad) || file->read().value() == bad);
    EXPECT_FALSE(BenchFile::create(folder / "b.fairgauge", [] {
        Bench endless = threeGauges();
        endless.gauges[0].spec.reading.wanted = std::numeric_limits<double>::quiet_NaN();
        return endless;
    }()));
    EXPECT_FALSE(fs::exists(folder / "b.fairgauge"));
}

TEST(OneUnreadableGauge, LeavesTheOthersAndKeepsItsText) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, threeGauges()));
    // Written by a program that knows a part this one does not: its sums are right, its text is not readable here.
    {
        SQLite::Database database((folder / "v2.fairgauge").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        database.exec(
            "PRAGMA application_id = 1179075143; PRAGMA user_version = 2;"
            "CREATE TABLE bench (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
            "CREATE TABLE gauge (id INTEGER PRIMARY KEY, position INTEGER NOT NULL, json TEXT NOT NULL);"
            "INSERT INTO bench VALUES ('next_id', '1');"  // too low: 9 is taken
            "INSERT INTO gauge VALUES (9, 0, '{\"fairgauge\": 1, \"name\": null}')");
        SQLite::Statement put(database, "INSERT INTO gauge VALUES (4, 1, ?)");
        put.bind(1, writeGauge(test::gluePot()));
        put.exec();
    }
    const auto file = BenchFile::open(folder / "v2.fairgauge").value();
    ASSERT_EQ(file->unread().size(), 1u);
    EXPECT_EQ(file->unread()[0].id, 9);
    const Bench before = file->read().value();
    ASSERT_EQ(before.gauges.size(), 1u);
    Bench after = before;
    EXPECT_EQ(after.add(test::directGauge("lm35", 10, 5)), 10);  // never over the one that cannot be read
    ASSERT_TRUE(file->write(before, after));
    EXPECT_EQ(file->read().value(), after);
    const auto stored = [&] { return BenchFile::check(folder / "v2.fairgauge"); };
    EXPECT_EQ(stored().error().code, ErrorCode::Busy);
    SQLite::Database raw((folder / "v2.fairgauge").string(), SQLite::OPEN_READONLY);
    EXPECT_EQ(raw.execAndGet("SELECT json FROM gauge WHERE id = 9").getString(), "{\"fairgauge\": 1, \"name\": null}");
    // A gauge whose text was changed by something else is told apart, the others open.
    sql(path, "UPDATE gauge SET json = replace(json, '0.01', '0.02') WHERE id = 1");
    const auto changed = BenchFile::look(path);
    ASSERT_TRUE(changed) << changed.error().message();
    EXPECT_EQ(changed->unread.size(), 1u);
    EXPECT_EQ(changed->bench.gauges.size(), 2u);
    sql(path, "DELETE FROM gauge WHERE id = 2");
    EXPECT_EQ(BenchFile::look(path).error().code, ErrorCode::Damaged);
}

// One flipped bit anywhere: refused, or told apart, or it changes nothing. Never other values.
TEST(FlippedBits, NeverGiveOtherValues) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge", flipped = folder / "b.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, threeGauges()));
    const std::string good = test::readText(path);
    std::mt19937 random(20261127);
    int refused = 0, apart = 0;
    for (int i = 0; i < 1500; ++i) {
        std::string bytes = good;
        const std::size_t at = random() % bytes.size();
        bytes[at] = static_cast<char>(bytes[at] ^ (1 << (random() % 8)));
        test::writeText(flipped, bytes);
        const auto read = BenchFile::look(flipped);
        if (!read) {
            ++refused;
            continue;
        }
        Bench expected = threeGauges();
        for (const UnreadGauge& gauge : read->unread) expected.remove(gauge.id);
        apart += read->unread.empty() ? 0 : 1;
        ASSERT_EQ(read->bench, expected) << "byte " << at;
    }
    EXPECT_GT(refused, 20);
    EXPECT_GT(apart, 20);
}

TEST(Salvage, TakesWhatIsLeft) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, threeGauges()));
    const std::string good = test::readText(path);
    const auto names = [&](const std::string& bytes) {
        test::writeText(path, bytes);
        const auto found = salvage(path);
        std::set<std::string> list;
        if (found)
            for (const BenchGauge& gauge : found->bench.gauges) list.insert(gauge.spec.name);
        EXPECT_EQ(test::readText(path), bytes);
        return list;
    };
    const std::set<std::string> all{threeGauges().gauges[0].spec.name, "Second", "Third"};
    EXPECT_EQ(names(good), all);
    std::string noHeader = good;
    noHeader.replace(0, 4096, std::string(4096, '\0'));
    EXPECT_EQ(names(noHeader), all);  // found in the bytes
    std::string hurt = good;
    hurt.replace(hurt.find("\"Second\""), 8, "\"Sec\x01nd\"");
    EXPECT_GE(names(hurt).size(), 2u);
    EXPECT_TRUE(names("nothing of ours").empty());
}

TEST(OpenBench, NoticesThatItsFileWasTakenAway) {
    const TemporaryFolder folder;
    const auto path = folder / "a.fairgauge";
    Bench after = threeGauges();
    after.remove(1);
    for (const bool isReplaced : {false, true}) {
        fs::remove(path);
        const auto file = BenchFile::create(path, threeGauges()).value();
        fs::rename(path, folder / "moved.fairgauge");
        if (isReplaced) test::writeText(path, "another");
        EXPECT_EQ(file->write(threeGauges(), after).error().code, ErrorCode::Missing);
        if (isReplaced) {
            EXPECT_EQ(test::readText(path), "another");
        }
    }
}

/// Replaces system calls for the life of a test.
struct Replaced {
    ~Replaced() { fileOps() = systemFileOps(); }
};

int unsupported() {
    errno = EOPNOTSUPP;
    return -1;
}

// A FAT stick or a network share: no nameless files, no links, no rename that refuses, no locks.
TEST(PoorFileSystem, WorksOrSaysWhatIsNotThere) {
    const Replaced undo;
    fileOps().open = [](const char* path, int flags, mode_t mode) {
        return (flags & O_TMPFILE) == O_TMPFILE ? unsupported() : ::open(path, flags, mode);
    };
    fileOps().link = [](const char*, const char*) { return unsupported(); };
    fileOps().renameToFree = [](const char*, const char*) { return unsupported(); };
    fileOps().flock = [](int, int) { return unsupported(); };
    const TemporaryFolder folder;
    const auto file = BenchFile::create(folder / "a.fairgauge", threeGauges());
    ASSERT_TRUE(file) << file.error().message();
    EXPECT_FALSE((*file)->isLocked());
    ASSERT_TRUE((*file)->saveCopy(folder / "b.fairgauge"));
    EXPECT_EQ((*file)->saveCopy(folder / "b.fairgauge").error().code, ErrorCode::Range);
    EXPECT_EQ(BenchFile::create(folder / "b.fairgauge").error().code, ErrorCode::Range);
    EXPECT_EQ(BenchFile::look(folder / "b.fairgauge")->bench, threeGauges());
    EXPECT_EQ(contentOf(folder / "").size(), 2u);
    EXPECT_EQ(BenchFile::create(folder / (std::string(240, 'x') + ".fairgauge")).error().code, ErrorCode::Range);
}

// Which call of our own is failed, and how many there were.
int failAt = -1, calls = 0;
bool isDue(int error = EIO) {
    if (calls++ != failAt) return false;
    errno = error;
    return true;
}

void failEachInTurn() {
    FileOps& ops = fileOps();
    ops.open = [](const char* p, int f, mode_t m) { return isDue(EMFILE) ? -1 : ::open(p, f, m); };
    ops.write = [](int d, const void* b, std::size_t n) -> ssize_t {
        if (isDue(ENOSPC)) return -1;
        return ::write(d, b, n > 700 ? n / 2 : n);  // short writes are a normal day
    };
    ops.fsync = [](int d) { return isDue() ? -1 : ::fsync(d); };
    ops.linkDescriptor = [](int d, const char* p) { return isDue() ? -1 : systemFileOps().linkDescriptor(d, p); };
    ops.link = [](const char* a, const char* b) { return isDue() ? -1 : ::link(a, b); };
    ops.rename = [](const char* a, const char* b) { return isDue() ? -1 : ::rename(a, b); };
}

TEST(FailingCalls, LeaveNoHalfFileAndLoseNothing) {
    const Replaced undo;
    const TemporaryFolder folder;
    failAt = -1;
    const auto source = BenchFile::create(folder / "source.fairgauge", threeGauges()).value();
    int failed = 0;
    for (const bool nameless : {true, false}) {
        for (failAt = 0;; ++failAt) {
            failEachInTurn();
            if (!nameless)
                fileOps().open = [](const char* p, int f, mode_t m) {
                    if ((f & O_TMPFILE) == O_TMPFILE) return unsupported();
                    return isDue(EMFILE) ? -1 : ::open(p, f, m);
                };
            calls = 0;
            const auto created = BenchFile::create(folder / "a.fairgauge", threeGauges());
            const bool copied = source->saveCopy(folder / "copy.fairgauge").has_value();
            fileOps() = systemFileOps();
            for (const auto& [name, content] : contentOf(folder / "")) {
                EXPECT_FALSE(name.ends_with(".part")) << name << " at call " << failAt;
                if (name == "source.fairgauge") continue;
                if (!created || name != "a.fairgauge") {
                    EXPECT_EQ(BenchFile::look(folder / name)->bench, threeGauges()) << name << " at call " << failAt;
                }
            }
            if (created) {
                EXPECT_EQ((*created)->read().value(), threeGauges());
            }
            failed += created && copied ? 0 : 1;
            const bool wasReached = calls > failAt;
            fs::remove(folder / "copy.fairgauge");
            fs::remove(folder / "a.fairgauge");
            if (!wasReached) break;
        }
    }
    EXPECT_GT(failed, 8);
    // An output: the earlier content stays, or the new one is whole.
    for (failAt = 0;; ++failAt) {
        test::writeText(folder / "out.csv", "before\n");
        failEachInTurn();
        calls = 0;
        const auto output = OutputFile::open(folder / "out.csv");
        if (output) (*output)->write(std::string(5000, 'x'));
        const bool done = output && (*output)->commit();
        fileOps() = systemFileOps();
        const std::string content = test::readText(folder / "out.csv");
        EXPECT_TRUE(content == "before\n" || content == std::string(5000, 'x')) << failAt;
        if (done) {
            EXPECT_EQ(content, std::string(5000, 'x'));
        }
        if (calls <= failAt) break;
    }
}

// The same calls, and the process dies at each in turn: what has a name is whole, and nothing left behind is in the
// way.
TEST(DyingAtACall, LeavesNothingInTheWay) {
    for (const bool nameless : {true, false}) {
        int reached = 0;
        for (int at = 0; at <= reached; ++at) {
            const TemporaryFolder folder;
            const pid_t child = ::fork();
            if (child == 0) {
                failAt = at;
                calls = 0;
                failEachInTurn();
                FileOps& ops = fileOps();
                ops.write = [](int d, const void* b, std::size_t n) -> ssize_t {
                    if (calls++ == failAt) (void)!::write(d, b, n / 2), ::_exit(77);
                    return ::write(d, b, n);
                };
                ops.fsync = [](int d) { return calls++ == failAt ? (::_exit(77), -1) : ::fsync(d); };
                ops.rename = [](const char* a, const char* b) {
                    return calls++ == failAt ? (::_exit(77), -1) : ::rename(a, b);
                };
                ops.link = [](const char* a, const char* b) {
                    return calls++ == failAt ? (::_exit(77), -1) : ::link(a, b);
                };
                ops.linkDescriptor = [](int d, const char* p) {
                    return calls++ == failAt ? (::_exit(77), -1) : systemFileOps().linkDescriptor(d, p);
                };
                ops.open = nameless ? [](const char* p, int f, mode_t m) { return ::open(p, f, m); }
                                    : [](const char* p, int f, mode_t m) {
                                          return (f & O_TMPFILE) == O_TMPFILE ? unsupported() : ::open(p, f, m);
                                      };
                const auto file = BenchFile::create(folder / "a.fairgauge", threeGauges());
                if (file) (void)(*file)->saveCopy(folder / "b.fairgauge");
                ::_exit(0);
            }
            int status = 0;
            ::waitpid(child, &status, 0);
            ASSERT_TRUE(WIFEXITED(status));
            for (const char* name : {"a.fairgauge", "b.fairgauge"}) {
                if (!fs::exists(folder / name)) continue;
                EXPECT_EQ(BenchFile::look(folder / name)->bench, threeGauges()) << name << " at call " << at;
                fs::remove(folder / name);
            }
            const auto again = BenchFile::create(folder / "a.fairgauge", threeGauges());
            ASSERT_TRUE(again) << again.error().message();
            EXPECT_TRUE((*again)->saveCopy(folder / "b.fairgauge"));
            if (WEXITSTATUS(status) == 77) reached = at + 1;
        }
        EXPECT_GT(reached, 3);
    }
}

/// Opens, changes three times and copies; a byte on `told` for every change that was confirmed.
void useBench(const fs::path& folder, int told) {
    const auto file = BenchFile::open(folder / "a.fairgauge");
    if (!file) return;
    Bench now = (*file)->read().value();
    for (int i = 0; i < 3; ++i) {
        Bench after = now;
        after.add(test::directGauge("lm35", 10, 5));
        after.gauges[0].spec.name = "Step " + std::to_string(i);
        if (!(*file)->write(now, after)) continue;
        if (::write(told, ".", 1) != 1) ::_exit(79);
        now = after;
    }
    (void)(*file)->saveCopy(folder / "copy.fairgauge");
}

class EveryOperation : public testing::TestWithParam<test::FaultVfs::Mode> {};

// The process dies at each operation in turn, half way through a write; the power goes there, and what was not
// synchronised never was; the operation fails. Each time the bench opens with everything that was confirmed.
TEST_P(EveryOperation, LosesNothingConfirmed) {
    for (const bool isOld : {false, true}) {
        int operations = 0;
        for (int at = 0; at <= operations; ++at) {
            const TemporaryFolder folder;
            const fs::path path = folder / "a.fairgauge";
            if (isOld)
                writeVersion2(path, threeGauges());
            else
                ASSERT_TRUE(BenchFile::create(path, threeGauges()));
            std::array<int, 2> channel{};
            ASSERT_EQ(::pipe(channel.data()), 0);
            const pid_t child = ::fork();
            if (child == 0) {
                test::FaultVfs::install(GetParam(), at);
                useBench(folder / "", channel[1]);
                const int count = test::FaultVfs::operations();
                ::_exit(count > at ? 0 : 1);
            }
            ::close(channel[1]);
            int status = 0;
            ::waitpid(child, &status, 0);
            std::size_t confirmed = 0;
            for (char byte = 0; ::read(channel[0], &byte, 1) == 1;) ++confirmed;
            ::close(channel[0]);
            ASSERT_TRUE(WIFEXITED(status)) << at;
            const auto file = BenchFile::open(path);
            ASSERT_TRUE(file) << "operation " << at << ": " << file.error().message();
            const Bench bench = (*file)->read().value();
            EXPECT_TRUE((*file)->unread().empty());
            EXPECT_GE(bench.gauges.size(), 3 + confirmed) << at;
            EXPECT_LE(bench.gauges.size(), 3 + confirmed + 1) << at;  // at most one stored but not told
            // Whatever was left behind is in nobody's way.
            fs::remove(folder / "copy.fairgauge");
            EXPECT_TRUE((*file)->saveCopy(folder / "copy.fairgauge")) << at;
            if (WEXITSTATUS(status) != 1) operations = at + 1;  // there was such an operation: try the next one
        }
        EXPECT_GT(operations, 30) << isOld;
    }
}

INSTANTIATE_TEST_SUITE_P(Faults, EveryOperation,
                         testing::Values(test::FaultVfs::Mode::Fail, test::FaultVfs::Mode::Kill,
                                         test::FaultVfs::Mode::PowerCut, test::FaultVfs::Mode::Delay),
                         [](const auto& one) {
                             return std::string(one.param == test::FaultVfs::Mode::Fail    ? "fails"
                                                : one.param == test::FaultVfs::Mode::Kill  ? "kills"
                                                : one.param == test::FaultVfs::Mode::Delay ? "delays"
                                                                                           : "cuts_the_power");
                         });

TEST(OutputFile, ReplacesOnlyOrdinaryFilesAndKeepsWhatTheyWere) {
    const TemporaryFolder folder;
    const auto store = [](const fs::path& path, const std::string& text) {
        const auto output = OutputFile::open(path).value();
        output->write(text);
        return output->commit();
    };
    test::writeText(folder / "real.csv", "old");
    ASSERT_EQ(::chmod((folder / "real.csv").c_str(), 0640), 0);
    fs::create_symlink("real.csv", folder / "link.csv");
    ASSERT_TRUE(store(folder / "link.csv", "new"));
    fs::create_symlink("later.csv", folder / "early.csv");
    ASSERT_TRUE(store(folder / "early.csv", "new"));
    EXPECT_TRUE(fs::is_symlink(folder / "early.csv"));
    EXPECT_EQ(test::readText(folder / "later.csv"), "new");
    EXPECT_TRUE(fs::is_symlink(folder / "link.csv"));
    EXPECT_EQ(test::readText(folder / "real.csv"), "new");
    EXPECT_EQ(fs::status(folder / "real.csv").permissions(), fs::perms(0640));
    ASSERT_TRUE(store("/dev/null", "gone"));
    EXPECT_TRUE(fs::is_character_file("/dev/null"));
    EXPECT_EQ(store("/dev/full", "no room").error().code, ErrorCode::Io);
    ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
    EXPECT_FALSE(OutputFile::open(folder / ""));
    {
        const auto dropped = OutputFile::open(folder / "real.csv").value();
        dropped->write("half");
        OutputFile::removeUnfinished();  // as an interrupt does
    }
    EXPECT_EQ(test::readText(folder / "real.csv"), "new");
    int files = 0;
    for ([[maybe_unused]] const auto& entry : fs::directory_iterator(folder / "")) ++files;
    EXPECT_EQ(files, 5);
}

// An interrupt in the very moment after the file is made, before the program has gone on.
TEST(OutputFile, IsRemovedByAnInterruptFromItsFirstMoment) {
    const TemporaryFolder folder;
    const auto files = [&] { return std::distance(fs::directory_iterator(folder / ""), {}); };
    test::writeText(folder / "real.csv", "old");
    fileOps().open = [](const char* path, int flags, mode_t mode) {
        const int descriptor = systemFileOps().open(path, flags, mode);
        OutputFile::removeUnfinished();
        return descriptor;
    };
    const auto output = OutputFile::open(folder / "real.csv");
    fileOps() = systemFileOps();
    ASSERT_TRUE(output);
    EXPECT_EQ(files(), 1);
    EXPECT_FALSE((*output)->commit());
    EXPECT_EQ(test::readText(folder / "real.csv"), "old");
    EXPECT_EQ(files(), 1);
}

TEST(KeptCopies, AreThreeAndTheNewestIsFirst) {
    const TemporaryFolder folder;
    Bench bench;
    for (int i = 0; i < 5; ++i) {
        bench.add(test::directGauge("lm35", 10, 5));
        ASSERT_TRUE(keepCopy(bench, folder / "bench.fairgauge", folder / "kept"));
        ASSERT_TRUE(keepCopy(bench, folder / "bench.fairgauge", folder / "kept"));  // the same is kept once
    }
    const auto copies = keptCopies(folder / "bench.fairgauge", folder / "kept");
    ASSERT_EQ(copies.size(), 3u);
    for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(BenchFile::look(copies[i])->bench.gauges.size(), 5 - i);
    EXPECT_TRUE(keptCopies(folder / "other.fairgauge", folder / "kept").empty());
}

}  // namespace
}  // namespace fg
