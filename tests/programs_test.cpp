// The programs as processes: the simulated board, sizing and budget on the command line, and an installed copy that
// finds its own data.

#include "process.h"
#include "support.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "acquisition/line_reader.h"

namespace fg {
namespace {

using nlohmann::json;
using test::run;

std::string pot() { return (test::dataFolder() / "demo/glue-pot.json").string(); }

TEST(Simulator, SendsLinesThatTheReaderTakes) {
    const auto first = run(FAIRGAUGE_SIM, {"--stdout", "--count", "5", "--rate", "200", "--seed", "7"});
    ASSERT_EQ(first.exitCode, 0) << first.err;
    EXPECT_EQ(std::count(first.out.begin(), first.out.end(), '\n'), 5);
    LineReader reader;
    EXPECT_EQ(reader.feed(first.out).size(), 5u);
    EXPECT_EQ(reader.junkCount(), 0u);
    EXPECT_EQ(run(FAIRGAUGE_SIM, {"--stdout", "--count", "5", "--rate", "200", "--seed", "7"}).out, first.out);
    EXPECT_NE(run(FAIRGAUGE_SIM, {"--stdout", "--count", "5", "--rate", "200", "--seed", "8"}).out, first.out);
}

TEST(Simulator, SaysWhatIsWrongWithABoard) {
    const test::TemporaryFolder folder;
    test::writeText(folder / "board.json", R"([{"gauge": "none.json", "world": "glue_pot"}])");
    const auto missing = run(FAIRGAUGE_SIM, {"--stdout", "--count", "1", "--board", folder.path().string()});
    EXPECT_EQ(missing.exitCode, 2);
    EXPECT_NE(missing.err.find("none.json"), std::string::npos) << missing.err;
    test::writeText(folder / "board.json", R"([{"gauge": "none.json", "world": "attic"}])");
    EXPECT_NE(run(FAIRGAUGE_SIM, {"--stdout", "--board", folder.path().string()}).err.find("found “attic”"),
              std::string::npos);
    EXPECT_NE(run(FAIRGAUGE_SIM, {"--rate", "0"}).exitCode, 0);
}

TEST(FgaugeSize, RanksStandardValuesAsJson) {
    const auto sized = run(FAIRGAUGE_FGAUGE, {"size", "sensor-divider", "--gauge", pot(), "--most", "3", "--json"});
    ASSERT_EQ(sized.exitCode, 0) << sized.err;
    const json options = json::parse(sized.out)["options"];
    ASSERT_EQ(options.size(), 3u);
    EXPECT_EQ(options[0]["values"]["fixed_ohm"], 2200);
    EXPECT_NEAR(options[0]["worst"]["codes_per_unit"].get<double>(), 23.7, 0.051);
    for (const json& option : options)
        for (const char* field : {"values", "nominal", "worst", "why"}) EXPECT_TRUE(option.contains(field)) << field;
    const auto fine =
        run(FAIRGAUGE_FGAUGE, {"size", "sensor-divider", "--gauge", pot(), "--series", "E96", "--self-heating", "0.1"});
    EXPECT_NE(fine.out.find("codes per °C"), std::string::npos);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"size", "sensor-divider", "--gauge", pot(), "--series", "E7"}).exitCode, 2);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE,
                  {"size", "sensor-divider", "--gauge", (test::dataFolder() / "demo/workshop-air.json").string()})
                  .exitCode,
              2);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"size"}).exitCode, 2);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"size", "sensor-divider", "--help"}).exitCode, 0);
}

