// Recording from the command line as a person does it: the simulated bench, a board on a serial port, kernel files, a
// recording played again; into a bench, out as CSV, in again.

#include "derived/law.h"
#include "process.h"
#include "recording/track_reader.h"
#include "storage/bench_file.h"
#include "support.h"

#include <csignal>
#include <thread>

namespace fg {
namespace {

using test::run;
using test::TemporaryFolder;

std::string demo(const std::string& name) { return (test::dataFolder() / "demo" / name).string(); }

/// A program running in the background, its standard output in a pipe.
struct Running {
    pid_t child = -1;
    int out = -1;
    Running(const std::string& program, std::vector<std::string> arguments) {
        std::array<int, 2> pipe{};
        if (::pipe(pipe.data())) return;
        child = ::fork();
        if (child == 0) {
            ::dup2(pipe[1], 1);
            ::close(pipe[0]);
            ::close(pipe[1]);
            std::vector<char*> argv{const_cast<char*>(program.c_str())};
            for (std::string& argument : arguments) argv.push_back(argument.data());
            argv.push_back(nullptr);
            ::execv(program.c_str(), argv.data());
            ::_exit(127);
        }
        ::close(pipe[1]);
        out = pipe[0];
    }
    ~Running() {
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        ::close(out);
    }
    std::string line() const {
        std::string text;
        for (char c = 0; ::read(out, &c, 1) == 1 && c != '\n';) text += c;
        return text;
    }
    /// Ends it, and how it ended.
    int stop(int signal) {
        ::kill(child, signal);
        int status = 0;
        ::waitpid(child, &status, 0);
        child = ::fork();  // something to reap
        if (child == 0) ::_exit(0);
        return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    }
};

std::vector<std::string> rowsOf(const std::string& csv) {
    std::vector<std::string> rows;
    std::istringstream lines(csv);
    for (std::string line; std::getline(lines, line);)
        if (!line.starts_with('#')) rows.push_back(line);
    return rows;
}

TEST(FgaugeLog, ASimulatedBenchGoesIntoAFileAndOutAndInAgain) {
    const TemporaryFolder folder;
    const std::string bench = folder / "a.fairgauge", other = folder / "b.fairgauge";
    Bench content;
    content.add(test::gluePot());
    content.add(readGaugeFile(demo("wood-store.json")).value());
    ASSERT_TRUE(BenchFile::create(bench, content));
    ASSERT_TRUE(BenchFile::create(other, content));
    const auto logged = run(FAIRGAUGE_FGAUGE, {"log", "--source", "sim", "--into", bench, "--for", "1.1 s", "--name",
                                               "A short <b>day</b>"});
    ASSERT_EQ(logged.exitCode, 0) << logged.err;
    EXPECT_NE(logged.err.find("samples of 2 gauges"), std::string::npos) << logged.err;
    const auto list = run(FAIRGAUGE_FGAUGE, {"export", bench, "--list"});
    EXPECT_NE(list.out.find("A short <b>day</b>"), std::string::npos) << list.out;

    const auto exported = run(FAIRGAUGE_FGAUGE, {"export", bench});
    ASSERT_EQ(exported.exitCode, 0) << exported.err;
    const auto rows = rowsOf(exported.out);
    ASSERT_GE(rows.size(), 5u);
    EXPECT_EQ(rows[0], "time,Glue pot raw,Glue pot °C,Glue pot limit,Wood store raw,Wood store %RH,Wood store limit");
    // The reading beside its code is what convert says of that code.
    const std::string code = rows[1].substr(rows[1].find(',') + 1, 4);
    const auto converted =
        run(FAIRGAUGE_FGAUGE, {"convert", "--gauge", demo("glue-pot.json"), "--raw", code, "--json"});
    const std::string reading = rows[1].substr(rows[1].find(code + ",") + 5, 8);
    EXPECT_NE(converted.out.find("\"value\": " + reading), std::string::npos) << reading << converted.out;

    // Into another bench, and out of it: the same rows.
    { std::ofstream(folder / "a.csv") << exported.out; }
    const auto imported = run(FAIRGAUGE_FGAUGE, {"import", folder / "a.csv", "--into", other});
    ASSERT_EQ(imported.exitCode, 0) << imported.err;
    EXPECT_EQ(rowsOf(run(FAIRGAUGE_FGAUGE, {"export", other}).out), rows);
    // Played again at 50 times the speed, with the times it had.
    const auto played =
        run(FAIRGAUGE_FGAUGE, {"log", "--source", "replay:" + (folder / "a.csv").string() + "@50", "--bench", bench});
    ASSERT_EQ(played.exitCode, 0) << played.err;
    EXPECT_EQ(rowsOf(played.out), rows);
}

// The wood in the store's air, from two readings of one device, line by line; the same through a bench file.
TEST(FgaugeLog, DerivedGaugesAreReadAndRecordedWithTheOthers) {
    const std::vector<std::string> gauges{"wood-moisture.json", "wood-store.json", "store-warmth.json"};
    std::vector<std::string> words{"log", "--source", "sim", "--for", "1.1 s"};
    const TemporaryFolder folder;
    const std::string bench = folder / "a.fairgauge";
    Bench content;
    for (const std::string& gauge : gauges) {
        words.insert(words.end(), {"--gauge", demo(gauge)});
        content.add(readGaugeFile(demo(gauge)).value());
    }
    const auto check = [](const std::vector<std::string>& rows) {
        ASSERT_GE(rows.size(), 4u);
        EXPECT_TRUE(rows[0].starts_with("time,Wood moisture raw,Wood moisture %,")) << rows[0];
        for (std::size_t i = 1; i < rows.size(); ++i) {
            std::vector<std::string> fields;
            std::istringstream line(rows[i]);
            for (std::string one; std::getline(line, one, ',');) fields.push_back(one);
            ASSERT_GE(fields.size(), 9u) << rows[i];
            const double inputs[] = {test::number(fields[8]), test::number(fields[5])};
            EXPECT_NEAR(test::number(fields[2]), findLaw("wood-moisture")->value(inputs), 0.01) << rows[i];
        }
    };
    const auto logged = run(FAIRGAUGE_FGAUGE, words);
    ASSERT_EQ(logged.exitCode, 0) << logged.err;
    check(rowsOf(logged.out));
    ASSERT_TRUE(BenchFile::create(bench, content));
    ASSERT_EQ(run(FAIRGAUGE_FGAUGE, {"log", "--source", "sim", "--into", bench, "--for", "1.1 s"}).exitCode, 0);
    const auto exported = run(FAIRGAUGE_FGAUGE, {"export", bench});
    check(rowsOf(exported.out));
    // Such a gauge has no raw value and no table, and says so.
    for (const std::vector<std::string>& asked :
         {std::vector<std::string>{"convert", "--gauge", demo(gauges[0]), "--raw", "512"},
          {"table", "--gauge", demo(gauges[0])}}) {
        const auto refused = run(FAIRGAUGE_FGAUGE, asked);
        EXPECT_NE(refused.exitCode, 0) << asked[0];
        EXPECT_FALSE(refused.err.empty());
    }
}

/// Two boards at once: the second's channels have its number before them; a source whose clock runs otherwise is
/// refused.
TEST(FgaugeLog, SeveralSourcesFillColumnsSideBySide) {
    const TemporaryFolder folder;
    GaugeSpec second = readGaugeFile(demo("glue-pot.json")).value();
    second.name = "Second pot";
    second.channel = "2:pot";
    test::writeText(folder / "second.json", writeGauge(second));
    const auto logged = run(FAIRGAUGE_FGAUGE, {"log", "--source", "sim", "--source", "sim", "--for", "1.1 s", "--gauge",
                                               demo("glue-pot.json"), "--gauge", (folder / "second.json").string()});
    ASSERT_EQ(logged.exitCode, 0) << logged.err;
    const auto rows = rowsOf(logged.out);
    ASSERT_GE(rows.size(), 4u);
    int first = 0, other = 0;
    for (std::size_t i = 1; i < rows.size(); ++i) {
        std::vector<std::string> fields;
        std::istringstream line(rows[i]);
        for (std::string one; std::getline(line, one, ',');) fields.push_back(one);
        first += fields.size() > 2 && !fields[2].empty();
        other += fields.size() > 5 && !fields[5].empty();
    }
    EXPECT_GE(first, 2) << logged.out;
    EXPECT_GE(other, 2) << logged.out;
    test::writeText(folder / "a.csv", logged.out);
    const auto refused =
        run(FAIRGAUGE_FGAUGE, {"log", "--source", "sim", "--source", "replay:" + (folder / "a.csv").string() + "@50",
                               "--gauge", demo("glue-pot.json")});
    EXPECT_EQ(refused.exitCode, 2);
    EXPECT_NE(refused.err.find("clocks run alike"), std::string::npos) << refused.err;
}

TEST(FgaugeLog, ABoardOnASerialPortUntilItIsInterrupted) {
    const TemporaryFolder folder;
    const std::string port = folder / "board";
    const Running board(FAIRGAUGE_SIM, {"--link", port, "--rate", "50"});
    board.line();  // it says where it is, and makes the link after that
    for (int i = 0; i < 500 && !std::filesystem::exists(port); ++i)
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    Running log(FAIRGAUGE_FGAUGE, {"log", "--source", "serial:" + port, "--gauge", demo("glue-pot.json"), "--gauge",
                                   demo("soaking-tray.json")});
    std::string line;
    for (int i = 0; i < 20; ++i) line = log.line();  // line by line, not when a buffer is full
    EXPECT_TRUE(line.starts_with("20")) << line;
    EXPECT_EQ(log.stop(SIGINT), 0);
}

TEST(FgaugeLog, AnInterruptedRecordingIsEndedInOrder) {
    const TemporaryFolder folder;
    const std::string bench = folder / "a.fairgauge";
    Bench content;
    content.add(test::gluePot());
    ASSERT_TRUE(BenchFile::create(bench, content));
    Running log(FAIRGAUGE_FGAUGE, {"log", "--source", "sim", "--into", bench});
    // It is only looked at meanwhile; a second recorder is refused.
    std::size_t rows = 0;
    for (int i = 0; i < 100 && rows < 6; ++i) {
        std::this_thread::sleep_for(std::chrono::milliseconds(200));
        rows = rowsOf(run(FAIRGAUGE_FGAUGE, {"export", bench}).out).size();
    }
    EXPECT_GE(rows, 6u);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"log", "--into", bench, "--for", "1s"}).exitCode, 2);
    EXPECT_EQ(log.stop(SIGTERM), 0);
    const auto file = BenchFile::open(bench).value();
    const auto recording = file->recordings().recordings()->at(0);
    EXPECT_TRUE(recording.ended_us);
    EXPECT_GE(recording.tracks[0].count, 5u);
}

