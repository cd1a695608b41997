// What comes from outside into the command line: escape sequences in names, files of a user's catalogue, damaged
// benches, interrupts.

#include "bench/gauge_json.h"
#include "process.h"
#include "storage/bench_file.h"
#include "support.h"

#include <signal.h>
#include <sys/stat.h>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;
using test::Finished;
using test::TemporaryFolder;

Finished fgauge(const std::vector<std::string>& arguments, const std::string& input = "") {
    return test::run(FAIRGAUGE_FGAUGE, arguments, input);
}

TEST(EscapeSequences, DoNotReachTheTerminal) {
    const TemporaryFolder folder;
    const std::string nasty =
        "\x1b]0;owned\x07\x1b[31mred\xC2\x9B"
        "2J";
    GaugeSpec spec = test::gluePot();
    spec.name = nasty;
    spec.channel = nasty;
    spec.note = nasty;
    Bench bench;
    bench.add(spec);
    bench.board.rails = {{nasty, 5, 0.0001, 0}};
    const std::string file = (folder / ("b" + nasty + ".fairgauge")).string(), pot = (folder / "pot.json").string();
    ASSERT_TRUE(BenchFile::create(file, bench));
    test::writeText(pot, writeGauge(spec));
    test::writeText(folder / "rows.csv", nasty + "\n817\n");
    for (const std::vector<std::string>& arguments : std::vector<std::vector<std::string>>{
             {"convert", "--gauge", pot, "--raw", "817"},
             {"convert", "--gauge", pot, "--raw", "817", "--json"},
             {"convert", "--gauge", pot, "--raw", nasty},
             {"convert", "--gauge", pot, "--in", (folder / "rows.csv").string(), "--column", nasty, "--out",
              "/dev/null"},
             {"check", "--gauge", pot},
             {"budget", "--gauge", pot, "--value", "61 °C"},
             {"table", "--gauge", pot},
             {"size", "sensor-divider", "--gauge", pot},
             {"plan", "--bench", file},
             {"plan", "--bench", file, "--json"},
             {"bus", "addresses", "--bench", file},
             {"bench", "check", file},
             {"bench", "check", file + nasty},
             {"bench", "salvage", file, "--into", (folder / "new.fairgauge").string()},
             {"part", nasty},
             {nasty}}) {
        const Finished run = fgauge(arguments);
        const std::string all = run.out + run.err;
        EXPECT_EQ(all.find('\x1b'), std::string::npos) << arguments[0];
        EXPECT_EQ(all.find('\x07'), std::string::npos) << arguments[0];
        EXPECT_EQ(all.find("\xC2\x9B"), std::string::npos) << arguments[0];
    }
}

// Each file of the user's own is judged by itself: named, left out, and the rest is there.
TEST(UsersCatalogue, NoFileStopsTheProgram) {
    const TemporaryFolder home;
    const fs::path own = home / "fair-gauge";
    for (const char* sub : {"parts", "devices", "registers", "converters", "choosing"})
        fs::create_directories(own / sub);
    std::string good = test::readText(test::dataFolder() / "parts/lm35.json");
    good.replace(good.find("\"lm35\""), 6, "\"lm35x\"");
    test::writeText(own / "parts/lm35x.json", good);
    test::writeText(own / "registers/bits.json",
                    R"({"id":"x","parts":["x"],"source":"s","registers":[{"name":"r","address":"0x01","fields":[
                       {"id":"a","title":"A","bits":[0,0],"choices":{"on":1}},{"id":"b","title":"B",
                           "choices":{"on":1}}]}]})");
    std::string straps = test::readText(test::dataFolder() / "devices/bmp280.json");
    straps.replace(straps.find("\"SDO to ground\""), 15, "1");
    straps.replace(straps.find("\"bmp280\""), 8, "\"bmp280x\"");
    test::writeText(own / "devices/straps.json", straps);
    test::writeText(own / "parts/deep.json", std::string(100000, '[') + std::string(100000, ']'));
    test::writeText(own / "converters/huge.json",
                    R"({"id":"h","title":"t","channels":1e300,"parameters":{"bits":10,"reference_V":5},"source":"s"})");
    test::writeText(own / "choosing/list.json", "[1,2]");
    test::writeText(own / "parts/empty.json", "");
    ASSERT_EQ(::mkfifo((own / "parts/pipe.json").c_str(), 0600), 0);
    fs::create_directories(own / "parts/folder.json");
    ::setenv("XDG_DATA_HOME", home.path().c_str(), 1);
    const Finished run = fgauge({"parts", "--json"});
    ::unsetenv("XDG_DATA_HOME");
    ASSERT_EQ(run.exitCode, 0) << run.err;
    for (const char* named :
         {"bits.json", "straps.json", "deep.json", "huge.json", "list.json", "empty.json", "pipe.json", "folder.json"})
        EXPECT_NE(run.err.find(named), std::string::npos) << named << " in\n" << run.err;
    const json listed = json::parse(run.out);
    bool isThere = false;
    for (const json& part : listed["parts"]) isThere = isThere || part["id"] == "lm35x";
    EXPECT_TRUE(isThere) << run.err;
}

