// Formulas in fixed point against the same in double: nothing wraps for any number an input can be, and as many digits
// are kept as half the width has.

#include "handover/fixed_point.h"
#include "handover/formula_runner.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <cmath>
#include <functional>
#include <random>

namespace fg {
namespace {

using Make = std::function<Recorded(std::span<const Recorded>)>;

struct Case {
    std::string name;
    std::vector<FixedInput> inputs;  ///< their nodes are found here
    Make make;
    double most = 1;  ///< size of the result, by which its error is measured
};

/// A formula over inputs in steps of their own.
FormulaCode formulaOf(Case& one) {
    auto recording = std::make_shared<Recording>();
    std::vector<Recorded> inputs;
    for (FixedInput& input : one.inputs) {
        const double start = input.step * static_cast<double>(input.least + (input.most - input.least) / 3);
        inputs.push_back(Recorded::leaf(*recording, Op::Input, "x", "", start));
        input.node = inputs.back().indexIn(*recording);
    }
    const Recorded made = one.make(inputs);
    return FormulaCode::ofExpression(recording, made.indexIn(*recording));
}

/// Runs both over the ends of the inputs and over numbers between them.
void expectAlike(Case one, int width, std::int64_t scale, double slack) {
    const FormulaCode formula = formulaOf(one);
    const std::vector<Interval> seen(formula.recording().size(), {-HUGE_VAL, HUGE_VAL});
    const auto fixed = fixedPointOf(formula, one.inputs, seen, width, scale);
    const std::string what = fmt::format("{} in {} bits", one.name, width);
    ASSERT_TRUE(fixed) << what << ": " << fixed.error().message();
    FormulaRunner<double> exactly(formula), shortly(*fixed->formula);
    std::vector<double> real(formula.recording().size()), whole(fixed->formula->recording().size());
    std::mt19937 random(5);
    int compared = 0;
    for (int i = 0; i < 3000; ++i) {
        std::string at;
        for (std::size_t k = 0; k < one.inputs.size(); ++k) {
            const FixedInput& input = one.inputs[k];
            const std::int64_t steps =
                i < 8 ? (i >> k & 1 ? input.most : input.least)
                      : std::uniform_int_distribution<std::int64_t>(input.least, input.most)(random);
            real[static_cast<std::size_t>(input.node)] = input.step * static_cast<double>(steps);
            whole[static_cast<std::size_t>(fixed->inputs[k].whole)] = static_cast<double>(steps);
            at += fmt::format(" {}", input.step * static_cast<double>(steps));
        }
        const double exact = exactly(real), value = shortly(whole);
        ASSERT_FALSE(shortly.hasWrapped()) << what << " at" << at;
        if (!std::isfinite(exact)) continue;
        ++compared;
        ASSERT_NEAR(value, exact, slack * one.most + 0.5 / static_cast<double>(scale)) << what << " at" << at;
    }
    EXPECT_GT(compared, 100) << what;
}

TEST(FixedPoint, KeepsHalfTheWidthOfDigits) {
    // A raw value of 20 bits, coefficients as parts have them, a temperature in hundredths.
    const FixedInput raw{-1, 1, 0, (1 << 20) - 1}, coefficient{-1, 1, -32768, 32767}, centi{-1, 0.01, -4000, 8500},
        unit{-1, 1.0 / 4096, 1, 4095};
    const std::vector<Case> cases{
        {"product", {raw, coefficient}, [](auto x) { return x[0] * x[1] / 33554432.0; }, 1100},
        {"polynomial", {centi}, [](auto x) { return 1.0 + x[0] * (0.017 - x[0] * (0.00031 + x[0] * 1.7e-6)); }, 5},
        {"square of a difference",
         {raw, raw},
         [](auto x) {
             const Recorded d = (x[0] - x[1]) / 1048576.0;
             return d * d;
         },
         1},
        {"quotient", {raw, unit}, [](auto x) { return x[0] / 1048576.0 / (x[1] + 1.5); }, 1},
        {"quotient by a third", {centi}, [](auto x) { return x[0] / 3.0; }, 30},
        {"power of e", {centi}, [](auto x) { return exp(17.62 * x[0] / (x[0] + 243.12)); }, 100},
        {"a small power of e", {unit}, [](auto x) { return exp(-(x[0] * 9.0)); }, 1},
        {"logarithm", {raw}, [](auto x) { return log((x[0] + 1.0) / 1048576.0); }, 14},
        {"root", {raw}, [](auto x) { return sqrt(x[0] / 1048576.0); }, 1},
        {"root of nearly nothing", {unit}, [](auto x) { return sqrt(x[0] * x[0] * x[0]); }, 1},
        {"fifth root", {unit}, [](auto x) { return pow(x[0], Recorded(0.19)); }, 1},
        {"a power down to 0", {raw}, [](auto x) { return pow(x[0] / 1048576.0, Recorded(1.4)); }, 1},
        {"cube", {centi}, [](auto x) { return pow(x[0] / 100.0, Recorded(3.0)); }, 1},
        {"the lesser", {centi, coefficient}, [](auto x) { return least(x[0], x[1] / 512.0); }, 64},
        {"the greater", {centi, coefficient}, [](auto x) { return most(x[0], x[1] / 512.0); }, 85},
        {"either side",
         {centi, coefficient},
         [](auto x) {
             return choose(
                 x[1] < Recorded(0.0), [&] { return -x[0]; }, [&] { return x[0] * 2.0; });
         },
         170},
        {"whole part", {centi}, [](auto x) { return floor(x[0] / 7.0 + 0.0001); }, 12},
    };
    for (const Case& one : cases) {
        expectAlike(one, 64, 1'000'000, 1e-8);
        // A raw value of 20 bits leaves 11 for what it is multiplied by.
        if (one.name != "root of nearly nothing") expectAlike(one, 32, 1000, 2e-3);
    }
}

/// What the integers of AVR and of hand-held calculators would do: 16 bits hold a hundredth or so, never a wrong digit
/// by overflow.
TEST(FixedPoint, NeverWrapsInAnyWidth) {
    std::mt19937 random(11);
    const auto chance = [&](int count) { return std::uniform_int_distribution<int>(0, count - 1)(random); };
    int made = 0;
    for (int tree = 0; tree < 300; ++tree) {
        Case one{fmt::format("tree {}", tree), {}, {}, 1};
        for (int k = 0; k < 3; ++k) {
            const std::int64_t size = std::int64_t{1} << (2 + chance(12));
            one.inputs.push_back({-1, std::ldexp(1.0, -chance(9)), chance(2) == 0 ? 0 : -size, size});
        }
        const auto seed = static_cast<unsigned>(random());
        one.make = [seed](std::span<const Recorded> x) {
            std::mt19937 choices(seed);
            const auto pick = [&](std::size_t count) {
                return std::uniform_int_distribution<std::size_t>(0, count - 1)(choices);
            };
            std::vector<Recorded> values(x.begin(), x.end());
            for (int i = 0; i < 9; ++i) {
                const Recorded a = values[pick(values.size())], b = values[pick(values.size())];
                switch (pick(9)) {
                    case 0:
                        values.push_back(a + b);
                        break;
                    case 1:
                        values.push_back(a - b);
                        break;
                    case 2:
                        values.push_back(a * b);
                        break;
                    case 3:
                        values.push_back(a / (b * b + 0.7));
                        break;
                    case 4:
                        values.push_back(a * 0.377 - 11.3);
                        break;
                    case 5:
                        values.push_back(least(a, b));
                        break;
                    case 6:
                        values.push_back(exp(least(a, 3.0)));
                        break;
                    case 7:
                        values.push_back(sqrt(most(a, 0.25)));
                        break;
                    default:
                        values.push_back(step("s", "", "", a / 64.0));
                        break;
                }
            }
            // What a part's range is: the result has to have room as well.
            return most(least(values.back() / 1024.0, 100.0), -100.0) + 0.0 * x[0];
        };
        const FormulaCode formula = formulaOf(one);
        const std::vector<Interval> seen(formula.recording().size(), {-HUGE_VAL, HUGE_VAL});
        for (const int width : {16, 32, 64}) {
            const auto fixed = fixedPointOf(formula, one.inputs, seen, width, 100);
            if (!fixed) {
                EXPECT_EQ(fixed.error().code, ErrorCode::Unsupported);
                continue;
            }
            ++made;
            FormulaRunner<double> runner(*fixed->formula);
            std::vector<double> whole(fixed->formula->recording().size());
            for (int i = 0; i < 200; ++i) {
                for (std::size_t k = 0; k < one.inputs.size(); ++k)
                    whole[static_cast<std::size_t>(fixed->inputs[k].whole)] = static_cast<double>(
                        i < 8 ? (i >> k & 1 ? one.inputs[k].most : one.inputs[k].least)
                              : std::uniform_int_distribution<std::int64_t>(one.inputs[k].least,
                                                                            one.inputs[k].most)(random));
                (void)runner(whole);
                ASSERT_FALSE(runner.hasWrapped()) << one.name << " in " << width << " bits";
            }
        }
    }
    EXPECT_GT(made, 600);
}

/// A demand on a value is kept where the value is made; a number that does not fit is named.
TEST(FixedPoint, DemandsAndNumbersThatDoNotFit) {
    Case one{"demand", {{-1, 1, 0, 60000}}, {}, 1};
    one.make = [](std::span<const Recorded> x) {
        const Recorded celsius = step("t", "degC", "", x[0] / 100.0 - 40.0);
        return require(Recorded(-20.0) <= celsius && celsius <= Recorded(80.0), [&] { return celsius * celsius; });
    };
    const FormulaCode formula = formulaOf(one);
    const std::vector<Interval> seen(formula.recording().size(), {-HUGE_VAL, HUGE_VAL});
    const auto fixed = fixedPointOf(formula, one.inputs, seen, 32, 100);
    ASSERT_TRUE(fixed) << fixed.error().message();
    FormulaRunner<double> runner(*fixed->formula);
    std::vector<double> whole(fixed->formula->recording().size());
    const auto at = [&](double steps) {
        whole[static_cast<std::size_t>(fixed->inputs[0].whole)] = steps;
        return runner(whole);
    };
    EXPECT_NEAR(at(2000), 400, 0.02);   // −20 °C
    EXPECT_NEAR(at(12000), 6400, 0.3);  // 80 °C
    EXPECT_TRUE(std::isnan(at(1998)));
    EXPECT_TRUE(std::isnan(at(12002)));
    const auto tooShort = fixedPointOf(formula, one.inputs, seen, 16, 100);
    ASSERT_FALSE(tooShort);
    EXPECT_NE(tooShort.error().message().find("“x”"), std::string::npos) << tooShort.error().message();
}

}  // namespace
}  // namespace fg
