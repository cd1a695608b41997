// The solvers against values worked by hand, and against a search of every standard value that knows nothing of how
// they go about it.

#include "sizing/solver.h"

#include <gtest/gtest.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

std::vector<SizingOption> solved(const char* id, const Parameters& inputs, Series series = Series::E24,
                                 std::size_t most = 1000) {
    const auto options = solve(*findSolver(id), inputs, series, most);
    if (!options) throw std::runtime_error(options.error().message());
    return *options;
}

Error refused(const char* id, const Parameters& inputs) {
    return solve(*findSolver(id), inputs, Series::E24, 5).error();
}

double of(const NamedValues& values, const std::string& name) {
    const auto it = std::find_if(values.begin(), values.end(), [&](const auto& one) { return one.first == name; });
    return it == values.end() ? std::nan("") : it->second;
}

TEST(DividerSolver, NeverExceedsTheLimitAndMissesNoBetterPair) {
    const auto options = solved("divider", {{"input_max_V", 14.4}, {"limit_V", 3.3}});
    double bestUsed = 0;
    for (const double top : preferredValues(Series::E24, {100, 1e6}))
        for (const double bottom : preferredValues(Series::E24, {100, 1e6})) {
            const double worst = 14.4 * bottom * 1.01 / (bottom * 1.01 + top * 0.99);
            const double impedance = top * bottom / (top + bottom) * 1.01, drawn = 14.4 / (top + bottom) / 0.99;
            if (worst <= 3.3 && impedance <= 10e3 && drawn <= 1e-3)
                bestUsed = std::max(bestUsed, 14.4 * bottom / (top + bottom) / 3.3);
        }
    for (const SizingOption& option : options) {
        // All four corners of tolerance.
        for (const double t : {0.99, 1.01})
            for (const double b : {0.99, 1.01})
                EXPECT_LE(14.4 * of(option.values, "bottom_ohm") * b /
                              (of(option.values, "bottom_ohm") * b + of(option.values, "top_ohm") * t),
                          3.3 + 1e-12);
    }
    EXPECT_TRUE(options.front().fits);
    EXPECT_GT(of(options.front().nominal, "range_used"),
              bestUsed - 0.005);  // to within what a smaller current is worth
    EXPECT_EQ(refused("divider", {{"input_max_V", 3.0}, {"limit_V", 3.3}}).where, "input_max_V");
    EXPECT_EQ(refused("divider", {{"limit_V", 3.3}}).code, ErrorCode::Missing);
    EXPECT_EQ(refused("divider", {{"input_max_V", 12.0}, {"limit_V", -1.0}}).where, "limit_V");
    EXPECT_EQ(refused("divider", {{"input_max_V", 12.0}, {"limit_V", 3.0}, {"oops", 1.0}}).code, ErrorCode::Unknown);
}

TEST(LoadSolver, LargestStandardValueThatStaysBelowFullScale) {
    // 5 V/(358 µA · 1.01) = 13.83 kΩ: 13 kΩ of E24, 12 kΩ of E12; 125 µA · 13 kΩ · 0.99 / 5 V · 1024 = 329.5 codes.
    const Parameters wish{{"low_A", 233e-6}, {"high_A", 358e-6}, {"limit_V", 5.0}};
    const auto options = solved("load", wish);
    EXPECT_EQ(of(options.front().values, "load_ohm"), 13e3);
    EXPECT_NEAR(of(options.front().worst, "codes_over_span"), 329.5, 0.1);
    EXPECT_EQ(of(solved("load", wish, Series::E12).front().values, "load_ohm"), 12e3);
    // A sensor that needs 4 V of a 5 V supply leaves 1 V: 2.77 kΩ, so 2.7 kΩ.
    EXPECT_EQ(
        of(solved("load",
                  {{"low_A", 233e-6}, {"high_A", 358e-6}, {"limit_V", 5.0}, {"supply_V", 5.0}, {"sensor_min_V", 4.0}})
               .front()
               .values,
           "load_ohm"),
        2.7e3);
    EXPECT_EQ(refused("load", {{"low_A", 2e-3}, {"high_A", 1e-3}, {"limit_V", 5.0}}).where, "high_A");
}