TEST(BenchVerbs, CheckAndSalvage) {
    const TemporaryFolder folder;
    Bench bench;
    bench.add(test::gluePot());
    bench.add(test::directGauge("lm35", 10, 5));
    const fs::path path = folder / "a.fairgauge";
    ASSERT_TRUE(BenchFile::create(path, bench));
    EXPECT_EQ(fgauge({"bench", "check", path.string()}).exitCode, 0);
    std::string bytes = test::readText(path);
    bytes[bytes.find("Glue pot")] = 'B';
    test::writeText(path, bytes);
    const Finished check = fgauge({"bench", "check", path.string(), "--json"});
    EXPECT_EQ(check.exitCode, 1);
    EXPECT_EQ(json::parse(check.out)["readable"], 1);
    bytes.replace(0, 4096, std::string(4096, 'x'));
    test::writeText(path, bytes);
    EXPECT_EQ(fgauge({"bench", "check", path.string()}).exitCode, 2);
    const std::string into = (folder / "new.fairgauge").string();
    EXPECT_EQ(fgauge({"bench", "salvage", path.string(), "--into", into}).exitCode, 0);
    EXPECT_EQ(BenchFile::look(into)->bench.gauges.size(), 2u);
    EXPECT_EQ(fgauge({"bench", "salvage", path.string(), "--into", into}).exitCode, 2);  // never over another
    EXPECT_EQ(test::readText(path), bytes);
}

// An interrupt in the middle of a conversion: nothing half written stays, the earlier output neither changes.
TEST(Interrupt, LeavesTheEarlierOutput) {
    const TemporaryFolder folder;
    const std::string out = (folder / "out.csv").string();
    test::writeText(out, "before\n");
    ASSERT_EQ(::mkfifo((folder / "in").c_str(), 0600), 0);
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
        const int writer = ::open((folder / "in").c_str(), O_RDWR);
        const pid_t child = ::fork();
        if (child == 0) {
            const std::string in = (folder / "in").string();
            ::execl(FAIRGAUGE_FGAUGE, FAIRGAUGE_FGAUGE, "convert", "--part", "lm35", "--adc", "adc-10bit-1v1", "--in",
                    in.c_str(), "--out", out.c_str(), nullptr);
            ::_exit(99);
        }
        ASSERT_GT(::write(writer, "raw\n817\n", 8), 0);
        const auto files = [&] { return std::distance(fs::directory_iterator(folder / ""), {}); };
        for (int wait = 0; wait < 500 && files() < 3; ++wait) ::usleep(10000);
        EXPECT_EQ(files(), 3) << "the unfinished one is there while it is written";
        ::kill(child, signal);
        int status = 0;
        ::waitpid(child, &status, 0);
        EXPECT_TRUE(WIFSIGNALED(status) && WTERMSIG(status) == signal);
        EXPECT_EQ(files(), 2);
        EXPECT_EQ(test::readText(out), "before\n");
        ::close(writer);
    }
}

}  // namespace
}  // namespace fg
