// Noise, drift and steps of a stretch of readings, against published numbers and processes whose answer is known.

#include "analysis/allan.h"
#include "analysis/approach.h"
#include "analysis/pairing.h"
#include "analysis/spectrum.h"
#include "support.h"

#include <numeric>
#include <random>

namespace fg {
namespace {

std::vector<double> whiteNoise(std::size_t count, double deviation, unsigned seed = 5) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, deviation);
    std::vector<double> values(count);
    for (double& value : values) value = normal(random);
    return values;
}

Selection selectionOfValues(std::vector<double> values, double interval_s = 1) {
    Selection selection;
    for (std::size_t i = 0; i < values.size(); ++i) selection.times_s.push_back(static_cast<double>(i) * interval_s);
    selection.words = values;
    selection.values = std::move(values);
    return selection;
}

// NIST SP 1065 (Riley), table 31: the 1000-point test suite of a linear congruential generator, n(i+1) = 16807·n(i) mod
// 2147483647, n(0) = 1234567890, each divided by 2147483647. Table 32: overlapping Allan deviation as frequency data.
TEST(Allan, HasThePublishedValuesOfTheTestSuite) {
    std::vector<double> readings;
    std::int64_t n = 1234567890;
    for (int i = 0; i < 1000; ++i) {
        readings.push_back(static_cast<double>(n) / 2147483647.0);
        n = 16807 * n % 2147483647;
    }
    ASSERT_NEAR(std::accumulate(readings.begin(), readings.end(), 0.0) / 1000, 0.4897745, 5e-8);  // table 32, average
    const auto points = allanDeviation(readings, 1).value();
    EXPECT_NEAR(points[0].deviation, 2.922319e-01, 5e-8);  // averaging factor 1
    EXPECT_EQ(points[0].averaging_s, 1);
    EXPECT_EQ(points.size(), 9u);  // up to 256, a third of the run
    EXPECT_FALSE(allanDeviation(std::vector<double>(5, 1), 1));
    EXPECT_FALSE(allanDeviation(readings, 0));
}