TEST(PulseLoadSolver, WindowOfThreeConstraints) {
    // Least (0.9 + 0.3 + 0.05)/(112 µA · 0.99) = 11.27 kΩ; most (0.9 − 0.3 − 0.05)/(39 µA · 1.01) = 13.96 kΩ;
    // sensor 2.75 V/(143 µA · 1.01) = 19.04 kΩ.
    const Parameters wish{{"low_max_A", 39e-6}, {"high_min_A", 112e-6},    {"high_max_A", 143e-6},
                          {"threshold_V", 0.9}, {"threshold_band_V", 0.3}, {"supply_V", 4.75}};
    const auto options = solved("pulse-load", wish);
    ASSERT_EQ(options.size(), 2u);
    EXPECT_EQ(of(options[0].values, "load_ohm"), 12e3);
    EXPECT_NEAR(of(options[0].nominal, "window_low_ohm"), 11273, 1);
    EXPECT_NEAR(of(options[0].nominal, "window_high_ohm"), 13963, 1);
    Parameters weak = wish;
    weak.set("supply_V", 3.3);  // 1.3 V left: 9.0 kΩ at most, below the window
    EXPECT_EQ(refused("pulse-load", weak).where, "supply_V");
    Parameters logic = wish;
    logic.set("threshold_band_V", 0.5);  // 13.1 kΩ at least, 8.9 kΩ at most
    EXPECT_EQ(refused("pulse-load", logic).where, "threshold_V");
}

TEST(ShuntSolver, LeavesRoomForTheFault) {
    // 3.3 V/(22 mA · 1.001) = 149.85 Ω: 130 Ω of E24, 147 Ω of E96.
    EXPECT_EQ(of(solved("shunt", {{"limit_V", 3.3}}).front().values, "shunt_ohm"), 130);
    const auto fine = solved("shunt", {{"limit_V", 3.3}}, Series::E96);
    EXPECT_EQ(of(fine.front().values, "shunt_ohm"), 147);
    EXPECT_NEAR(of(fine.front().nominal, "at_20mA_V"), 2.94, 1e-12);
    EXPECT_EQ(refused("shunt", {{"limit_V", 3.3}, {"supply_V", 10.0}}).code, ErrorCode::Range);
}

TEST(ReferenceSolver, CountsAndHeadroomOfEach) {
    // 0.5 V over 50 °C with 10 bits: 2.048 codes/°C at 5 V, 9.309 at 1.1 V, but 1.1 V may be 0.99 V, below the 1 V of
    // the signal.
    const auto options = solved("reference", {{"signal_low_V", 0.5}, {"signal_high_V", 1.0}, {"units", 50.0}});
    const auto with = [&](double volt) {
        return *std::find_if(options.begin(), options.end(),
                             [&](const SizingOption& one) { return of(one.values, "reference_V") == volt; });
    };
    EXPECT_NEAR(of(with(5).nominal, "codes_per_unit"), 2.048, 1e-9);
    EXPECT_NEAR(of(with(1.1).nominal, "codes_per_unit"), 9.309, 1e-3);
    EXPECT_FALSE(with(1.1).fits);
    EXPECT_NEAR(of(with(1.1).worst, "headroom_V"), -0.01, 1e-9);
    EXPECT_TRUE(options.front().fits);
    EXPECT_GE(of(options.front().worst, "headroom_V"), 0);
    EXPECT_EQ(refused("reference", {{"signal_low_V", 1.0}, {"signal_high_V", 1.0}, {"units", 50.0}}).where,
              "signal_high_V");
    // A pin that takes half: 2.5 V there is 5 V full scale.
    const auto halving =
        solved("reference", {{"signal_low_V", 0.5}, {"signal_high_V", 1.0}, {"units", 50.0}, {"halving", 1.0}});
    for (const SizingOption& one : halving)
        if (of(one.values, "reference_V") == 2.5) {
            EXPECT_NEAR(of(one.nominal, "full_scale_V"), 5, 1e-12);
        }
}

