// A formula is written once: what is printed of it computes the same, its slope is its slope, its bounds hold it. For
// every family, network, converter and correction there is, over their ranges.

#include "converters/kind.h"
#include "formula/text.h"
#include "formula_reader.h"
#include "path/default_gauge.h"
#include "sensors/family.h"
#include "sensors/thermocouple.h"
#include "support.h"
#include "wiring/kind.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

/// A network or a sensor with places to try it at.
struct Subject {
    std::string name;
    std::shared_ptr<const Transfer> transfer;
    std::vector<double> places;  ///< on the forward side
};

std::vector<double> placesOf(Interval within) {
    std::vector<double> places;
    for (const double share : {0.013, 0.21, 0.37, 0.47, 0.68, 0.83, 0.991})
        places.push_back(within.low + share * within.width());
    return places;
}

/// Every analog part with the examples of a new gauge where it leaves something open, ratiometric and on a rail.
std::vector<Subject> sensors() {
    std::vector<Subject> all;
    std::set<std::string> families;
    for (const Part& part : test::catalogue().parts()) {
        const SensorFamily* family = findSensorFamily(part.family);
        const GaugeSpec first = defaultGauge(part);
        const Interval range{std::max(part.range.low, usualSpan(part.quantity).low - 60),
                             std::min(part.range.high, 3 * usualSpan(part.quantity).high)};
        auto made = family->make(first.sensor.parameters.over(part.parameters), {part.quantity, part.range, 4.9});
        EXPECT_TRUE(made) << part.id << ": " << made.error().message();
        if (!made) continue;
        families.insert(part.family);
        const Interval own = (*made)->range();
        all.push_back(
            {part.id, std::move(*made), placesOf({std::max(range.low, own.low), std::min(range.high, own.high)})});
    }
    // Families that no part of the catalogue has are tried by their examples alone.
    for (const SensorFamily& family : sensorFamilies()) {
        if (families.count(std::string(family.id))) continue;
        Parameters parameters;
        for (const ParameterSpec& one : family.parameters(Quantity::Temperature))
            if (one.example) parameters.set(one.id, *one.example);
        auto made = family.make(parameters, {Quantity::Temperature, {0, 50}, 4.9});
        if (made) all.push_back({std::string(family.id), std::move(*made), placesOf((*made)->range())});
    }
    return all;
}

/// Every network with its examples, dividers on both sides and with all their extras.
std::vector<Subject> networks() {
    std::vector<Subject> all;
    const auto add = [&](const WiringKind& kind, const std::string& name, const Parameters& parameters) {
        auto made = kind.make(parameters, {3.3, true});
        ASSERT_TRUE(made) << name << ": " << made.error().message();
        const double top = kind.input == Quantity::Current       ? 0.0003
                           : kind.input == Quantity::Capacitance ? 250e-12
                           : kind.input == Quantity::Resistance  ? 25000
                           : kind.input == Quantity::Frequency   ? 8000
                                                                 : 3;
        all.push_back({name, std::move(*made), placesOf({0, top})});
    };
    for (const WiringKind& kind : wiringKinds()) {
        const Parameters start = startWiring(kind);
        add(kind, std::string(kind.id), start);
        if (kind.id == "divider")
            for (const char* side : {"low", "high"}) {
                Parameters more = start;
                more.set("sensor_side", std::string(side));
                more.set("lead_ohm", 12.0);
                add(kind, std::string("divider with a cable, ") + side, more);
                more.set("parallel_ohm", 47000.0);
                add(kind, std::string("divider with everything, ") + side, more);
            }
        if (kind.id == "current-source")
            add(kind, "current source with a cable", Parameters{{"lead_ohm", 3.0}}.over(start));
        if (kind.id == "amplifier") add(kind, "amplifier with an offset", Parameters{{"offset_V", -0.02}}.over(start));
        if (kind.output == Quantity::Time && kind.input == Quantity::Capacitance)
            add(kind, "oscillator with stray capacitance", Parameters{{"stray_F", 8e-12}}.over(start));
    }
    return all;
}

std::vector<Subject> everything() {
    std::vector<Subject> all = sensors();
    for (Subject& one : networks()) all.push_back(std::move(one));
    return all;
}

/// The names of a recording with their values; steps come from the lines, which know the branches taken.
void collect(const Recording& recording, const std::vector<TraceLine>& lines, test::FormulaReader& reader) {
    for (std::int32_t i = 0; i < static_cast<std::int32_t>(recording.size()); ++i) {
        const Node& node = recording.at(i);
        if (node.op == Op::Input || node.op == Op::Parameter || node.op == Op::Aside)
            reader.values.emplace(node.name, node.value);
    }
    for (const TraceLine& line : lines) reader.values.emplace(line.name, line.value);
}

