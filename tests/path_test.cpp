#include "path/default_gauge.h"
#include "path/span_curves.h"
#include "path/span_table.h"
#include "path/threshold.h"
#include "support.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

using test::gluePot;
using test::pathOf;

// Figures of the glue pot worked by hand: code 2155 of 4096 at 3.3 V, 2.2 kΩ above, R25 10 kΩ, B 3950 K.
TEST(AnalogPath, CodeToReadingStepByStep) {
    const AnalogPath path = pathOf(gluePot());
    const auto evaluation = path.evaluate({Stage::Converter, 2155});
    ASSERT_TRUE(evaluation);
    const double voltage = 3.3 * 2155 / 4096, resistance = 2200 * 2155.0 / (4096 - 2155);
    const double temperature = 1 / (1 / 298.15 + std::log(resistance / 10000) / 3950) - 273.15;
    EXPECT_NEAR(evaluation->at(Stage::Wiring).value, voltage, 1e-12);
    EXPECT_NEAR(evaluation->at(Stage::Sensor).value, resistance, 1e-8);
    EXPECT_NEAR(evaluation->reading(), temperature, 1e-10);
    EXPECT_NEAR(evaluation->reading(), 60.50, 0.005);
    EXPECT_EQ(evaluation->at(Stage::World).value, evaluation->reading());
    EXPECT_NEAR(path.countsPerUnit(evaluation->reading()), 36.24, 0.02);
}

// A truncating converter takes the middle of the cell: 1.7366 V, 2443.8 Ω, 60.484 °C.
TEST(AnalogPath, TruncatingConverterReadsHalfACodeHigher) {
    GaugeSpec spec = gluePot();
    spec.converter.parameters.set("rounding", std::string("down"));
    const auto evaluation = pathOf(spec).evaluate({Stage::Converter, 2155}).value();
    EXPECT_NEAR(evaluation.at(Stage::Wiring).value, 1.7366, 5e-5);
    EXPECT_NEAR(evaluation.at(Stage::Sensor).value, 2443.8, 0.05);
    EXPECT_NEAR(evaluation.reading(), 60.484, 5e-4);
}

TEST(AnalogPath, WorstCountsPerDegreeOverTheSpan) {
    // 23.9 at 20 °C with R1 at nominal: between the worst-case figures of R1 at its tolerance.
    const GaugeSpec spec = gluePot();
    const SpanCurve curve = countsPerUnitOver(spec, pathOf(spec), 141);
    EXPECT_EQ(curve.world[curve.worst()], 20);
    // By hand: dcode/dT = 4096·Rf·|dR/dT|/(R + Rf)² with dR/dT = −R·B/T².
    const double r = 10000 * std::exp(3950 * (1 / 293.15 - 1 / 298.15));
    EXPECT_NEAR(curve.value[curve.worst()], 4096 * 2200 * r * 3950 / (293.15 * 293.15) / std::pow(r + 2200, 2), 1e-4);
}

TEST(AnalogPath, AnswersFromEveryStageTheSame) {
    const AnalogPath path = pathOf(gluePot());
    const Evaluation reference = path.evaluate({Stage::World, 61}).value();
    for (const Stage stage : {Stage::Sensor, Stage::Wiring}) {
        const Evaluation evaluation = path.evaluate({stage, reference.at(stage).value}).value();
        for (const Stage other : kStages) {
            EXPECT_NEAR(evaluation.at(other).value, reference.at(other).value,
                        1e-9 * (1 + std::abs(reference.at(other).value)))
                << stageName(stage) << " -> " << stageName(other);
            EXPECT_NEAR(evaluation.at(other).exact, reference.at(other).exact,
                        1e-9 * (1 + std::abs(reference.at(other).exact)));
        }
    }
    for (const Stage stage : {Stage::Formula, Stage::Correction, Stage::Reading}) {
        const Evaluation evaluation = path.evaluate({stage, 61}).value();
        EXPECT_NEAR(evaluation.at(Stage::World).value, 61, 1e-12);
        EXPECT_EQ(evaluation.at(Stage::Converter).value, reference.at(Stage::Converter).value);
        EXPECT_DOUBLE_EQ(evaluation.reading(), 61);  // what was typed is not rounded to a code
    }
}