TEST(ZenerSolver, RegulatesAtTheLowestAndSurvivesTheHighest) {
    // Most (4.5 − 2.55)/(1 mA + 1 mA)/1.05 = 928.6 Ω; least (5.5 − 2.45)/20 mA/0.95 = 160.5 Ω.
    const auto options =
        solved("zener", {{"supply_min_V", 4.5}, {"supply_max_V", 5.5}, {"zener_V", 2.5}, {"load_max_A", 1e-3}});
    EXPECT_EQ(of(options.front().values, "series_ohm"), 910);
    EXPECT_EQ(of(options.back().values, "series_ohm"), 180);
    EXPECT_NEAR(of(options.front().worst, "zener_least_A"), 1.95 / 955.5 - 1e-3, 1e-9);
    EXPECT_EQ(
        refused("zener", {{"supply_min_V", 2.52}, {"supply_max_V", 5.5}, {"zener_V", 2.5}, {"load_max_A", 1e-3}}).where,
        "supply_min_V");
    EXPECT_EQ(
        refused("zener", {{"supply_min_V", 4.5}, {"supply_max_V", 24.0}, {"zener_V", 2.5}, {"load_max_A", 5e-3}}).where,
        "zener_max_A");
}

TEST(FilterSolver, SettlesToHalfACodeAtTheWorst) {
    const auto options = solved("rc-filter", {{"settle_s", 0.1}, {"bits", 12.0}});
    for (const SizingOption& option : options) {
        const double rc = of(option.values, "resistor_ohm") * 1.01 * of(option.values, "capacitor_F") * 1.1;
        EXPECT_LE(std::exp(-0.1 / rc), std::exp2(-13) * (1 + 1e-9));  // what is left of a full step, in full scales
    }
    // 3 kΩ and 3.3 µF: 16.08 Hz by hand.
    EXPECT_NEAR(of(options.front().nominal, "cutoff_Hz"), 16.08, 0.01);
    EXPECT_EQ(refused("rc-filter", {{"settle_s", 1e-12}}).where, "settle_s");
}

TEST(OversamplingSolver, FourToTheN) {
    const auto options = solved("oversampling", {{"bits", 10.0}, {"wanted_bits", 13.0}, {"rate_Hz", 9600.0}});
    EXPECT_EQ(of(options.front().values, "samples"), 64);
    EXPECT_EQ(of(options.front().nominal, "rate_Hz"), 150);
    EXPECT_EQ(of(options.front().nominal, "sum_bits"), 16);
    EXPECT_FALSE(solved("oversampling", {{"wanted_bits", 12.0}, {"noise_LSB", 0.1}}).front().fits);
    EXPECT_EQ(refused("oversampling", {{"bits", 10.0}, {"wanted_bits", 10.0}}).where, "wanted_bits");
}

TEST(ClockSolver, FrequencyAndConversionTime) {
    // The data sheet's 10 kΩ and 150 pF: 1/(1.1 · 1.5 µs) = 606 kHz, 73 clocks 120.5 µs.
    const auto options = solved("rc-clock", {});
    const auto usual = std::find_if(options.begin(), options.end(), [](const SizingOption& one) {
        return of(one.values, "resistor_ohm") == 10e3 && std::abs(of(one.values, "capacitor_F") - 150e-12) < 1e-15;
    });
    ASSERT_NE(usual, options.end());
    EXPECT_NEAR(of(usual->nominal, "clock_Hz"), 606061, 1);
    EXPECT_NEAR(of(usual->nominal, "conversion_s"), 120.45e-6, 0.01e-6);
    for (const SizingOption& one : options) EXPECT_LE(of(one.worst, "clock_high_Hz"), 1460e3 * 1.1);
}

// 73 clocks of 640 kHz are 114.06 µs; nothing beyond 1.46 MHz.
TEST(ClockSolver, RefusesWhatTheConverterDoesNotAllow) {
    EXPECT_EQ(refused("rc-clock", {{"clock_Hz", 2.76e6}}).where, "clock_Hz");
    EXPECT_EQ(refused("rc-clock", {{"clock_given_Hz", 2e6}}).where, "clock_given_Hz");
    const auto given = solved("rc-clock", {{"clock_given_Hz", 640e3}});
    ASSERT_EQ(given.size(), 1u);
    EXPECT_NEAR(of(given.front().worst, "conversion_s"), 114.0625e-6, 1e-12);
}

