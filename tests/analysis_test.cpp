// Noise, drift and steps of a stretch of readings, against published numbers and processes whose answer is known.

#include "analysis/allan.h"
#include "analysis/approach.h"
#include "analysis/live_watch.h"
#include "analysis/noise_picture.h"
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
    for (const AllanPoint& point : drift) EXPECT_NEAR(point.deviation, 0.01 * point.averaging_s / std::sqrt(2), 1e-9);
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

// A slope of −½ over two decades is the diagonal of a square of decades; what is 0 cannot stand on such an axis.
TEST(NoisePicture, PutsDecadesAtEvenPlaces) {
    SeenTrack trace;
    trace.spec = test::gluePot();
    trace.spec.reading.unit = "degF";
    for (const double time_s : {1.0, 10.0, 100.0}) trace.allan.push_back({time_s, 0.1 / 1.8 / std::sqrt(time_s), 9});
    trace.allan.push_back({1000, 0, 1});
    const NoisePicture picture = noisePicture({trace}, NoiseKind::Allan);
    ASSERT_EQ(picture.lines.size(), 1u);
    ASSERT_EQ(picture.lines[0].points.size(), 3u);
    EXPECT_NEAR(picture.lines[0].points[0][0], 0, 1e-12);
    EXPECT_NEAR(picture.lines[0].points[1][0], 0.5, 1e-12);
    EXPECT_NEAR(picture.lines[0].points[0][1], 1, 1e-9);
    EXPECT_NEAR(picture.lines[0].points[2][1], 0, 1e-9);
    EXPECT_EQ(picture.upUnit, "°F");
    EXPECT_EQ(picture.across.front().text, "1");
    EXPECT_EQ(picture.across.back().text, "100");
    EXPECT_TRUE(noisePicture({trace}, NoiseKind::Spectrum).isEmpty());
    EXPECT_TRUE(noisePicture({}, NoiseKind::Allan).isEmpty());
}

FilterSpec filterOf(const char* kind, std::size_t count, double alpha = 0.2) {
    FilterSpec spec;
    spec.kind = kind;
    spec.count = count;
    spec.alpha = alpha;
    return spec;
}

// What is left of white noise and how late a slow slope comes, from 200,000 drawn readings against what is stated.
TEST(Filter, DoesToNoiseAndDelayWhatItStates) {
    std::mt19937 random(11);
    std::normal_distribution<double> noise;
    for (const FilterSpec& spec :
         {filterOf("mean", 16), filterOf("mean", 1), filterOf("median", 3), filterOf("median", 4),
          filterOf("median", 5), filterOf("median", 6), filterOf("median", 7), filterOf("median", 8),
          filterOf("median", 9), filterOf("median", 31), filterOf("exponential", 1, 0.2),
          filterOf("exponential", 1, 1)}) {
        auto filter = ReadingFilter::make(spec).value();
        auto slope = ReadingFilter::make(spec).value();
        double squares = 0, late = 0;
        constexpr int kDraws = 200000;
        for (int i = 0; i < kDraws; ++i) {
            const double value = filter.take(noise(random));
            if (i >= 1000) squares += value * value;
            late = i - slope.take(i);
        }
        const FilterEffect effect = filter.effect();
        EXPECT_NEAR(std::sqrt(squares / (kDraws - 1000)), effect.noise, 0.015 * effect.noise) << filterText(spec);
        EXPECT_NEAR(late, effect.delay_samples, 1e-6 + 1e-9 * kDraws) << filterText(spec);
    }
}

TEST(Filter, GateHoldsWildOnesBackAndBelievesAStep) {
    auto gate = ReadingFilter::make(filterOf("gate", 9)).value();
    std::mt19937 random(3);
    std::normal_distribution<double> noise(20, 0.1);
    double last = 0;
    for (int i = 0; i < 50; ++i) last = gate.take(noise(random));
    const std::size_t ordinary = gate.gated();
    EXPECT_LE(ordinary, 5u);
    EXPECT_NEAR(gate.take(85), 20, 0.3);  // the power-on word of a probe
    EXPECT_EQ(gate.gated(), ordinary + 1);
    EXPECT_NEAR(last, 20, 0.5);
    for (int i = 0; i < 6; ++i) last = gate.take(30 + 0.01 * i);
    EXPECT_NEAR(last, 30, 0.1) << "half of the last are there now";
    EXPECT_TRUE(std::isnan(gate.take(std::nan(""))));
    for (const FilterSpec& bad : {filterOf("kalman", 3), filterOf("mean", 0), filterOf("gate", 3),
                                  filterOf("exponential", 1, 0), filterOf("exponential", 1, 1.5)})
        EXPECT_FALSE(ReadingFilter::make(bad)) << bad.kind;
}

// 2,000 readings of noise 0.2 K at 4 a second: the mean of 16 scatters by 0.05 K, ± 0.1 K as twice that.
TEST(LiveWatch, TellsPaceNoiseExtremesAndHowManyToAverage) {
    LiveWatch watch;
    watch.setFilter(filterOf("mean", 16));
    std::mt19937 random(8);
    std::normal_distribution<double> noise(20, 0.2);
    for (int i = 0; i < 2000; ++i) watch.take(0.25 * i, {i == 700 ? 26.0 : i == 900 ? 14.0 : noise(random)});
    const auto state = watch.state(0.115);
    EXPECT_NEAR(state.rate_Hz, 4, 1e-9);
    EXPECT_EQ(state.most, 26.0);
    EXPECT_EQ(state.mostAt_s, 175);
    EXPECT_EQ(state.least, 14.0);
    EXPECT_NEAR(state.noise, 0.2, 0.02);
    EXPECT_EQ(state.toAverage, 16u);
    EXPECT_NEAR(*state.filtered, 20, 0.2);
    GaugeSpec spec = test::gluePot();
    spec.reading.wanted = 0.115;
    spec.reading.filter = filterOf("mean", 16);
    const WatchText text = watchText(state, spec, 500);
    EXPECT_EQ(text.advice, "Average 16 to hold ± 0.115 °C against the noise.");
    EXPECT_NE(text.extremes.find("highest 26"), std::string::npos) << text.extremes;
    EXPECT_NE(text.filter.find("25 % of white noise"), std::string::npos) << text.filter;
    EXPECT_NE(text.filter.find("1.9 s late"), std::string::npos) << text.filter;
    // A limit is no extreme; a drift cannot be averaged away.
    watch.take(501, {99, Clip::AtLeast});
    EXPECT_EQ(watch.state(0).most, 26.0);
    LiveWatch drifting;
    for (int i = 0; i < 1000; ++i) drifting.take(i, {i < 500 ? 20 + 0.01 * (i % 2) : 21.0});
    EXPECT_TRUE(drifting.state(0.05).isAsked);
    EXPECT_FALSE(drifting.state(0.05).toAverage);
}

}  // namespace
}  // namespace fg
