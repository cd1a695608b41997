#include "path/default_gauge.h"
#include "sizing/gauge_solvers.h"
#include "sizing/sensor_divider.h"
#include "support.h"

#include <cmath>
#include <set>

namespace fg {
namespace {

TEST(PreferredValues, AreThoseOfTheStandard) {
    EXPECT_EQ(mantissas(Series::E3), (std::vector<double>{1.0, 2.2, 4.7}));
    EXPECT_EQ(mantissas(Series::E6), (std::vector<double>{1.0, 1.5, 2.2, 3.3, 4.7, 6.8}));
    EXPECT_EQ(mantissas(Series::E12),
              (std::vector<double>{1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2}));
    ASSERT_EQ(mantissas(Series::E96).size(), 96u);
    // IEC 60063, table 2: some of E96 and the exception of E192.
    const auto& e96 = mantissas(Series::E96);
    for (const double printed : {1.02, 1.47, 2.26, 3.16, 4.99, 6.81, 7.87, 9.76})
        EXPECT_NE(std::find(e96.begin(), e96.end(), printed), e96.end()) << printed;
    const auto& e192 = mantissas(Series::E192);
    EXPECT_NE(std::find(e192.begin(), e192.end(), 9.20), e192.end());
    EXPECT_EQ(std::find(e192.begin(), e192.end(), 9.19), e192.end());
    // Each series is part of the finer one of its kind.
    for (const double value : mantissas(Series::E48))
        EXPECT_NE(std::find(e96.begin(), e96.end(), value), e96.end()) << value;
    for (const double value : e96) EXPECT_NE(std::find(e192.begin(), e192.end(), value), e192.end()) << value;
}

TEST(PreferredValues, WithinAnInterval) {
    EXPECT_EQ(preferredValues(Series::E6, {0.22, 4.7}),
              (std::vector<double>{0.22, 0.33, 0.47, 0.68, 1, 1.5, 2.2, 3.3, 4.7}));
    EXPECT_EQ(preferredValues(Series::E3, {1000, 10000}), (std::vector<double>{1000, 2200, 4700, 10000}));
    EXPECT_TRUE(preferredValues(Series::E12, {-1, 10}).empty());
    EXPECT_TRUE(preferredValues(Series::E12, {10, 1}).empty());
}

// The glue pot over 20 … 90 °C with R1 at ± 1 %: worst codes per °C worked independently.
TEST(SensorDivider, RanksByTheWorstPlaceOfTheSpan) {
    const auto options = sizeSensorDivider(test::warmPot(), test::catalogue(), {}).value();
    const std::pair<double, double> expected[] = {{2200, 23.7}, {2700, 23.3}, {3300, 21.0},
                                                  {1800, 20.5}, {3900, 19.0}, {1500, 17.8}};
    for (std::size_t i = 0; i < std::size(expected); ++i) {
        EXPECT_EQ(options[i].fixed_ohm, expected[i].first) << i;
        EXPECT_NEAR(options[i].worstCounts, expected[i].second, 0.051) << i;
    }
    EXPECT_EQ(options[0].worstAt, 20);
    EXPECT_EQ(options[1].worstAt, 90);
    EXPECT_NEAR(options[0].rangeUsed, 0.55, 0.005);
    EXPECT_EQ(options[0].lossToFirst, 0);
    EXPECT_NEAR(options[2].lossToFirst, 0.12, 0.006);
    // 0.31 °C at 60 °C grows towards the place where R and R1 are equal.
    EXPECT_NEAR(options[0].selfHeating_K, 3.3 * 3.3 / (4 * 2200) / 0.004, 0.002);
}

TEST(SensorDivider, AgreesWithThePathItSizes) {
    const auto options = sizeSensorDivider(test::gluePot(), test::catalogue(), {Series::E24, 0, 0, 3}).value();
    ASSERT_EQ(options.size(), 3u);
    for (const SensorDividerOption& option : options) {
        GaugeSpec built = test::gluePot();
        built.wiring.parameters.set("fixed_ohm", option.fixed_ohm);
        EXPECT_NEAR(test::pathOf(built).countsPerUnit(option.worstAt), option.worstCounts, 1e-3);
        EXPECT_NEAR(test::pathOf(built).countsPerUnit(55), option.middleCounts, 1e-3);
    }
    // No value of the finest series does better than 2 % above the best of E24: the optimum is flat, the ranking is not
    // an accident of the series.
    const auto fine = sizeSensorDivider(test::gluePot(), test::catalogue(), {Series::E192, 0, 0, 1}).value();
    EXPECT_GE(fine[0].worstCounts, options[0].worstCounts);
    EXPECT_LT(fine[0].worstCounts, 1.05 * options[0].worstCounts);
}

TEST(SensorDivider, KeepsSelfHeatingUnderItsLimit) {
    const auto options = sizeSensorDivider(test::warmPot(), test::catalogue(), {Series::E12, 0.01, 0.1, 4}).value();
    EXPECT_FALSE(options[0].tooWarm);
    EXPECT_LE(options[0].selfHeating_K, 0.1);
    EXPECT_GT(options[0].fixed_ohm, 2200);
}

TEST(SensorDivider, RefusesWhatItCannotSize) {
    EXPECT_EQ(sizeSensorDivider(test::directGauge("tmp36", 10, 5), test::catalogue(), {}).error().code,
              ErrorCode::Unsupported);
    GaugeSpec spec = test::gluePot();
    spec.reading.span = {-300, 20};
    EXPECT_EQ(sizeSensorDivider(spec, test::catalogue(), {}).error().code, ErrorCode::Domain);
    EXPECT_EQ(sizeSensorDivider(test::gluePot(), test::catalogue(), {Series::E12, 1.5, 0, 1}).error().where,
              "tolerance");
}

// From a stiff source only R1 ∥ Rp decides how straight the tap's voltage is: the best Rp with R1 = 10 kΩ lies where
// the best R1 alone does.
TEST(SensorDivider, ALinearisingResistorStraightensWhatR1Alone) {
    GaugeSpec spec = test::gluePot();
    const double best =
        sizeSensorDivider(spec, test::catalogue(), {Series::E96, 0, 0, 1, DividerAim::Linearity}).value()[0].fixed_ohm;
    spec.wiring.parameters.set("fixed_ohm", 10000.0);
    const auto options =
        sizeLinearisingResistor(spec, test::catalogue(), {Series::E96, 0, 0, 2000, DividerAim::Linearity}).value();
    const double parallel = options[0].parallel_ohm;
    EXPECT_NEAR(10000 * parallel / (10000 + parallel) / best, 1, 0.03);
    const auto none = std::find_if(options.begin(), options.end(),
                                   [](const SensorDividerOption& one) { return one.parallel_ohm == 0; });
    ASSERT_NE(none, options.end());
    EXPECT_GT(none->straightness, 2 * options[0].straightness);
}

// Every solver, asked with what a gauge knows, finds values that the gauge can take and that are then recognised as
// taken.
TEST(GaugeSolvers, FindTheValuesOfEveryPartsFirstGauge) {
    std::set<std::string> met;
    for (const Part& part : test::catalogue().parts()) {
        const GaugeSpec spec = defaultGauge(part);
        for (const GaugeSolver& solver : solversFor(spec, test::catalogue())) {
            if (solver.target.empty()) continue;
            Parameters inputs = solver.known;
            if (solver.id == "pulse-load") inputs.set("threshold_V", 0.5);  // of the pin: nothing the gauge could know
            const auto options = solver.solve(inputs, Series::E24, 3);
            if (!options) {
                EXPECT_FALSE(options.error().expected.empty()) << part.id << " " << solver.id;
                continue;
            }
            GaugeSpec changed = spec;
            solver.take(changed, options->front());
            EXPECT_TRUE(AnalogPath::build(changed, test::catalogue())) << part.id << " " << solver.id;
            EXPECT_TRUE(isTaken(solver, changed, options->front())) << part.id << " " << solver.id;
            EXPECT_GE(changed.wiring.parameters.all().size() + changed.converter.parameters.all().size(), 1u);
            met.insert(solver.id);
        }
    }
    for (const char* id : {"sensor-divider", "sensor-divider-straight", "linearising", "load", "shunt", "pulse-load",
                           "bridge", "reference", "rc-filter"})
        EXPECT_TRUE(met.count(id)) << id;
}

TEST(GaugeSolvers, NamesAndValuesAreForPeople) {
    EXPECT_EQ(namedLabel("load_ohm"), "load");
    EXPECT_EQ(namedText("load_ohm", 4700), "4.7 kΩ");
    EXPECT_EQ(namedText("range_used", 0.55), "55 %");
    EXPECT_EQ(namedText("parallel_ohm", 0), "none");
}

}  // namespace
}  // namespace fg