TEST(ReferenceSolver, CountsWhatThePinDrawsAndAimsAtWholeCodes) {
    const auto divided = [](Parameters more) {
        const Parameters base{{"signal_low_V", 0.1}, {"signal_high_V", 1.0}, {"units", 90.0},
                              {"tolerance", 0.0},    {"external_V", 2.5},    {"external_tolerance", 0.0}};
        for (const SizingOption& one : solved("reference", more.over(base)))
            if (one.why.starts_with("the external one divided")) return one.values;
        return NamedValues{};
    };
    // 1 V of 2.5 V wants 0.4: with 1 kΩ on top 667 Ω. 680 Ω beside 32 kΩ are 666 Ω, just too little: 750 Ω.
    EXPECT_EQ(of(divided({{"pin_ohm", 32e3}}), "bottom_ohm"), 750);
    EXPECT_NEAR(of(divided({{"pin_ohm", 32e3}}), "reference_V"), 2.5 * 732.82 / 1732.82, 1e-4);
    // 10 mV a unit, 4 codes a unit of 1024: 2.56 V of 5 V. With 10 kΩ on top 11 kΩ give 2.619 V, 10 kΩ 2.5 V.
    EXPECT_EQ(of(divided({{"codes_per_unit", 4.0}, {"external_V", 5.0}}), "bottom_ohm"), 11e3);
}

// LMT01: 39 µA, 112.5 to 143 µA. 10 kΩ at 0.8 V: 0.394 V and 1.114 V; 4.7 kΩ reaches 0.52 V only.
TEST(PulseLoadSolver, JudgesAResistorThatIsThere) {
    const Parameters input{{"low_max_A", 39e-6},
                           {"high_min_A", 112.5e-6},
                           {"high_max_A", 143e-6},
                           {"threshold_V", 0.8},
                           {"supply_V", 5.0}};
    const auto judged = [&](double ohm) {
        return solved("pulse-load", Parameters{{"load_ohm", ohm}}.over(input)).front();
    };
    EXPECT_TRUE(judged(10e3).fits);
    EXPECT_NEAR(of(judged(10e3).worst, "high_V"), 112.5e-6 * 9900, 1e-9);
    EXPECT_FALSE(judged(4.7e3).fits);
    EXPECT_NE(judged(4.7e3).why.find("high may be 523 mV only"), std::string::npos) << judged(4.7e3).why;
}

TEST(BridgeSolver, HighestGainThatDoesNotClip) {
    // 5 V, 2 mV/V and 0.3 mV/V of zero: 11.5 mV; ± 19.53 mV at gain 128 (½ · 5 V/128).
    const Parameters wish{
        {"span_V_per_V", 0.002}, {"full_scale_Pa", 1e5}, {"zero_V_per_V", 0.0003}, {"excitation_V", 5.0}};
    const auto options = solved("bridge", wish);
    EXPECT_EQ(of(options.front().values, "gain"), 128);
    EXPECT_NEAR(of(options.front().worst, "headroom_V"), 0.01953125 - 0.0115, 1e-12);
    EXPECT_NEAR(of(options.front().worst, "step_Pa"), 2 * 0.01953125 / 131072 / 1e-7, 1e-6);
    Parameters large = wish;
    large.set("span_V_per_V", 0.02);
    EXPECT_FALSE(solved("bridge", large).front().fits);  // 101.5 mV against ± 78 mV at 32, the lowest of this converter
    large.set("gain_min", 1.0);
    EXPECT_EQ(of(solved("bridge", large).front().values, "gain"), 16);
    large.set("excitation_max_V", 3.0);
    EXPECT_EQ(refused("bridge", large).where, "excitation_V");
}

TEST(ProtectionSolver, SmallestResistorTheClampStands) {
    // (12 − 3.6)/1 mA/0.99 = 8485 Ω: 9.1 kΩ of E24.
    const auto options = solved("protection", {{"fault_V", 12.0}, {"limit_V", 3.6}});
    EXPECT_EQ(of(options.front().values, "series_ohm"), 9.1e3);
    EXPECT_LE(of(options.front().worst, "current_A"), 1e-3);
    EXPECT_EQ(refused("protection", {{"fault_V", 3.0}, {"limit_V", 3.6}}).where, "fault_V");
}

TEST(Solvers, EveryOneSaysWhatItAsksAndRefusesNonsenseByName) {
    for (const Solver& solver : solvers()) {
        for (const ParameterSpec& spec : solver.inputs()) {
            if (spec.id.starts_with("signal_")) continue;
            Parameters inputs;
            for (const ParameterSpec& other : solver.inputs())
                if (!other.defaultValue) inputs.set(other.id, 1.0);
            inputs.set(spec.id, -1.0);
            const auto bad = solve(solver, inputs, Series::E24, 5);
            ASSERT_FALSE(bad) << solver.id << " " << spec.id;
            EXPECT_EQ(bad.error().where, spec.id) << solver.id;
        }
    }
}

}  // namespace
}  // namespace fg
