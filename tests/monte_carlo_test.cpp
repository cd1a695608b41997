// The draws against sums worked by hand, against a generator of the standard library, and the two ways of running the
// hardware against each other.

#include "uncertainty/monte_carlo.h"
#include "support.h"
#include "uncertainty/hardware.h"
#include "uncertainty/improvements.h"
#include "uncertainty/random.h"
#include "wiring/divider.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

TEST(Generator, FirstWordsAndSpread) {
    // Published: splitmix64 of seed 0 starts e220a8397b1dcdaf, 6e789e6aa1b965f4, 06c45d188009454f, f88bb8a8724c81ec.
    const std::uint64_t s0 = 0xe220a8397b1dcdafu, s3 = 0xf88bb8a8724c81ecu;
    const auto rotated = [](std::uint64_t x, int k) { return (x << k) | (x >> (64 - k)); };
    EXPECT_EQ(Xoshiro256(0)(), rotated(s0 + s3, 23) + s0);
    Xoshiro256 random(7);
    double sum = 0, squares = 0, lowest = 1, highest = -1;
    constexpr int kDraws = 1'000'000;
    for (int i = 0; i < kDraws; ++i) {
        const double x = random.symmetric();
        sum += x;
        squares += x * x;
        lowest = std::min(lowest, x);
        highest = std::max(highest, x);
    }
    EXPECT_NEAR(sum / kDraws, 0, 0.003);             // 5 of its own standard deviations, 1/√3/√N
    EXPECT_NEAR(squares / kDraws, 1.0 / 3, 0.0015);  // √(4/45)/√N = 0.0003
    EXPECT_LT(lowest, -0.9999);
    EXPECT_GT(highest, 0.9999);
    EXPECT_LE(highest, 1);
}