TEST(FgaugeLog, ReadsFilesOfTheKernel) {
    const TemporaryFolder folder;
    // The shipped stand-in: a 1-wire thermometer, a converter, a chip's own temperature.
    GaugeSpec probe = readGaugeFile(demo("soaking-tray.json")).value();
    probe.name = "Probe";
    probe.channel = "w1_28-00000b3f21c4";
    GaugeSpec pot = test::gluePot();
    pot.channel = "in_voltage0";
    { std::ofstream(folder / "probe.json") << writeGauge(probe); }
    { std::ofstream(folder / "pot.json") << writeGauge(pot); }
    const auto logged = run(FAIRGAUGE_FGAUGE, {"log", "--source", "sysfs:" + demo("kernel"), "--gauge",
                                               folder / "probe.json", "--gauge", folder / "pot.json", "--for", "0.3s"});
    ASSERT_EQ(logged.exitCode, 0) << logged.err;
    const auto rows = rowsOf(logged.out);
    ASSERT_EQ(rows.size(), 2u) << logged.out;
    // 0x0191/16 = 25.0625 °C (DS18B20 data sheet, table 1).
    EXPECT_NE(rows[1].find("91 01 4B 46 7F FF 0F 10 25,25.0625,"), std::string::npos) << rows[1];
    EXPECT_NE(rows[1].find(",2143,"), std::string::npos) << rows[1];
}