test::FormulaReader readerFor(const Subject& subject) {
    test::FormulaReader reader;
    for (const char* type : {"K", "J", "T", "N", "E", "S", "R", "B"})
        reader.functions[std::string("E_") + type] = [type](double t) {
            return thermocouple(type, 0).value()->forward(t);
        };
    reader.functions["f"] = [subject](double x) { return subject.transfer->forward(x); };
    return reader;
}

TEST(Formula, EveryPrintedLineReadsBack) {
    int lines = 0;
    for (const Subject& subject : everything())
        for (const double x : subject.places) {
            const double y = subject.transfer->forward(x);
            if (!std::isfinite(y)) continue;
            for (const bool forwards : {true, false}) {
                Recording recording;
                const Recorded result = forwards ? subject.transfer->recordForward(recording, x)
                                                 : subject.transfer->recordInverse(recording, y);
                const double value = forwards ? y : subject.transfer->inverse(y);
                if (std::isnan(value) && std::isnan(result.value())) continue;
                EXPECT_EQ(result.value(), value) << subject.name << ": the recording computes what the formula does";
                test::FormulaReader numbers = readerFor(subject), symbols = readerFor(subject);
                const auto trace = linesOf(result);
                collect(recording, trace, symbols);
                for (const TraceLine& line : trace) {
                    ++lines;
                    test::expectReadsBack(numbers, line.formula, line, subject.name);
                    test::expectReadsBack(symbols, line.symbols, line, subject.name + ", in symbols");
                }
            }
        }
    EXPECT_GT(lines, 2500);
}

TEST(Formula, EveryLineOfEveryConverterReadsBack) {
    for (const ConverterPart& part : test::catalogue().converters()) {
        Parameters parameters = part.parameters;
        if (parameters.numberOr("reference_V", 0) <= 0) parameters.set("reference_V", 3.0);
        for (const double law : {0, 1}) {
            if (part.kind == "adc" && law == 1) parameters.set("code_law", std::string("2^n-1"));
            if (part.kind == "adc" && law == 1) parameters.set("rounding", std::string("down"));
            const auto converter = findConverterKind(part.kind)->make(parameters);
            ASSERT_TRUE(converter) << part.id << converter.error().message();
            for (const double share : {0.0, 0.003, 0.31, 0.5, 0.77, 1.0}) {
                const double code =
                    std::round(static_cast<double>(converter->minCode()) + share * (converter->codeCount() - 1));
                test::FormulaReader reader;
                auto lines = converter->explainInput(code);
                for (TraceLine& line : converter->explainCode(converter->inputOf(code) * 1.0003)) lines.push_back(line);
                for (TraceLine& line : converter->explainWord(
                         static_cast<double>(converter->wordOfCode(static_cast<std::int64_t>(code)))))
                    lines.push_back(line);
                ASSERT_GE(lines.size(), 3u) << part.id;
                for (const TraceLine& line : lines) test::expectReadsBack(reader, line.formula, line, part.id);
                EXPECT_DOUBLE_EQ(converter->explainInput(code).back().value, converter->inputOf(code)) << part.id;
            }
        }
    }
}

TEST(Formula, ADualsSlopeIsTheFinitesDifference) {
    for (const Subject& subject : everything()) {
        const Transfer& transfer = *subject.transfer;
        const auto nominal = transfer.nominalParameters<double>();
        for (const double x : subject.places) {
            const double y = transfer.forward(x), h = 1e-5 * std::max(std::abs(x), 1e-3 * subject.places.back());
            const double slope = transfer.forwardWith(transfer.nominalParameters<Dual>(), Dual(x, 1)).slope;
            const double difference = (transfer.forward(x + h) - transfer.forward(x - h)) / (2 * h);
            EXPECT_NEAR(slope, difference, 2e-4 * std::abs(difference)) << subject.name << " at " << x;
            if (!std::isfinite(transfer.inverse(y))) continue;
            // The slope of the inverse is one over it.
            const double back = transfer.inverseWith(transfer.nominalParameters<Dual>(), Dual(y, 1)).slope;
            EXPECT_NEAR(back * slope, 1, 2e-6) << subject.name << " at " << x;
            for (std::size_t i = 0; i < nominal.size(); ++i) {
                if (nominal[i] == 0) continue;
                auto duals = transfer.nominalParameters<Dual>();
                duals[i].slope = 1;
                auto more = nominal, less = nominal;
                const double step = 1e-5 * std::abs(nominal[i]);
                more[i] += step;
                less[i] -= step;
                const double moved = (transfer.forwardWith(more, x) - transfer.forwardWith(less, x)) / (2 * step);
                EXPECT_NEAR(transfer.forwardWith(duals, Dual(x)).slope, moved,
                            1e-5 * std::abs(moved) + 1e-9 * std::abs(y / nominal[i]))
                    << subject.name << " at " << x << ", " << transfer.parameters()[i].id;
            }
        }
    }
}

