// A family and a network, each added in one file (added_family.h, added_network.h), are found by everything.

#include "added_family.h"
#include "added_network.h"
#include "choosing/candidate.h"
#include "gauge/gauge.h"
#include "path/default_gauge.h"
#include "sizing/sensor_divider.h"
#include "support.h"
#include "uncertainty/monte_carlo.h"

#include <cmath>

namespace fg {
namespace {

struct Added : testing::Test {
    static void SetUpTestSuite() {
        if (findSensorFamily("exponential-ptc")) return;
        addSensorFamily(test::exponentialPtc());
        addWiringKind(test::mirror());
    }
    void SetUp() override {
        folder = std::filesystem::temp_directory_path() / ("fair-gauge-added-" + std::to_string(::getpid()));
        std::filesystem::create_directories(folder / "parts");
        std::ofstream(folder / "parts/made-up-ptc.json") << R"({"id":"made-up-ptc","title":"A made-up PTC",
            "quantity":"temperature","family":"exponential-ptc","range":[-50,150],
            "parameters":{"r0_ohm":1000,"r0_tolerance":0.02,"share_per_K":0.01},
            "accuracy":[{"span":[-50,150],"limit":0.5}],"interface":"analog","body":"bead","source":"made up"})";
        catalogue.emplace(Catalogue::read(std::vector{test::dataFolder(), folder}));
    }
    void TearDown() override { std::filesystem::remove_all(folder); }

    GaugeSpec mirrored() const {
        GaugeSpec spec = defaultGauge(*catalogue->findPart("made-up-ptc"));
        spec.wiring = {"mirror", {{"mirror_A", 0.001}, {"mirror_tolerance", 0.01}}};
        spec.converter = {"adc", "", {{"bits", 12.0}, {"reference_V", 3.3}}};
        spec.examples.clear();
        return spec;
    }

    std::filesystem::path folder;
    std::optional<Catalogue> catalogue;
};

TEST_F(Added, ConvertsAndExplains) {
    const Gauge gauge = Gauge::make(mirrored(), *catalogue).value();
    // By hand: 1 mA · 1 kΩ · e^0.5 at 50 °C.
    const auto evaluation = gauge.evaluate({Stage::World, 50}).value();
    EXPECT_NEAR(evaluation.at(Stage::Wiring).value, std::exp(0.5), 1e-12);
    const auto lines = gauge.trace(evaluation);
    EXPECT_EQ(lines[0].formula, "1000 Ω × exp(0.01 1/K × 50 °C)");
    EXPECT_EQ(lines[1].symbols, "M × I0 × R");
    EXPECT_NEAR(gauge.read(evaluation.at(Stage::Converter).value).value, 50, 0.1);
}

TEST_F(Added, HasABudgetThatTheDrawsConfirm) {
    const GaugeSpec spec = mirrored();
    const Budget budget = budgetAt(spec, *catalogue, 50).value();
    const auto of = [&](const std::string& parameter) {
        for (const Contribution& line : budget.contributions)
            if (line.parameter == parameter) return line.limit;
        return std::nan("");
    };
    // 2 % of R0 is 2 % of R, and 1 % a kelvin: 2 K, a little more for the curve; 1 % of the current 1 K.
    EXPECT_NEAR(of("sensor.r0_ohm"), 2, 0.002);
    EXPECT_NEAR(of("wiring.mirror_A"), 1, 0.001);
    const MonteCarlo run = monteCarlo(spec, *catalogue, 50, 200'000).value();
    EXPECT_TRUE(agree(budget, run)) << run.expanded << " " << budget.expanded;
}

TEST_F(Added, IsSizedAndChosen) {
    GaugeSpec divided = defaultGauge(*catalogue->findPart("made-up-ptc"));
    EXPECT_EQ(divided.wiring.kind, "divider");
    EXPECT_EQ(divided.wiring.parameters.number("fixed_ohm"), 1000);  // of the sensor's own size
    divided.examples.clear();
    EXPECT_FALSE(sizeSensorDivider(divided, *catalogue, {}).value().empty());
    const Need need =
        readNeed(R"({"wishes":[{"quantity":"temperature","span":[10,60],"accuracy":5}]})", "need.json").value();
    const Candidate candidate = judge(need, *catalogue->findPart("made-up-ptc"), *catalogue);
    ASSERT_FALSE(candidate.gauges.empty());
    EXPECT_FALSE(candidate.isRuledOut()) << candidate.why;
}

TEST_F(Added, MistypedParametersNameTheNearest) {
    GaugeSpec spec = mirrored();
    spec.wiring.parameters.set("miror_A", 0.002);
    EXPECT_NE(AnalogPath::build(spec, *catalogue).error().message().find("“mirror_A”"), std::string::npos);
    spec = mirrored();
    spec.sensor.parameters.set("r0_ohm", std::string("1k"));
    EXPECT_EQ(AnalogPath::build(spec, *catalogue).error().message(),
              "sensor.parameters.r0_ohm: found a text, expected a number");
}

}  // namespace
}  // namespace fg