TEST(AnalogPath, DownstreamOfTheEntryTheCodeIsRounded) {
    const Evaluation evaluation = pathOf(gluePot()).evaluate({Stage::World, 61}).value();
    const StageValue& code = evaluation.at(Stage::Converter);
    EXPECT_EQ(code.value, std::round(code.exact));
    EXPECT_NE(code.value, code.exact);
    EXPECT_NE(evaluation.reading(), 61);
    EXPECT_NEAR(evaluation.reading(), 61, 0.5 / 36);
    EXPECT_NEAR(evaluation.at(Stage::Reading).exact, 61, 1e-9);
}

TEST(AnalogPath, ClippedCodesAreLimitsAndTurnWithTheSlope) {
    const AnalogPath falling = pathOf(gluePot());
    const Evaluation top = falling.evaluate({Stage::Converter, 4095}).value();
    EXPECT_EQ(top.at(Stage::Converter).clip, Clip::AtLeast);
    EXPECT_EQ(top.at(Stage::Sensor).clip, Clip::AtLeast);
    EXPECT_EQ(top.at(Stage::Reading).clip, Clip::AtMost);  // at least that much resistance, so at most that warm
    const Evaluation bottom = falling.evaluate({Stage::Converter, 0}).value();
    EXPECT_EQ(bottom.at(Stage::Reading).clip, Clip::AtLeast);
    EXPECT_TRUE(std::isfinite(bottom.reading()));  // bounded by the edge of the last cell: R = 2200·0.5/4095.5
    EXPECT_NEAR(bottom.reading(), 1 / (1 / 298.15 + std::log(2200 * 0.5 / 4095.5 / 10000) / 3950) - 273.15, 1e-9);
    const Evaluation hot = pathOf(test::directGauge("lm35", 10, 1.1)).evaluate({Stage::World, 150}).value();
    EXPECT_EQ(hot.at(Stage::Converter).value, 1023);
    EXPECT_EQ(hot.at(Stage::Reading).clip, Clip::AtLeast);
    EXPECT_EQ(hot.at(Stage::World).clip, Clip::None);  // what was typed is what it is
    EXPECT_NEAR(hot.reading(), 110.0 * 1023 / 1024, 1e-9);
}

TEST(AnalogPath, SaysWhyAStageHasNoValue) {
    const AnalogPath path = pathOf(gluePot());
    const auto beyond = path.evaluate({Stage::Wiring, 5.0}).value();  // above the source: no resistance does that
    EXPECT_TRUE(std::isnan(beyond.at(Stage::Sensor).value));
    EXPECT_NE(beyond.at(Stage::Sensor).problem.find("no sensor gives 5 V"), std::string::npos)
        << beyond.at(Stage::Sensor).problem;
    EXPECT_EQ(beyond.at(Stage::Converter).clip, Clip::AtLeast);
    EXPECT_EQ(path.evaluate({Stage::Converter, 4096}).error().expected,
              "a code the 12-bit converter can give, 0 to 4095");
    EXPECT_FALSE(path.evaluate({Stage::Converter, -1}));
    EXPECT_FALSE(path.evaluate({Stage::World, std::nan("")}));
    EXPECT_TRUE(path.evaluate({Stage::Converter, 2155.5}));  // the mean of several conversions
}

TEST(AnalogPath, CorrectionStandsBetweenWorldAndFormulaBothWays) {
    GaugeSpec spec = gluePot();
    spec.correction = {"line", -0.121, 0.01038, 0.275};
    const AnalogPath path = pathOf(spec);
    const double plain = pathOf(gluePot()).reading(2155);
    const Evaluation evaluation = path.evaluate({Stage::Converter, 2155}).value();
    EXPECT_NEAR(evaluation.at(Stage::Formula).value, plain, 1e-12);
    EXPECT_NEAR(evaluation.at(Stage::Correction).amount, -0.121 + 0.01038 * plain, 1e-12);
    EXPECT_NEAR(evaluation.reading(), plain + evaluation.at(Stage::Correction).amount, 1e-12);
    EXPECT_NEAR(path.exactCode(evaluation.at(Stage::World).value), 2155, 1e-8);
    spec.correction.slope = -1;
    EXPECT_EQ(AnalogPath::build(spec, test::catalogue()).error().where, "correction.slope");
}