TEST(FgaugeBudget, NamesEveryContribution) {
    const auto budget = run(FAIRGAUGE_FGAUGE, {"budget", "--gauge", pot(), "--value", "60.484 °C", "--json"});
    ASSERT_EQ(budget.exitCode, 0) << budget.err;
    const json result = json::parse(budget.out);
    EXPECT_NEAR(result["expanded"].get<double>(), 0.6425, 3e-3);
    double variance = 0;
    for (const json& line : result["contributions"]) variance += std::pow(line["standard"].get<double>(), 2);
    EXPECT_NEAR(std::sqrt(variance), result["standard"].get<double>(), 1e-12);
    EXPECT_NE(
        run(FAIRGAUGE_FGAUGE, {"budget", "--gauge", pot(), "--value", "60"}).out.find("± 0.64 °C (95 %, k = 1.96)"),
        std::string::npos);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"budget", "--gauge", pot(), "--value", "60 V"}).exitCode, 2);
    EXPECT_EQ(run(FAIRGAUGE_FGAUGE, {"budget", "--gauge", pot(), "--value", "-400"}).exitCode, 2);
}

TEST(Fgauge, UsersOwnPartsJoinTheCatalogue) {
    const test::TemporaryFolder home;
    std::filesystem::create_directories(home / "fair-gauge/parts");
    test::writeText(home / "fair-gauge/parts/shed1.json",
                    R"({"id":"shed1","title":"From the shed","quantity":"temperature","family":"linear-voltage",
            "parameters":{"slope_V_per_degC":0.02},"range":[0,50],"source":"measured"})");
    test::writeText(home / "fair-gauge/parts/tmp36.json",
                    R"({"id":"tmp36","title":"Another one","quantity":"temperature","family":"linear-voltage",
            "parameters":{"slope_V_per_degC":0.02},"range":[0,50],"source":"s"})");
    ::setenv("XDG_DATA_HOME", home.path().c_str(), 1);
    const auto own = run(FAIRGAUGE_FGAUGE, {"part", "shed1"});
    const auto shipped = run(FAIRGAUGE_FGAUGE, {"part", "tmp36", "--json"});
    ::unsetenv("XDG_DATA_HOME");
    EXPECT_EQ(own.exitCode, 0) << own.err;
    EXPECT_NE(own.out.find("From the shed"), std::string::npos);
    // A shipped designation is not quietly replaced; the clash is told.
    EXPECT_EQ(json::parse(shipped.out)["parameters"]["slope_V_per_degC"], 0.01);
    EXPECT_NE(shipped.err.find("a second time"), std::string::npos) << shipped.err;
}

TEST(Install, AnInstalledCopyFindsItsOwnData) {
    const test::TemporaryFolder prefix;
    const auto installed = run("/usr/bin/cmake", {"--install", FAIRGAUGE_BUILD, "--prefix", prefix.path().string()});
    ASSERT_EQ(installed.exitCode, 0) << installed.err;
    for (const char* file :
         {"bin/fair-gauge", "bin/fgauge", "bin/fair-gauge-sim", "share/applications/fair-gauge.desktop",
          "share/icons/hicolor/scalable/apps/fair-gauge.svg", "share/metainfo/fair-gauge.metainfo.xml",
          "share/man/man1/fgauge.1", "share/fair-gauge/schema/gauge.schema.json", "share/fair-gauge/demo/board.json",
          "share/fair-gauge/calibrating/sessions.json"})
        EXPECT_TRUE(std::filesystem::exists(prefix / file)) << file;
    test::writeText(prefix / "share/fair-gauge/parts/only-here.json",
                    R"({"id":"only-here","title":"t","quantity":"temperature","family":"linear-voltage",
            "parameters":{"slope_V_per_degC":0.02},"range":[0,50],"source":"s"})");
    const char* data = std::getenv("FAIRGAUGE_DATA");
    const std::string kept = data ? data : "";
    ::unsetenv("FAIRGAUGE_DATA");
    EXPECT_EQ(run((prefix / "bin/fgauge").string(), {"part", "only-here"}).exitCode, 0);
    EXPECT_EQ(run((prefix / "bin/fair-gauge-sim").string(), {"--stdout", "--count", "1"}).exitCode, 0);
    if (!kept.empty()) ::setenv("FAIRGAUGE_DATA", kept.c_str(), 1);
}

}  // namespace
}  // namespace fg