TEST(Formula, BoundsHoldWhateverTheDoubleGives) {
    std::mt19937_64 random(1);
    std::uniform_real_distribution<double> share(-1, 1);
    int tried = 0;
    for (const Subject& subject : everything()) {
        const Transfer& transfer = *subject.transfer;
        const auto nominal = transfer.nominalParameters<double>();
        for (const double x : subject.places) {
            const double wide = 0.02 * std::abs(x);
            std::vector<Bounds> bounds;
            for (const double value : nominal)
                bounds.push_back({value - 0.01 * std::abs(value), value + 0.01 * std::abs(value)});
            const Bounds forwards = transfer.forwardWith(bounds, Bounds(x - wide, x + wide));
            const double ends[] = {transfer.forward(x - wide), transfer.forward(x + wide)};
            const Bounds back = transfer.inverseWith(transfer.nominalParameters<Bounds>(),
                                                     Bounds(std::min(ends[0], ends[1]), std::max(ends[0], ends[1])));
            for (int i = 0; i < 20; ++i) {
                std::vector<double> drawn;
                for (const double value : nominal) drawn.push_back(value + 0.01 * std::abs(value) * share(random));
                const double inside = x + wide * share(random), y = transfer.forwardWith(drawn, inside);
                if (std::isnan(forwards.low) || !std::isfinite(y)) continue;
                ++tried;
                EXPECT_TRUE(forwards.contains(y))
                    << subject.name << ": " << y << " in " << forwards.low << " … " << forwards.high;
                const double again = transfer.inverse(transfer.forward(inside));
                EXPECT_TRUE(std::isnan(back.low) || back.contains(again)) << subject.name;
            }
        }
    }
    EXPECT_GT(tried, 10000);
}

TEST(Formula, BranchesKeepBothSidesAndPrintTheOneThatHolds) {
    Recording recording;
    const Recorded x = Recorded::leaf(recording, Op::Input, "x", "V", -2);
    const Recorded y = step("y", "", "",
                            choose(
                                x < 0, [&] { return 1 - x; }, [&] { return sqrt(x); }));
    EXPECT_EQ(linesOf(y).front().formula, "1 − (−2 V)");
    EXPECT_EQ(linesOf(y).front().symbols, "1 − x");
    bool hasRoot = false;
    for (std::int32_t i = 0; i < static_cast<std::int32_t>(recording.size()); ++i)
        hasRoot = hasRoot || recording.at(i).op == Op::Sqrt;
    EXPECT_TRUE(hasRoot);
    // Bounds that may lie on either side hold what both give.
    const Bounds b = choose(
        Bounds(-1, 4) < Bounds(0), [] { return Bounds(10); }, [] { return Bounds(2); });
    EXPECT_TRUE(b.contains(2) && b.contains(10));
    EXPECT_TRUE(std::isnan(require(Bounds(-1, 1) > Bounds(0), [] { return Bounds(1); }).low));
}

TEST(Formula, OrderOfOperationsIsKept) {
    Recording recording;
    const auto leaf = [&](const char* name, double value) {
        return Recorded::leaf(recording, Op::Input, name, "", value);
    };
    const Recorded a = leaf("a", 2), b = leaf("b", 3), c = leaf("c", -4);
    const auto text = [&](const Recorded& x) { return formulaText(recording, x.indexIn(recording), Named::Symbols); };
    const auto numbers = [&](const Recorded& x) {
        return formulaText(recording, x.indexIn(recording), Named::Numbers);
    };
    EXPECT_EQ(text(a - (b - c)), "a − (b − c)");
    EXPECT_EQ(text(a - b - c), "a − b − c");
    EXPECT_EQ(text(a * (b * c)), "a × (b × c)");
    EXPECT_EQ(text(a / (b * c)), "a/(b × c)");
    EXPECT_EQ(text((a + b) * c), "(a + b) × c");
    EXPECT_EQ(text(a + b * c), "a + b × c");
    EXPECT_EQ(text(pow(a + b, -c)), "(a + b)^(−c)");
    EXPECT_EQ(numbers(c - a), "−4 − 2");
    EXPECT_EQ(numbers(a * c), "2 × (−4)");
    EXPECT_EQ(numbers(exp(-(a / b))), "exp(−2/3)");
    EXPECT_EQ(valueText(0.0000123, "A", 8).joined(), "12.3 µA");
    EXPECT_EQ(valueText(25, "degC", 8).joined(), "25 °C");
}

}  // namespace
}  // namespace fg