TEST(AnalogPath, BulkAndTableAreBitEqualToTheScalarFormula) {
    for (GaugeSpec spec : {gluePot(), test::directGauge("tmp36", 12, 3.3)}) {
        spec.correction = {"offset", 0.25, 0, 0};
        const AnalogPath path = pathOf(spec);
        const std::vector<double> table = path.table();
        ASSERT_EQ(table.size(), 4096u);
        std::vector<double> bulk(table.size());
        for (std::size_t code = 0; code < bulk.size(); ++code) bulk[code] = static_cast<double>(code);
        path.readings(bulk, bulk);
        for (std::size_t code = 0; code < table.size(); ++code) {
            const double scalar = path.reading(static_cast<double>(code));
            EXPECT_EQ(std::memcmp(&table[code], &bulk[code], sizeof(double)), 0) << code;
            if (!std::isnan(scalar)) {
                EXPECT_EQ(table[code], scalar) << code;
            }
            // And all of them what they should be, by hand: 10 mV a degree above 500 mV; the pot's divider and Beta
            // law.
            const auto c = static_cast<double>(code);
            const double byHand = spec.sensor.part == "tmp36"
                                      ? 100 * (c * 3.3 / 4096 - 0.5)
                                      : 1 / (1 / 298.15 + std::log(2200 * c / (4096 - c) / 10000) / 3950) - 273.15;
            if (code > 0) {
                EXPECT_NEAR(table[code], byHand + 0.25, 1e-9) << code;
            }
        }
    }
}

TEST(AnalogPath, NeighbourCodesEncloseAThreshold) {
    const AnalogPath path = pathOf(gluePot());
    const auto neighbours = path.neighbourCodes(45);
    ASSERT_EQ(neighbours.size(), 2u);
    EXPECT_EQ(neighbours[1].code, neighbours[0].code + 1);
    EXPECT_GT(neighbours[0].reading, 45);  // falls with the code
    EXPECT_LT(neighbours[1].reading, 45);
    EXPECT_TRUE(path.neighbourCodes(-272).size() < 2);
}

TEST(AnalogPath, RatiometricDividerDoesNotMindItsReference) {
    GaugeSpec other = gluePot();
    other.converter.parameters.set("reference_V", 2.9);
    EXPECT_NEAR(pathOf(other).reading(1500), pathOf(gluePot()).reading(1500), 1e-10);
    other.wiring.parameters.set("source", std::string("rail"));
    other.wiring.parameters.set("source_V", 3.3);
    EXPECT_GT(std::abs(pathOf(other).reading(1500) - pathOf(gluePot()).reading(1500)), 1);
}

TEST(AnalogPath, TraceEndsWithTheReadingAndNamesItsSources) {
    GaugeSpec spec = gluePot();
    spec.correction = {"offset", -0.3, 0, 0};
    const AnalogPath path = pathOf(spec);
    for (const Entry& entry : {Entry{Stage::Converter, 2155}, Entry{Stage::World, 61}, Entry{Stage::Sensor, 2500},
                               Entry{Stage::Wiring, 1.7}}) {
        const Evaluation evaluation = path.evaluate(entry).value();
        const auto lines = path.trace(evaluation);
        ASSERT_GE(lines.size(), 6u);
        EXPECT_NEAR(lines.back().value, evaluation.reading(), 1e-12);
        for (const TraceLine& line : lines) {
            EXPECT_FALSE(line.source.empty()) << line.name;
            EXPECT_FALSE(line.formula.empty()) << line.name;
        }
    }
}