TEST(FgaugeLog, SaysWhatIsWrong) {
    const TemporaryFolder folder;
    const std::string pot = demo("glue-pot.json");
    const auto err = [&](std::vector<std::string> arguments, int code = 2) {
        arguments.insert(arguments.begin(), "log");
        const auto finished = run(FAIRGAUGE_FGAUGE, arguments);
        EXPECT_EQ(finished.exitCode, code) << finished.err;
        return finished.err;
    };
    EXPECT_NE(err({"--source", "sim"}).find("no gauges"), std::string::npos);
    EXPECT_NE(err({"--source", "tape:x", "--gauge", pot}).find("serial:PATH"), std::string::npos);
    EXPECT_NE(err({"--source", "sim@0", "--gauge", pot}).find("speed"), std::string::npos);
    EXPECT_NE(err({"--source", "serial:/dev/null", "--gauge", pot}).find("no serial port"), std::string::npos);
    EXPECT_NE(err({"--source", "serial:/dev/null@123", "--gauge", pot}).find("baud"), std::string::npos);
    EXPECT_NE(err({"--source", "sysfs:" + folder.path().string(), "--gauge", pot}).find("w1_slave"), std::string::npos);
    EXPECT_NE(err({"--gauge", pot, "--for", "-3 s"}).find("--for"), std::string::npos);
    { std::ofstream(folder / "kept.csv") << "mine"; }
    EXPECT_NE(err({"--gauge", pot, "--for", "1s", "--out", folder / "kept.csv"}).find("kept.csv"), std::string::npos);
    EXPECT_EQ(test::readText(folder / "kept.csv"), "mine");
    { std::ofstream(folder / "empty.csv") << "time,pot\n"; }
    EXPECT_NE(err({"--source", "replay:" + (folder / "empty.csv").string(), "--gauge", pot}, 1).find("nothing came"),
              std::string::npos);
}

