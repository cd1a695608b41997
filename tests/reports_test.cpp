// A bench on paper, looked at as somebody reads it.
#include "reports/bench_papers.h"

#include "bench/linked_inputs.h"
#include "handover/code_thresholds.h"
#include "support.h"

#include <cmath>

namespace fg {
namespace {

using test::catalogue;

Bench demoBench() {
    Bench bench;
    for (const char* name : {"glue-pot", "wood-store", "bending-iron", "barometer", "vacuum-clamp", "soaking-tray"})
        bench.add(readGaugeFile((test::dataFolder() / "demo" / (std::string(name) + ".json")).string()).value());
    settleInputs(bench);
    return bench;
}

bool says(const Paper& paper, const std::string& text) { return markdownOf(paper).find(text) != std::string::npos; }

TEST(Papers, AGaugeSheetHasTheCircuitThePathAndWhatToMind) {
    GaugeSpec pot = test::gluePot();
    pot.alarm = AlarmRule{.high = 63.0, .band = 1.0};
    const Paper paper = gaugeSheet(pot, catalogue());
    EXPECT_TRUE(says(paper, "2.2 kΩ"));
    EXPECT_TRUE(says(paper, "± 1 %"));
    // By hand: at 90 °C R = 10 kΩ · exp(3950 · (1/363.15 − 1/298.15)) = 933.6 Ω, 3.3 V · 933.6/3133.6 = 0.9832 V, code
    // 1220.
    EXPECT_TRUE(says(paper, "933.6 Ω")) << markdownOf(paper);
    EXPECT_TRUE(says(paper, "983.2 mV")) << markdownOf(paper);
    EXPECT_TRUE(says(paper, "1220")) << markdownOf(paper);
    const auto gauge = Gauge::make(pot, catalogue());
    for (const CodeThreshold& one : codeThresholds(*gauge))
        EXPECT_TRUE(says(paper, std::to_string(one.threshold.code))) << one.name;
    EXPECT_TRUE(says(paper, "Care"));
    // What cannot be computed is said.
    GaugeSpec broken = test::gluePot();
    broken.wiring.parameters.set("fixed_ohm", -1.0);
    EXPECT_TRUE(says(gaugeSheet(broken, catalogue()), "resistance above 0 Ω"));
}

TEST(Papers, ABenchIsWrittenAsAFolderThatCanBeReadBack) {
    const Bench bench = demoBench();
    const auto folder = std::filesystem::temp_directory_path() / ("fg-papers-" + std::to_string(::getpid()));
    const auto written = writePapers(bench, catalogue(), "Workshop <b>one</b>", folder.string());
    ASSERT_TRUE(written) << written.error().message();
    const std::string sheet = test::readText(folder / "bench.html");
    EXPECT_NE(sheet.find("Workshop &lt;b&gt;one&lt;/b&gt;"), std::string::npos);
    for (const BenchGauge& gauge : bench.gauges)
        EXPECT_NE(sheet.find(gauge.spec.name), std::string::npos) << gauge.spec.name;
    EXPECT_NE(sheet.find("2.2 kΩ"), std::string::npos);
    // The probe's body is drawn, its pins stand in the table.
    EXPECT_NE(sheet.find("data:image/svg+xml"), std::string::npos);
    EXPECT_NE(sheet.find("<td>2 DQ</td><td>wire 1</td>"), std::string::npos);
    EXPECT_NE(test::readText(folder / "wires.csv").find(",2 DQ,wire 1,"), std::string::npos);
    std::size_t gauges = 0;
    for (const std::string& file : *written) {
        EXPECT_TRUE(std::filesystem::exists(folder / file)) << file;
        if (!file.ends_with(".gauge.json")) continue;
        const auto again = readGaugeFile((folder / file).string());
        ASSERT_TRUE(again) << again.error().message();
        EXPECT_EQ(*again, bench.gauges[gauges++].spec);
    }
    EXPECT_EQ(gauges, bench.gauges.size());
    // Written once more it is the same; where it cannot be written that is an error, not half a folder in silence.
    EXPECT_TRUE(writePapers(bench, catalogue(), "Workshop", folder.string()));
    const auto refused = writePapers(bench, catalogue(), "Workshop", (folder / "bench.html").string());
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::Io);
    std::filesystem::remove_all(folder);
}

}  // namespace
}  // namespace fg