TEST(AnalogPath, BuildNamesTheFieldThatDoesNotFit) {
    const auto where = [](auto change) {
        GaugeSpec spec = gluePot();
        change(spec);
        const auto path = AnalogPath::build(spec, test::catalogue());
        return path ? std::string("built") : path.error().where;
    };
    EXPECT_EQ(where([](GaugeSpec& s) { s.sensor.part = "nonesuch"; }), "sensor.part");
    EXPECT_EQ(where([](GaugeSpec& s) {
                  s.quantity = Quantity::Pressure;
                  s.reading.unit = "Pa";
              }),
              "sensor.part");
    EXPECT_EQ(where([](GaugeSpec& s) { s.wiring.kind = "direct"; }), "wiring.kind");
    EXPECT_EQ(where([](GaugeSpec& s) { s.wiring.kind = "magic"; }), "wiring.kind");
    EXPECT_EQ(where([](GaugeSpec& s) { s.wiring.parameters.set("fixed_oms", 1.0); }), "wiring.fixed_oms");
    EXPECT_EQ(where([](GaugeSpec& s) { s.sensor.parameters.set("r25_ohm", -1.0); }), "sensor.parameters: r25_ohm");
    EXPECT_EQ(where([](GaugeSpec& s) { s.converter.parameters.set("bits", 40.0); }), "converter.bits");
    EXPECT_EQ(where([](GaugeSpec& s) { s.converter.part = "nonesuch"; }), "converter.part");
    EXPECT_EQ(where([](GaugeSpec& s) { s.reading.unit = "Pa"; }), "reading.unit");
    EXPECT_EQ(where([](GaugeSpec& s) { s.reading.span = {90, 20}; }), "reading.span");
    EXPECT_EQ(where([](GaugeSpec& s) { s.correction.kind = "curve"; }), "correction.kind");
}

TEST(DefaultGauge, OfEveryPartAndFamilyCanBeBuilt) {
    for (const Part& part : test::catalogue().parts())
        EXPECT_TRUE(AnalogPath::build(defaultGauge(part), test::catalogue())) << part.id;
    for (const Quantity quantity :
         {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure, Quantity::Illuminance}) {
        const Part family = test::catalogue().partOrFamily("linear-voltage", quantity).value();
        const auto path = AnalogPath::build(defaultGauge(family), test::catalogue());
        EXPECT_TRUE(path) << path.error().message();
    }
}

TEST(SpanCurves, MixingTheLawsCostsWhatTheAlgebraSays) {
    // Straight part: reading ∝ code·LSB, so the other law multiplies the voltage by 2^n/(2^n − 1).
    GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);
    spec.reading.span = {0, 100};
    const SpanCurve curve = lawDifferenceOver(spec, test::catalogue(), pathOf(spec), 3);
    EXPECT_NEAR(curve.value[1], (0.5 + 0.5) / 0.01 / 1023, 1e-9);
    EXPECT_NEAR(curve.value[2], (0.5 + 1.0) / 0.01 / 1023, 1e-9);
    EXPECT_NEAR(rangeUsedBy(spec, pathOf(spec)).fraction, 1.0 / 5, 1e-12);
}

TEST(SpanTable, RowsCarryValueVoltsAndCode) {
    // tmp36, 10 bits of 5 V: 20 °C is 700 mV, 143.36 codes; code 143 is 698.242 mV, 19.8242 °C.
    GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);
    spec.reading.span = {20, 31};
    const AnalogPath path = test::pathOf(spec);
    const auto rows = spanTable(spec, path, 5).value();
    ASSERT_EQ(rows.size(), 4u);  // 20, 25, 30 and the end
    EXPECT_EQ(rows.back().value, 31);
    EXPECT_NEAR(rows[0].exact, 143.36, 1e-9);
    EXPECT_EQ(rows[0].code.value, 143);
    EXPECT_NEAR(rows[0].codeValue, 100 * (143 * 5.0 / 1024 - 0.5), 1e-9);
    const std::string csv = spanTableCsv(spec, path, rows);
    EXPECT_NE(csv.find("\r\n20,0.7,143,0x08F,0010001111,19.824219,\r\n"), std::string::npos) << csv;
    spec.reading.span = {0, 1};  // a file for programs: no typographic minus
    EXPECT_NE(spanTableCsv(spec, path, spanTable(spec, path, 1).value()).find(",-0.1953125,"), std::string::npos);
    EXPECT_EQ(spanTable(spec, path, 0).error().where, "step");
    EXPECT_FALSE(spanTable(spec, path, 1e-9));
}

