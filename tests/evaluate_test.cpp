// The recorded formulas of digital parts in other number types: slopes against finite differences, bounds against what
// the formula gives inside them.
#include "formula/evaluate.h"
#include "catalogue/catalogue.h"
#include "formula/whole.h"
#include "handover/formula_runner.h"
#include "path/digital_path.h"
#include "support.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

using test::catalogue;

/// One reading of a part at the middle of its span, with the numbers that its formula takes.
struct Sample {
    std::shared_ptr<FormulaCode> formula;
    std::vector<std::int32_t> inputs;
    std::vector<double> values;  ///< by node
    bool isWhole = false;        ///< an integer routine: cut here and there
    double step = 0;             ///< of the reading
};

/// Nodes that a count of bits to shift by rests on: a slope to them is no matter of a step between whole numbers.
void markCounts(const Recording& in, std::int32_t index, std::vector<bool>& marked) {
    if (index < 0 || marked[static_cast<std::size_t>(index)]) return;
    marked[static_cast<std::size_t>(index)] = true;
    for (const std::int32_t operand : in.at(index).operands) markCounts(in, operand, marked);
}

std::optional<Sample> sampleOf(const DevicePart& part, const std::string& reading) {
    const GaugeSpec spec = defaultDeviceGauge(part, reading);
    const auto path = DigitalPath::build(spec, catalogue());
    if (!path) return std::nullopt;
    const Interval span = spec.spanCanonical();
    const auto now = path->evaluate({Stage::World, (span.low + span.high) / 2});
    if (!now || !now->device) return std::nullopt;
    const auto decoded = part.device->decode(now->device->raw, path->options());
    const DeviceReading* found = decoded ? decoded->find(reading) : nullptr;
    if (!found || found->node < 0) return std::nullopt;
    auto formula = FormulaCode::ofRecording(decoded->recording, found->node, canonicalUnit(found->quantity));
    if (!formula) return std::nullopt;  // solved for, or looked up
    Sample sample{std::make_shared<FormulaCode>(std::move(*formula)), {}, {}, false, found->step};
    const Recording& in = sample.formula->recording();
    sample.values.resize(in.size());
    std::vector<bool> counts(in.size());
    for (std::size_t i = 0; i < in.size(); ++i)
        if (const Node& node = in.at(static_cast<std::int32_t>(i));
            node.op == Op::ShiftLeft || node.op == Op::ShiftRight)
            markCounts(in, node.operands[1], counts);
    for (const DeviceInput& input : decoded->inputs) {
        sample.values[static_cast<std::size_t>(input.node)] = in.at(input.node).value;
        if (sample.formula->usesOf(input.node) > 0 && !counts[static_cast<std::size_t>(input.node)])
            sample.inputs.push_back(input.node);
    }
    for (std::size_t i = 0; i < in.size(); ++i) {
        const Node& node = in.at(static_cast<std::int32_t>(i));
        if (node.bits != 0 && (node.op == Op::Divide || node.op == Op::ShiftRight) &&
            sample.formula->usesOf(static_cast<std::int32_t>(i)) > 0)
            sample.isWhole = true;
    }
    return sample;
}

template <class Check>
int forEveryReading(Check check) {
    int seen = 0;
    for (const DevicePart& part : catalogue().devices())
        for (const std::string& reading : part.readings)
            if (const auto sample = sampleOf(part, reading)) {
                SCOPED_TRACE(part.id + " " + reading);
                check(*sample);
                ++seen;
            }
    return seen;
}

/// Central differences of the formula itself. A routine in whole numbers is looked at over a wider step, in which its
/// cuts are small.
TEST(Evaluate, SlopesOfDecodersAgreeWithFiniteDifferences) {
    const int seen = forEveryReading([](const Sample& sample) {
        FormulaRunner<double> run(*sample.formula);
        ExpressionEvaluator<Dual> evaluator(sample.formula->recording());
        const double value = run(sample.values);
        ASSERT_TRUE(std::isfinite(value));
        for (const std::int32_t input : sample.inputs) {
            std::vector<Dual> duals(sample.values.begin(), sample.values.end());
            duals[static_cast<std::size_t>(input)].slope = 1;
            const Dual result = evaluator(sample.formula->root(), duals);
            EXPECT_NEAR(result.value, value, 1e-9 * (1 + std::abs(value)));
            const double at = sample.values[static_cast<std::size_t>(input)];
            const bool isCut = sample.isWhole || sample.formula->recording().at(input).bits != 0;
            const double h = isCut ? std::max(2.0, std::round(0.002 * std::abs(at))) : 1e-5 * (1 + std::abs(at));
            auto moved = sample.values;
            moved[static_cast<std::size_t>(input)] = at + h;
            const double above = run(moved);
            moved[static_cast<std::size_t>(input)] = at - h;
            const double below = run(moved);
            if (!std::isfinite(above) || !std::isfinite(below)) continue;  // out of what it takes
            const double difference = (above - below) / (2 * h);
            // What cuts may do: some steps of the result at either end.
            const double cuts = sample.isWhole ? 3 * sample.step / h : 0;
            EXPECT_NEAR(result.slope, difference, 2e-3 * std::abs(difference) + cuts + 1e-12)
                << sample.formula->recording().at(input).name;
        }
    });
    EXPECT_GE(seen, 60);
}