// White noise falls with √τ; a straight drift D rises as D·τ/√2 (IEEE Std 1139-2008, annex B).
TEST(Allan, TellsNoiseFromDrift) {
    const auto noise = allanDeviation(whiteNoise(100'000, 0.5), 2).value();
    for (std::size_t i = 0; i < 8; ++i)
        EXPECT_NEAR(noise[i].deviation / (0.5 / std::sqrt(noise[i].averaging_s / 2)), 1, 0.05);
    std::vector<double> ramp(1000);
    for (std::size_t i = 0; i < ramp.size(); ++i) ramp[i] = 20 + 0.01 * static_cast<double>(i);
    const auto drift = allanDeviation(ramp, 1).value();
    for (const AllanPoint& point : drift)
        EXPECT_NEAR(point.deviation, 0.01 * point.averaging_s / std::sqrt(2), 1e-9);
}

// Parseval: the density's square summed over frequency is the variance; a sine stands in its own line.
TEST(Spectrum, HasThePowerOfTheReadings) {
    constexpr double kInterval_s = 0.1;
    auto readings = whiteNoise(20'000, 0.3);
    const auto sum = [&](const std::vector<SpectrumPoint>& points) {
        double power = 0;
        for (const SpectrumPoint& point : points) power += point.density * point.density * points[0].frequency_Hz;
        return power;
    };
    const auto white = noiseSpectrum(readings, kInterval_s).value();
    EXPECT_NEAR(sum(white), 0.09, 0.005);
    // White: 2·σ²·Δt at every frequency.
    EXPECT_NEAR(white[white.size() / 2].density, std::sqrt(2 * 0.09 * kInterval_s), 0.05);
    EXPECT_NEAR(white.back().frequency_Hz, 5, 1e-9);
    for (std::size_t i = 0; i < readings.size(); ++i)
        readings[i] += 2 * std::sin(2 * 3.14159265358979 * 1.25 * kInterval_s * static_cast<double>(i)) +
                       1e-3 * static_cast<double>(i);
    const auto hum = noiseSpectrum(readings, kInterval_s).value();
    const auto peak = std::max_element(hum.begin(), hum.end(), [](const SpectrumPoint& a, const SpectrumPoint& b) {
        return a.density < b.density;
    });
    EXPECT_NEAR(peak->frequency_Hz, 1.25, hum[0].frequency_Hz);
    EXPECT_NEAR(sum(hum), 0.09 + 2, 0.05);  // a sine of 2 has the variance 2²/2
    EXPECT_FALSE(noiseSpectrum(std::vector<double>(10, 0), 1));
}

TEST(Approach, FindsTimeConstantAndWhereItIsHeadingFor) {
    std::vector<double> times, readings;
    const auto noise = whiteNoise(300, 0.05);
    for (std::size_t i = 0; i < noise.size(); ++i) {
        times.push_back(1000 + 2 * static_cast<double>(i));
        readings.push_back(63 - 42 * std::exp(-2 * static_cast<double>(i) / 180) + noise[i]);
    }
    const auto fit = fitApproach(times, readings);
    ASSERT_TRUE(fit) << fit.error().message();
    EXPECT_NEAR(fit->timeConstant_s, 180, 4 * fit->timeConstantStandard_s);
    EXPECT_NEAR(fit->end, 63, 4 * fit->endStandard);
    EXPECT_NEAR(fit->start, 21, 0.1);
    EXPECT_NEAR(fit->scatter, 0.05, 0.01);
    EXPECT_LT(fit->timeConstantStandard_s, 2);
    // A third of a time constant is enough to say where it goes, within its own uncertainty.
    const auto early = fitApproach(std::span(times).first(40), std::span(readings).first(40));
    ASSERT_TRUE(early) << early.error().message();
    EXPECT_NEAR(early->end, 63, 4 * early->endStandard);
    EXPECT_FALSE(fitApproach(times, noise));
    std::vector<double> straight(times.size());
    for (std::size_t i = 0; i < times.size(); ++i) straight[i] = 0.1 * times[i] + noise[i];
    EXPECT_FALSE(fitApproach(times, straight));
}

// The stated standard errors hold: 200 seeded runs.
TEST(Approach, StatesErrorsThatHold) {
    int inside = 0;
    constexpr int kRuns = 200;
    for (int run = 0; run < kRuns; ++run) {
        std::vector<double> times, readings;
        const auto noise = whiteNoise(80, 0.2, static_cast<unsigned>(run + 1));
        for (std::size_t i = 0; i < noise.size(); ++i) {
            times.push_back(static_cast<double>(i));
            readings.push_back(10 + 5 * std::exp(-static_cast<double>(i) / 25) + noise[i]);
        }
        const auto fit = fitApproach(times, readings);
        ASSERT_TRUE(fit);
        inside += std::abs(fit->timeConstant_s - 25) <= 2 * fit->timeConstantStandard_s &&
                  std::abs(fit->end - 10) <= 2 * fit->endStandard;
    }
    EXPECT_GE(inside, kRuns * 85 / 100);  // both at once, about 92 of 100
}

TEST(Selection, TellsNoiseDriftAndWhatAveragingLeaves) {
    auto values = whiteNoise(4096, 2);
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = std::round(2000 + values[i] + 0.001 * static_cast<double>(i));
    const auto statistics = statisticsOf(selectionOfValues(values)).value();
    // Rounding to whole codes adds 1/12 to the variance.
    EXPECT_NEAR(statistics.series.scatter, std::sqrt(4 + 1.0 / 12), 0.1);
    EXPECT_NEAR(statistics.series.drift, 0.001, 1e-4);
    EXPECT_NEAR(*statistics.meanOf16, std::sqrt((4 + 1.0 / 12) / 16), 0.05);
    EXPECT_NEAR(*statistics.noise_codes, statistics.series.scatter, 1e-9);
    std::size_t all = 0;
    for (const CodeCount& one : statistics.histogram) all += one.count;
    EXPECT_EQ(all, values.size());
    // 2·2.02/√n ≤ 0.6: n ≥ 45, the next power of two.
    EXPECT_EQ(averageFor(selectionOfValues(values), 0.6), 64u);
    EXPECT_EQ(averageFor(selectionOfValues(values), 5), 1u);
    EXPECT_FALSE(averageFor(selectionOfValues(values), 0.001));
    // Neighbours that are alike average less well than √n.
    double state = 0;
    auto slow = whiteNoise(4096, 1);
    for (double& value : slow) value = state = 0.9 * state + value;
    const auto alike = statisticsOf(selectionOfValues(slow)).value();
    EXPECT_GT(*alike.meanOf16, 2 * alike.series.scatter / 4);
    EXPECT_FALSE(statisticsOf(selectionOfValues({1, 2})));
}

TEST(Pairs, AreTakenBetweenTheSamplesAndNotAcrossGaps) {
    Selection first = selectionOfValues({0, 1, 2, 3, 4, 5}), second;
    second.first_us = first.first_us + 500'000;
    second.times_s = {0, 1, 4};
    second.values = {10, 11, 14};
    const Pairs pairs = pairsOf(first, second, 1.5);
    EXPECT_EQ(pairs.first, (std::vector<double>{1}));
    EXPECT_EQ(pairs.second, (std::vector<double>{10.5}));
    EXPECT_EQ(pairsOf(first, second, 10).second, (std::vector<double>{10.5, 11.5, 12.5, 13.5}));
    EXPECT_TRUE(pairsOf({}, second, 1).first.empty());
}

}  // namespace
}  // namespace fg