TEST(Threshold, RoundsToTheSideAskedForOnRisingAndFallingPaths) {
    const AnalogPath rising = test::pathOf(test::directGauge("tmp36", 10, 5.0));  // 45 °C is 950 mV, 194.56
    using enum Promptness;
    // Code 195 is what 194.5 … 195.5 give, 44.97 … 45.46 °C: it holds 45 °C, and begins before it.
    EXPECT_EQ(thresholdFor(rising, 45, true, NeverLate)->text(), "code >= 195");
    EXPECT_EQ(thresholdFor(rising, 45, true, NeverLate)->strictText(), "code > 194");
    EXPECT_NEAR(thresholdFor(rising, 45, true, NeverLate)->edge, (194.5 * 5 / 1024 - 0.5) / 0.01, 1e-9);
    EXPECT_EQ(thresholdFor(rising, 45, true, NeverEarly)->text(), "code >= 196");
    EXPECT_EQ(thresholdFor(rising, 45, false, NeverLate)->text(), "code <= 195");  // from above
    EXPECT_EQ(thresholdFor(rising, 45, false, NeverEarly)->text(), "code <= 194");
    EXPECT_EQ(thresholdFor(rising, 45, false, NeverEarly)->strictText(), "code < 195");
    const AnalogPath falling = test::pathOf(test::gluePot());
    EXPECT_LE(thresholdFor(falling, 60, true, NeverLate)->edge, 60);  // warned before, as the code falls
    EXPECT_GE(thresholdFor(falling, 60, true, NeverEarly)->edge, 60);
    EXPECT_FALSE(thresholdFor(rising, 5000, true, NeverLate));
    // The comparison against the converter itself, at 1000 values about the limit, for both roundings and both slopes.
    GaugeSpec down = test::directGauge("tmp36", 10, 5.0);
    down.converter.parameters.set("rounding", std::string("down"));
    for (const AnalogPath& path : {rising, falling, test::pathOf(down)}) {
        for (const double limit : {20.3, 45.0, 61.7}) {
            for (const bool up : {true, false}) {
                const Threshold late = thresholdFor(path, limit, up, NeverLate).value(),
                                early = thresholdFor(path, limit, up, NeverEarly).value();
                for (int i = -500; i <= 500; ++i) {
                    const double value = limit + i * 0.01;
                    const double code = std::floor(path.exactCode(value) + 0.5);
                    const auto isTrue = [&](const Threshold& t) {
                        return t.isAtLeast ? code >= static_cast<double>(t.code) : code <= static_cast<double>(t.code);
                    };
                    if ((up ? value >= limit : value <= limit) && !isTrue(late))
                        FAIL() << "late at " << value << " for " << limit;
                    if (isTrue(early) && (up ? value < limit - 1e-9 : value > limit + 1e-9))
                        FAIL() << "early at " << value << " for " << limit;
                }
            }
        }
    }
}

// MCP9701: 19.53 mV a degree from 400 mV, so 40 °C is 1.1812 V, 241.91 codes of 5 V/1024.
TEST(Threshold, CellsHaveEdges) {
    const AnalogPath path = test::pathOf(test::directGauge("mcp9701", 10, 5.0));
    EXPECT_EQ(thresholdFor(path, 40, true, Promptness::NeverEarly)->code, 243);
    EXPECT_EQ(thresholdFor(path, 40, true, Promptness::NeverLate)->code, 242);
    const ThresholdPair pair = thresholdPair(path, 40, 2, true).value();
    EXPECT_EQ(pair.on.text(), "code >= 243");
    EXPECT_EQ(pair.off.text(), "code <= 233");  // 38 °C is 233.91: its upper edge 233.5 is below
    EXPECT_EQ(pair.between, 9);
    EXPECT_FALSE(thresholdPair(path, 40, 0, true));
    EXPECT_FALSE(thresholdPair(path, 40, -1, true));
}

TEST(IntegerConstants, StayIn32BitsAndNearTheFormula) {
    const GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);
    const AnalogPath path = test::pathOf(spec);
    const auto constants = integerConstants(spec, path, 100).value();
    for (std::int64_t code = 0; code < 1024; ++code) {
        const std::int64_t product = code * constants.multiplier, sum = product + constants.addend;
        ASSERT_LE(std::abs(product), 2147483647);
        ASSERT_LE(std::abs(sum), 2147483647);
        // Hundredths: 48.828125 · code − 5000, worked here.
        EXPECT_NEAR(static_cast<double>(sum >> constants.shift), 48.828125 * static_cast<double>(code) - 5000, 0.51)
            << code;
    }
    EXPECT_LE(constants.worstError, 0.0051);
    EXPECT_FALSE(integerConstants(test::gluePot(), test::pathOf(test::gluePot()), 100));  // curved
    EXPECT_FALSE(integerConstants(spec, path, 1e9));
}

}  // namespace
}  // namespace fg
