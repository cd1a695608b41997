// fgauge code, check-formula and paper as a program or a script uses them.
#include "bench/document.h"
#include "process.h"
#include "storage/bench_file.h"
#include "support.h"

#include <nlohmann/json.hpp>

namespace fg {
namespace {

using nlohmann::json;
using test::Finished;

Finished fgauge(const std::vector<std::string>& arguments) { return test::run(FAIRGAUGE_FGAUGE, arguments); }
std::string demo(const char* name) { return (test::dataFolder() / "demo" / name).string(); }

class HandOverVerbs : public testing::Test {
  protected:
    void SetUp() override {
        m_folder = std::filesystem::temp_directory_path() / ("fg-handover-cli-" + std::to_string(::getpid()));
        std::filesystem::create_directories(m_folder);
    }
    void TearDown() override { std::filesystem::remove_all(m_folder); }
    std::filesystem::path m_folder;
};

TEST_F(HandOverVerbs, CodeSaysEverythingThatAProgramNeeds) {
    const std::string out = (m_folder / "code").string();
    const Finished run = fgauge({"code", "--gauge", demo("glue-pot.json"), "--arithmetic", "table", "--max-error",
                                 "0.05 °C", "--unit", "degC", "--out", out, "--json"});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    const json result = json::parse(run.out);
    EXPECT_EQ(result["files"], json::array({"glue_pot.h", "glue_pot.c"}));
    for (const auto& file : result["files"])
        EXPECT_TRUE(std::filesystem::exists(std::filesystem::path(out) / file.get<std::string>()));
    EXPECT_TRUE(std::filesystem::exists(std::filesystem::path(out) / "README.md"));
    const json& entry = result["entry"];
    EXPECT_EQ(entry["header"], "glue_pot.h");
    EXPECT_EQ(entry["function"], "glue_pot_read");
    EXPECT_EQ(entry["takes"], json::parse(R"([{"name": "raw", "type": "uint16_t", "block": "", "bytes": 2}])"));
    EXPECT_EQ(entry["gives"], "int16_t");
    EXPECT_EQ(entry["scale"], 100);
    EXPECT_EQ(entry["unit"], "degC");
    EXPECT_EQ(entry["status"]["ok"], 0);
    EXPECT_EQ(result["entries"], 20);  // as in the design
    EXPECT_LE(result["error"]["worst"].get<double>(), 0.05);
    EXPECT_GT(result["headroom_bits"].get<double>(), 0);
    // What does not hold is a fault, and tells so to a script; the code is there all the same.
    const Finished narrow =
        fgauge({"code", "--gauge", demo("glue-pot.json"), "--arithmetic", "int16", "--max-error", "0.05", "--json"});
    EXPECT_EQ(narrow.exitCode, 1);
    const json faulty = json::parse(narrow.out);
    EXPECT_EQ(faulty["findings"][0]["severity"], "fault");
    EXPECT_TRUE(faulty["texts"].contains("glue_pot.c"));
    // A digital part: its blocks.
    const json digital =
        json::parse(fgauge({"code", "--gauge", demo("barometer.json"), "--arithmetic", "int32", "--json"}).out);
    EXPECT_EQ(digital["entry"]["takes"][0]["block"], "calibration");
    EXPECT_EQ(digital["entry"]["takes"][1]["bytes"], 6);
    EXPECT_EQ(digital["entry"]["unit"], "hPa");
}

/// A digital part without a gauge file; the folder with everything that belongs to it; the sender.
TEST_F(HandOverVerbs, APartOnTheTableBecomesAFolderAndASender) {
    const std::string out = (m_folder / "barometer").string();
    const Finished code =
        fgauge({"code", "--part", "bmp180", "--sensor", "pressure,oss=1", "--form", "program", "--out", out});
    ASSERT_EQ(code.exitCode, 0) << code.err;
    EXPECT_TRUE(std::filesystem::exists(out + "/gauge.json"));
    const Finished part = fgauge({"code", "--part", "bme280", "--sensor", "humidity,osrs_h=x1,osrs_t=x1,osrs_p=x1",
                                  "--form", "program", "--out", out});
    ASSERT_EQ(part.exitCode, 0) << part.err;
    const std::string registers = test::readText(out + "/registers.md");
    // In the order of the document: humidity's oversampling counts from the next write of ctrl_meas on.
    EXPECT_LT(registers.find("F2 01"), registers.find("F4 25")) << registers;
    EXPECT_EQ(fgauge({"code", "--gauge", demo("glue-pot.json"), "--out", out}).exitCode, 0);
    EXPECT_NE(test::readText(out + "/table.csv").find("60,"), std::string::npos);
    EXPECT_EQ(fgauge({"code", "--part", "bme280", "--sensor", "light"}).exitCode, 2);
    EXPECT_EQ(fgauge({"code", "--part", "bme280", "--sensor", "humidity,osrs_h=x3"}).exitCode, 2);
    EXPECT_EQ(fgauge({"code", "--part", "bme280", "--adc", "bits=10"}).exitCode, 2);
    const Finished sender = fgauge({"sender", "--gauge", demo("glue-pot.json"), "--gauge", demo("barometer.json"),
                                    "--language", "micropython", "--out", out});
    ASSERT_EQ(sender.exitCode, 0) << sender.err;
    EXPECT_NE(test::readText(out + "/bench_sender.py").find("port_i2c(0x76, b'\\xF7', 6)"), std::string::npos);
    EXPECT_EQ(fgauge({"sender", "--gauge", demo("glue-pot.json"), "--language", "cobol"}).exitCode, 2);
    EXPECT_EQ(fgauge({"sender"}).exitCode, 2);
}

TEST_F(HandOverVerbs, WrongWishesAreNamed) {
    const auto refused = [&](std::vector<std::string> more, const std::string& word) {
        std::vector<std::string> arguments{"code", "--gauge", demo("glue-pot.json")};
        arguments.insert(arguments.end(), more.begin(), more.end());
        const Finished run = fgauge(arguments);
        EXPECT_EQ(run.exitCode, 2) << word;
        EXPECT_NE(run.err.find(word), std::string::npos) << run.err;
        EXPECT_TRUE(run.out.empty()) << run.out;
    };
    refused({"--arithmetic", "int8"}, "int16, int32");
    refused({"--language", "pascal"}, "micropython");
    refused({"--form", "class"}, "program");
    refused({"--max-error", "-1"}, "--max-error");
    refused({"--max-error", "1 bar"}, "--max-error");
    refused({"--unit", "hPa"}, "--unit");
    test::writeText(m_folder / "file", "");
    refused({"--out", (m_folder / "file/code").string()}, "--out");
}

TEST_F(HandOverVerbs, CheckFormulaTellsOverflowByItsExitCode) {
    const Finished wide = fgauge({"check-formula", "--gauge", demo("glue-pot.json"), "124-adc*295/10000"});
    EXPECT_EQ(wide.exitCode, 0) << wide.err;
    EXPECT_NE(wide.out.find("12571-adc*3 (times 100)"), std::string::npos) << wide.out;
    const Finished narrow = fgauge(
        {"check-formula", "--gauge", demo("glue-pot.json"), "124-adc*295/10000", "--arithmetic", "int16", "--json"});
    EXPECT_EQ(narrow.exitCode, 1);
    const json result = json::parse(narrow.out);
    EXPECT_EQ(result["overflow"]["code"], 112);
    EXPECT_EQ(result["overflow"]["operation"], "adc*295");
    EXPECT_EQ(result["better"][0]["formula"], "12571-adc*3");
    const Finished wrong = fgauge({"check-formula", "--gauge", demo("glue-pot.json"), "124-adc*"});
    EXPECT_EQ(wrong.exitCode, 2);
    EXPECT_NE(wrong.err.find("formula"), std::string::npos) << wrong.err;
}

TEST_F(HandOverVerbs, PaperWritesABenchAndLeavesItAlone) {
    const auto file = m_folder / "workshop.fairgauge";
    Bench bench;
    bench.add(test::gluePot());
    ASSERT_TRUE(BenchFile::create(file, bench));
    const std::string before = test::readText(file);
    const std::string out = (m_folder / "papers").string();
    const Finished run = fgauge({"paper", "--bench", file.string(), "--out", out});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    for (const char* name :
         {"bench.html", "bench.md", "Glue_pot.html", "Glue_pot.gauge.json", "parts.csv", "README.md"}) {
        EXPECT_NE(run.out.find(name), std::string::npos) << run.out;
        EXPECT_TRUE(std::filesystem::exists(std::filesystem::path(out) / name)) << name;
    }
    EXPECT_EQ(test::readText(file), before);
    EXPECT_EQ(fgauge({"paper", "--bench", (m_folder / "none.fairgauge").string(), "--out", out}).exitCode, 2);
}

}  // namespace
}  // namespace fg