TEST(FgaugeImport, TakesForeignColumnsAndTellsWhatItDidNot) {
    const TemporaryFolder folder;
    const std::string bench = folder / "a.fairgauge";
    Bench content;
    content.add(test::gluePot());
    ASSERT_TRUE(BenchFile::create(bench, content));
    { std::ofstream(folder / "old.csv") << "when;a0\n0;2155\n0,5;x\n1,5;2160\nlater;2161\n"; }
    const std::string old = folder / "old.csv";
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"import", old, "--into", bench}).exitCode, 2);
    const auto imported = run(FAIRGAUGE_FGAUGE, {"import", old, "--into", bench, "--column", "a0=Glue pot", "--start",
                                                 "2026-11-25T09:00:00Z"});
    EXPECT_EQ(imported.exitCode, 1) << imported.err;
    EXPECT_NE(imported.err.find("2 values not taken; the first is line 3: “x”"), std::string::npos) << imported.err;
    const auto rows = rowsOf(run(FAIRGAUGE_FGAUGE, {"export", bench}).out);
    ASSERT_EQ(rows.size(), 3u);
    EXPECT_TRUE(rows[2].starts_with("2026-11-25T09:00:01.500Z,2160,")) << rows[2];
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"import", old, "--into", bench, "--column", "a0=Nobody"}).exitCode, 2);
}

// The demo's day: a pot that a two-point controller holds between 57 and 62 °C goes above 61.5 °C with each stroke.
TEST(FgaugeAlarm, ReplaysARuleOverARecording) {
    const TemporaryFolder folder;
    const std::string bench = folder / "a.fairgauge";
    Bench content;
    content.add(test::gluePot());
    ASSERT_TRUE(BenchFile::create(bench, content));
    const auto none = run(FAIRGAUGE_FGAUGE, {"alarm", bench, "--gauge", "Glue pot", "--high", "61.5 °C"});
    EXPECT_EQ(none.exitCode, 2);
    ASSERT_EQ(
        run(FAIRGAUGE_FGAUGE, {"import", demo("day.csv"), "--into", bench, "--column", "pot raw=Glue pot"}).exitCode,
        0);
    const auto alarm = run(FAIRGAUGE_FGAUGE, {"alarm", bench, "--gauge", "Glue pot", "--high", "61.5 °C", "--dead-band",
                                              "0.5 °C", "--every", "20 s"});
    EXPECT_EQ(alarm.exitCode, 0) << alarm.err;
    EXPECT_NE(alarm.out.find("suggested dead band"), std::string::npos) << alarm.out;
    EXPECT_NE(alarm.out.find("It only warns"), std::string::npos);
    for (const std::vector<std::string>& wrong : {std::vector<std::string>{"--gauge", "Glue pot"},
                                                  {"--gauge", "Nobody", "--high", "60"},
                                                  {"--gauge", "Glue pot", "--high", "60 Pa"},
                                                  {"--gauge", "Glue pot", "--high", "60", "--low", "61"},
                                                  {"--gauge", "Glue pot", "--high", "60", "--dead-band", "-1"}}) {
        std::vector<std::string> arguments{"alarm", bench};
        arguments.insert(arguments.end(), wrong.begin(), wrong.end());
        EXPECT_EQ(run(FAIRGAUGE_FGAUGE, arguments).exitCode, 2) << wrong.back();
    }
}

}  // namespace
}  // namespace fg