/// Whatever the formula gives for inputs inside their bounds lies inside its bounds; and at a point they are the point.
TEST(Evaluate, BoundsOfDecodersHoldWhateverTheirFormulasGive) {
    std::mt19937 random(11);
    int compared = 0;
    forEveryReading([&](const Sample& sample) {
        FormulaRunner<double> run(*sample.formula);
        ExpressionEvaluator<Bounds> evaluator(sample.formula->recording());
        std::vector<Bounds> exact(sample.values.begin(), sample.values.end());
        const Bounds point = evaluator(sample.formula->root(), exact);
        const double value = run(sample.values);
        EXPECT_TRUE(point.contains(value)) << point.low << " … " << point.high << ", not " << value;
        EXPECT_LT(point.high - point.low, 1e-6 * (1 + std::abs(value)));
        for (const double share : {1e-3, 0.02}) {
            std::vector<Bounds> bounds(sample.values.begin(), sample.values.end());
            for (const std::int32_t input : sample.inputs) {
                const double at = sample.values[static_cast<std::size_t>(input)],
                             room = std::round(share * std::abs(at)) + 1;
                bounds[static_cast<std::size_t>(input)] = {at - room, at + room};
            }
            const Bounds all = evaluator(sample.formula->root(), bounds);
            for (int i = 0; i < 40; ++i) {
                auto inside = sample.values;
                for (const std::int32_t input : sample.inputs) {
                    const Bounds& one = bounds[static_cast<std::size_t>(input)];
                    const double drawn = std::uniform_real_distribution<double>(one.low, one.high)(random);
                    inside[static_cast<std::size_t>(input)] =
                        sample.formula->recording().at(input).bits != 0 ? std::round(drawn) : drawn;
                }
                const double given = run(inside);
                if (std::isnan(given)) continue;
                EXPECT_TRUE(all.contains(given)) << all.low << " … " << all.high << ", not " << given;
                ++compared;
            }
        }
    });
    EXPECT_GE(compared, 2000);
}

/// An integer that may not fit its width is told: 30000 + 40000 in 16 bits is nothing to rely on, in 32 it is.
TEST(Evaluate, TellsWhatMayNotFitItsWidth) {
    const auto sum = [](auto width, Bounds second) {
        using Rep = decltype(width);
        Recording in;
        const Recorded a = Recorded::leaf(in, Op::Input, "a", "", 1), b = Recorded::leaf(in, Op::Input, "b", "", 1);
        const Whole<Rep> total = wholeOf<Rep>(a) + wholeOf<Rep>(b);
        ExpressionEvaluator<Bounds> evaluator(in);
        std::vector<Bounds> inputs(in.size());
        inputs[static_cast<std::size_t>(a.indexIn(in))] = {0, 30000};
        inputs[static_cast<std::size_t>(b.indexIn(in))] = second;
        const Bounds all = evaluator(total.indexIn(in), inputs);
        return std::pair(evaluator.mayWrap(), all.high);
    };
    EXPECT_EQ(sum(std::int32_t{}, {0, 40000}), std::pair(false, 70000.0));
    EXPECT_EQ(sum(std::int32_t{}, {0, 2147453647}), std::pair(false, 2147483647.0));  // the last that fits
    EXPECT_TRUE(sum(std::int32_t{}, {0, 2147453648}).first);
    EXPECT_FALSE(sum(std::uint32_t{}, {0, 4294967295.0}).first);  // unsigned ones wrap by the language's rule
}

}  // namespace
}  // namespace fg