TEST(MonteCarlo, StraightPathIsTheRootOfTheSumOfSquares) {
    // tmp36, ± 2 °C, 10 bits over a measured 5 V ± 0.5 %: by hand at 20 °C (700 mV), 10 mV/°C:
    // part 2/√3, reference 0.005 · 70 °C/√3, converter 2 LSB of 0.48828 °C/√3, half a code 0.48828/√12.
    GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);
    spec.converter.parameters.set("reference_measured_V", 5.0);
    spec.converter.parameters.set("reference_measured_tolerance", 0.005);
    spec.converter.parameters.set("error_LSB", 2.0);
    const double accuracy = test::catalogue().findPart("tmp36")->accuracyAt(20).value(), lsb = 5.0 / 1024 / 0.01;
    const double u = std::sqrt((accuracy * accuracy + 0.35 * 0.35 + 4 * lsb * lsb) / 3 + lsb * lsb / 12);
    const auto run = monteCarlo(spec, test::catalogue(), 20, 400'000).value();
    EXPECT_NEAR(run.standard, u, 5 * run.scatter);
    EXPECT_NEAR(run.mean, 20, 5 * u / std::sqrt(4e5));
    EXPECT_EQ(run.withoutValue, 0u);
    // Both ends of the interval, from sums drawn here: 2.275 % lie beyond each.
    std::mt19937_64 random(9);
    std::uniform_real_distribution<double> one(-1, 1);
    std::vector<double> sums(400'000);
    for (double& sum : sums)
        sum = accuracy * one(random) + 0.35 * one(random) + 2 * lsb * one(random) + lsb / 2 * one(random);
    std::sort(sums.begin(), sums.end());
    EXPECT_NEAR(run.low - 20, sums[9100], 0.02 * u);
    EXPECT_NEAR(run.high - 20, sums[sums.size() - 9101], 0.02 * u);
    EXPECT_EQ(run.expanded, (run.high - run.low) / 2);
    EXPECT_TRUE(agree(budgetAt(spec, test::catalogue(), 20).value(), run));
    EXPECT_EQ(monteCarlo(spec, test::catalogue(), 20, 400'000)->high, run.high);  // same seed, same draws
    EXPECT_NE(monteCarlo(spec, test::catalogue(), 20, 400'000, 2)->high, run.high);
}

TEST(MonteCarlo, ThermistorAgreesWithDrawsMadeByHand) {
    // The same chain written out here with the standard library's generator: B equation, divider, logarithm back.
    GaugeSpec spec = test::gluePot();
    spec.sensor.parameters.remove("dissipation_W_per_K");
    spec.converter.parameters.set("error_LSB", 0.0);
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> one(-1, 1);
    double sum = 0, squares = 0;
    constexpr int kDraws = 400'000;
    for (int i = 0; i < kDraws; ++i) {
        const double r25 = 10000 * (1 + 0.01 * one(random)), b = 3950 * (1 + 0.01 * one(random)),
                     fixed = 2200 * (1 + 0.01 * one(random));
        const double r = r25 * std::exp(b * (1 / 333.15 - 1 / 298.15));
        const double code = r / (r + fixed) * 4096 + 0.5 * one(random);
        const double seen = 2200 * code / (4096 - code);
        const double t = 1 / (1 / 298.15 + std::log(seen / 10000) / 3950) - 273.15;
        sum += t - 60;
        squares += (t - 60) * (t - 60);
    }
    const double mean = sum / kDraws, standard = std::sqrt(squares / kDraws - mean * mean);
    const auto run = monteCarlo(spec, test::catalogue(), 60, kDraws).value();
    EXPECT_NEAR(run.standard, standard, 6 * run.scatter);
    EXPECT_NEAR(run.mean - 60, mean, 0.004);
}

TEST(MonteCarlo, CurvedPathDiffersAndIsSaidTo) {
    GaugeSpec spec = test::gluePot();
    spec.sensor.parameters.set("r25_tolerance", 0.9);
    const auto budget = budgetAt(spec, test::catalogue(), 60).value();
    EXPECT_FALSE(agree(budget, monteCarlo(spec, test::catalogue(), 60, 200'000).value()));
}

TEST(MonteCarlo, CanBeStoppedAndRefusesNonsense) {
    const GaugeSpec spec = test::gluePot();
    EXPECT_EQ(monteCarlo(spec, test::catalogue(), 60, 1'000'000, 1, [](double) { return false; }).error().code,
              ErrorCode::Busy);
    EXPECT_EQ(monteCarlo(spec, test::catalogue(), 60, 3).error().code, ErrorCode::Range);
    EXPECT_EQ(monteCarlo(spec, test::catalogue(), 60, std::numeric_limits<std::size_t>::max()).error().code,
              ErrorCode::Range);
    EXPECT_EQ(monteCarlo(spec, test::catalogue(), -400, 1000).error().code, ErrorCode::Domain);
}

TEST(Hardware, TakesTheValuesItIsGiven) {
    // By hand: 11 kΩ at 25 °C over 2.2 kΩ is 5/6 of 4096; and the slope of that to R25 is 4096 · 2.2/13.2²/kΩ.
    const GaugeSpec spec = test::gluePot();
    const AnalogPath path = test::pathOf(spec);
    const std::vector<Influence> influences{
        {Stage::Sensor, {.id = "r25_ohm", .label = "R25", .tolerance = ToleranceKind::Relative}, 10000, 1000}};
    const Hardware hardware(path, influences);
    const double drawn[] = {11000, -1};
    const double* const column = drawn;
    double codes[] = {25, 25};
    hardware.exactCodes({&column, 1}, codes);
    EXPECT_NEAR(codes[0], 4096.0 * 5 / 6, 1e-9);
    EXPECT_TRUE(std::isnan(codes[1]));  // no resistance is negative
    EXPECT_NEAR(hardware.exactCodeAt(0, 11000, path.correction().apply(25)), 4096.0 * 5 / 6, 1e-9);
    EXPECT_NEAR(hardware.exactCodeSlope(0, path.correction().apply(25)).slope, 4096 * 2200 / (12200.0 * 12200.0),
                1e-12);
}

TEST(Improvements, NameWhatBuysMostAndHowMuch) {
    // lm35 on a nominal 1.1 V ± 10 %: the reference is nearly everything. At 25 °C: 2.5 °C/√3 of 2.5 °C; measured it is
    // a hundredth.
    GaugeSpec spec = test::directGauge("lm35", 10, 1.1);
    spec.converter.parameters.set("reference_tolerance", 0.1);
    const Budget budget = budgetAt(spec, test::catalogue(), 25).value();
    const auto ways = improvements(spec, test::catalogue(), budget);
    ASSERT_FALSE(ways.empty());
    const auto measure = std::find_if(ways.begin(), ways.end(),
                                      [](const Improvement& way) { return way.parameter == "converter.reference_V"; });
    ASSERT_NE(measure, ways.end());
    double rest = 0;
    for (const Contribution& line : budget.contributions)
        if (line.parameter != "converter.reference_V") rest += line.standard * line.standard;
    // What is left is one rectangle, the part's own ± 1.5 °C, with little beside it: between 1.65 and 1.7 times u.
    const double left = std::sqrt(rest + std::pow(0.001 * 25 / std::sqrt(3.0), 2));
    EXPECT_GT(measure->expanded, 1.64 * left);
    EXPECT_LT(measure->expanded, 1.70 * left);
    measure->apply(spec);
    EXPECT_NEAR(budgetAt(spec, test::catalogue(), 25)->expanded, measure->expanded, 1e-12);
    for (std::size_t i = 1; i < ways.size(); ++i) EXPECT_LE(ways[i - 1].expanded, ways[i].expanded);
}

}  // namespace
}  // namespace fg
