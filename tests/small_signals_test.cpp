// Thermocouples, bridges, chip sensors, pulses and frequencies against printed tables, and the converters that take
// them.

#include "converters/kind.h"
#include "path/default_gauge.h"
#include "sensors/family.h"
#include "sensors/thermocouple.h"
#include "support.h"
#include "uncertainty/budget.h"
#include "wiring/divider.h"
#include "wiring/kind.h"

#include <cmath>

namespace fg {
namespace {

using test::sensorOf;

struct TypeTable {
    const char* type;
    double from, to;
    std::vector<Point> points;  // °C, mV
};

// IEC 60584-1:2013, tables of the reference functions, printed to 1 µV.
const std::vector<TypeTable> kTables{
    {"K",
     -270,
     1372,
     {{-270, -6.458},
      {-200, -5.891},
      {-100, -3.554},
      {0, 0},
      {100, 4.096},
      {500, 20.644},
      {1000, 41.276},
      {1370, 54.819}}},
    {"J",
     -210,
     1200,
     {{-210, -8.095}, {-100, -4.633}, {100, 5.269}, {500, 27.393}, {760, 42.919}, {1000, 57.953}, {1200, 69.553}}},
    {"T", -270, 400, {{-270, -6.258}, {-200, -5.603}, {-100, -3.379}, {100, 4.279}, {400, 20.872}}},
    {"N",
     -270,
     1300,
     {{-270, -4.345}, {-200, -3.990}, {-100, -2.407}, {100, 2.774}, {500, 16.748}, {1000, 36.256}, {1300, 47.513}}},
    {"E", -270, 1000, {{-270, -9.835}, {-200, -8.825}, {-100, -5.237}, {100, 6.319}, {500, 37.005}, {1000, 76.373}}},
    {"S", -50, 1768.1, {{-50, -0.236}, {100, 0.646}, {500, 4.233}, {1000, 9.587}, {1500, 15.582}, {1768, 18.693}}},
    {"R", -50, 1768.1, {{-50, -0.226}, {100, 0.647}, {500, 4.471}, {1000, 10.506}, {1500, 17.451}, {1768, 21.101}}},
    {"B", 50, 1820, {{100, 0.033}, {500, 1.242}, {1000, 4.834}, {1500, 10.099}, {1820, 13.820}}},
};

TEST(Thermocouple, MatchesTheTablesOfTheStandardBothWays) {
    for (const TypeTable& table : kTables) {
        const auto made = thermocouple(table.type, 0).value();
        const Transfer& couple = *made;
        for (const auto& [t, mV] : table.points) {
            EXPECT_NEAR(1e3 * couple.forward(t), mV, 0.00051) << table.type << " " << t;
            // Half of the table's last digit, seen through the local slope.
            const double slope =
                1e3 * (couple.forward(std::min(t + 0.5, table.to)) - couple.forward(std::max(t - 0.5, table.from)));
            const double reach = 0.0006 / slope + 1e-9;
            if (t > table.from && t < table.to) {
                EXPECT_NEAR(couple.inverse(1e-3 * mV), t, reach) << table.type << " " << t;
            }
        }
        const double span = table.to - table.from;
        for (double t = table.from; t <= table.to; t += span / 4999)
            ASSERT_NEAR(couple.inverse(couple.forward(t)), t, 1e-9 * span) << table.type;
        EXPECT_TRUE(std::isnan(couple.forward(table.to + 1)));
        EXPECT_TRUE(std::isnan(couple.inverse(0.2)));
        EXPECT_TRUE(std::isnan(couple.inverse(-0.02)));
    }
}

TEST(Thermocouple, ColdJunctionIsAddedInVoltage) {
    // Printed: type K, 25 °C is 1.000 mV; 100 °C 4.096 mV. A cold junction at 25 °C leaves 3.096 mV.
    const auto made = thermocouple("K", 25).value();
    const Transfer& couple = *made;
    EXPECT_NEAR(1e3 * couple.forward(100), 3.096, 0.001);
    EXPECT_NEAR(couple.inverse(0), 25, 1e-9);
    // Adding 25 °C to the temperature of 3.096 mV (76.2 °C) would miss by more than a degree.
    EXPECT_GT(std::abs(thermocouple("K", 0).value()->inverse(3.096e-3) + 25 - 100), 0.5);
    EXPECT_EQ(thermocouple("X", 0).error().where, "type");
    EXPECT_EQ(thermocouple("B", 60).error().where, "cold_junction_degC");
}

TEST(Lmt01, CountsOfItsTableAndItsFormula) {
    const auto table = sensorOf("lmt01"), line = sensorOf("lmt01-linear");
    EXPECT_NEAR(table->forward(0), 808, 1e-9);
    EXPECT_NEAR(table->forward(100), 2417, 1e-9);
    EXPECT_NEAR(table->inverse(1284), 30, 1e-9);
    // T = PC/4096 · 256 − 50: 1200 pulses are 25 °C.
    EXPECT_NEAR(line->inverse(1200), 25, 1e-12);
    for (double t = -50; t <= 150; t += 3.3) EXPECT_NEAR(table->inverse(table->forward(t)), t, 2e-7);
}

TEST(Hs1101, CapacitanceAndFrequencyOfItsDataSheet) {
    const auto farad = sensorOf("hs1101"), hertz = sensorOf("hs1101-frequency");
    EXPECT_NEAR(farad->forward(55), 180e-12, 0.05e-12);
    // The data sheet's table of the 555 circuit.
    for (const auto& [humidity, f] : {Point{0, 7351},
                                      {10, 7224},
                                      {20, 7100},
                                      {30, 6976},
                                      {40, 6853},
                                      {50, 6728},
                                      {60, 6600},
                                      {70, 6468},
                                      {80, 6330},
                                      {90, 6186},
                                      {100, 6033}})
        EXPECT_NEAR(hertz->forward(humidity), f, 1.5) << humidity;
    for (double h = 0; h <= 100; h += 0.9) {
        EXPECT_NEAR(hertz->inverse(hertz->forward(h)), h, 1e-7);
        EXPECT_NEAR(farad->inverse(farad->forward(h)), h, 1e-7);
    }
    // 49.9 kΩ and 576 kΩ with 180 pF: 1/(0.693147 · 1 201 900 Ω · 180 pF) = 6668.6 Hz by hand.
    const auto oscillator =
        std::move(*findWiringKind("oscillator")->make({{"charge_ohm", 49.9e3}, {"discharge_ohm", 576e3}}, {0}));
    EXPECT_NEAR(oscillator->forward(180e-12), 6668.6, 0.1);
    EXPECT_NEAR(oscillator->inverse(6668.6), 180e-12, 0.01e-12);
    EXPECT_TRUE(std::isnan(oscillator->inverse(0)));
}

TEST(ChipSensor, TwoFactoryWordsGiveTheStraightLineOfTheirReference) {
    // By hand: words 943 at 30 °C and 1225 at 110 °C, taken at 3.3 V with 12 bits; read at a supply of 3.0 V, code
    // 1100. In words: 1100 · 3.0/3.3 = 1000; t = 30 + (1000 − 943) · 80/282 = 46.170 °C.
    const auto sensor = sensorOf("chip-two-words", 3.0,
                                 {{"low_word", 943.0},
                                  {"low_degC", 30.0},
                                  {"high_word", 1225.0},
                                  {"high_degC", 110.0},
                                  {"words_reference_V", 3.3},
                                  {"words_bits", 12.0}});
    EXPECT_NEAR(sensor->inverse(1100 * 3.0 / 4096), 30 + 57.0 * 80 / 282, 1e-9);
    const Part* part = test::catalogue().findPart("chip-two-words");
    Parameters erased{{"low_word", 4095.0}, {"low_degC", 30.0},         {"high_word", 4095.0},
                      {"high_degC", 110.0}, {"words_reference_V", 3.3}, {"words_bits", 12.0}};
    EXPECT_EQ(findSensorFamily(part->family)->make(erased, {part->quantity, part->range, 3}).error().where, "low_word");
    EXPECT_EQ(part->measures, "chip");
    // 750 mV at 25 °C and 10 mV/°C is the sensor of 500 mV at 0 °C.
    const auto point = sensorOf("own-point-and-slope", 5, {{"value_V", 0.75}, {"slope_V_per_degC", 0.01}});
    EXPECT_NEAR(point->forward(0), 0.5, 1e-12);
}

TEST(Bridge, FollowsItsExcitation) {
    // 2 mV/V, full scale 100 kPa, 5 V: 10 mV at full scale.
    const auto bridge =
        sensorOf("bridge", 5, {{"span_V_per_V", 0.002}, {"full_scale_Pa", 1e5}, {"zero_V_per_V", 0.0001}});
    EXPECT_NEAR(bridge->forward(1e5), 0.0105, 1e-12);
    EXPECT_NEAR(bridge->forward(-5e4), -0.0045, 1e-12);
    // 60 mV and 20 mV of zero stated at 3 V double at 6 V.
    EXPECT_NEAR(sensorOf("mpx53", 6)->forward(50e3), 0.16, 1e-12);
    const Part* part = test::catalogue().findPart("bridge");
    EXPECT_EQ(findSensorFamily("bridge")
                  ->make({{"span_V_per_V", 0.002}, {"full_scale_Pa", -1.0}}, {part->quantity, part->range, 5})
                  .error()
                  .where,
              "full_scale_Pa");
}

TEST(Divider, CableAndLinearisingResistor) {
    // (98 + 2) Ω ∥ 100 Ω = 50 Ω against 50 Ω: half of the source.
    const Divider network = divider(SensorSide::Low, 50, 3.0, {2, 100}).value();
    EXPECT_NEAR(network.forward(98), 1.5, 1e-12);
    EXPECT_NEAR(network.inverse(1.5), 98, 1e-9);
    EXPECT_NEAR(network.forward(std::numeric_limits<double>::infinity()), 2.0, 1e-12);  // the parallel resistor stays
    EXPECT_TRUE(std::isnan(network.inverse(2.1)));
    EXPECT_EQ(divider(SensorSide::Low, 50, 3.0, {-1, 0}).error().where, "wiring.lead_ohm");
}

Converter adcOf(const Parameters& parameters) { return makeAdc(parameters).value(); }

TEST(BipolarConverter, TwosComplementGainAndFullScale) {
    // 24 bits, ± ½ · 5 V/128: LSB 2.5 V/128/2^23 = 2.3283 nV by hand.
    const Converter bridge = adcOf(test::catalogue().findConverter("hx711")->parameters);
    EXPECT_NEAR(bridge.lsb(), 2.5 / 128 / 8388608, 1e-20);
    EXPECT_EQ(bridge.minCode(), -8388608);
    EXPECT_EQ(bridge.codeOfWord(0xFFFFFF).value(), -1);
    EXPECT_EQ(bridge.codeOfWord(0x800000).value(), -8388608);
    EXPECT_EQ(bridge.clipOf(8388607), Clip::AtLeast);
    EXPECT_EQ(bridge.clipOf(-8388608), Clip::AtMost);
    EXPECT_EQ(bridge.clipOf(0), Clip::None);
    EXPECT_EQ(bridge.wordOfCode(-2), 0xFFFFFE);
    // 16 bits, ± 2.048 V: 8000h is −2.048 V, 7FFFh 2.048 − 62.5 µV, as printed in the data sheet of ads1115.
    const Converter sixteen = adcOf(test::catalogue().findConverter("ads1115")->parameters);
    EXPECT_NEAR(sixteen.lsb(), 62.5e-6, 1e-12);
    EXPECT_NEAR(sixteen.inputOf(sixteen.codeOfWord(0x8000).value()), -2.048, 1e-12);
    EXPECT_EQ(sixteen.quantise(-0.0001).value, -2);
    EXPECT_EQ(sixteen.codeOfWord(-7).value(), -7);
    EXPECT_FALSE(sixteen.codeOfWord(70000));
    EXPECT_EQ(makeAdc({{"bits", 12.0}, {"reference_V", 2.0}, {"gain", 0.0}}).error().where, "converter.gain");
}

TEST(Words, LeftJustifiedScaledUpAndTwoRegisters) {
    const Converter left = adcOf(test::catalogue().findConverter("ads1015")->parameters);
    EXPECT_EQ(left.codeOfWord(0x7FF0).value(), 2047);
    EXPECT_EQ(left.codeOfWord(0x8000).value(), -2048);
    EXPECT_EQ(left.codeOfWord(0xFFF0).value(), -1);
    EXPECT_EQ(left.wordOfCode(-1), 0xFFF0);
    EXPECT_NE(left.codeOfWord(0x7FF1).error().expected.find("right-justified"), std::string::npos);
    const Converter scaled = adcOf(test::catalogue().findConverter("adc-12bit-16bit-words")->parameters);
    EXPECT_EQ(scaled.codeOfWord(65535).value(), 4095);
    for (int code = 0; code < 4096; ++code)
        ASSERT_EQ(scaled.codeOfWord(static_cast<double>(scaled.wordOfCode(code))).value(), code);
    EXPECT_EQ(scaled.codeOfWord(0x8000).value(), 2048);  // shifted up only
    // As small interpreters widen: the bits repeated from the top, for any width.
    for (std::uint32_t code = 0; code < 4096; ++code) ASSERT_EQ(scaled.codeOfWord(code << 4 | code >> 8).value(), code);
    for (std::uint32_t code = 0; code < 4096; ++code) ASSERT_EQ(scaled.codeOfWord(code * 65535 / 4095).value(), code);
    const Converter ten = adcOf({{"bits", 10.0}, {"reference_V", 1.0}, {"word", std::string("scaled-up")}}),
                    eight = adcOf({{"bits", 8.0}, {"reference_V", 1.0}, {"word", std::string("scaled-up")}});
    for (std::uint32_t code = 0; code < 1024; ++code) ASSERT_EQ(ten.codeOfWord(code << 6 | code >> 4).value(), code);
    for (std::uint32_t code = 0; code < 256; ++code) ASSERT_EQ(eight.codeOfWord(code << 8 | code).value(), code);
    EXPECT_EQ(repeatedBits(0b10110, 5), 0b1011010110101101u);
    // A mean of several words lies between two codes.
    EXPECT_NEAR(scaled.codeOfWord(15140).value(), 15140.0 * 4095 / 65535, 1e-9);
    EXPECT_NEAR(scaled.codeOfWord(15139.5).value(), 15139.5 * 4095 / 65535, 1e-9);
    WordWidth twelve, sixteen, few;
    for (std::uint32_t code = 100; code < 3000; code += 37) {
        twelve.take(code << 4 | code >> 8);
        sixteen.take(code * 21);
        few.take(0x1230);
    }
    EXPECT_EQ(twelve.fewerBits(), 12);
    EXPECT_FALSE(sixteen.fewerBits());
    EXPECT_FALSE(few.fewerBits());
    EXPECT_EQ(readRawWord("0x03 0x31").value(), 0x331);
    EXPECT_EQ(readRawWord("low=0x31 high=3").value(), 0x331);
    EXPECT_EQ(readRawWord("0b1010").value(), 10);
    EXPECT_FALSE(readRawWord("0x03 0x131"));
    EXPECT_FALSE(readRawWord("high=1 high=2"));
}

TEST(Nonlinearity, KnownErrorIsTakenOffAndPutBack) {
    // Reads 8 too many at 1000, right at 0 and 3000; by hand code 500 (error 4) is 496, code 2000 (error 4) is 1996.
    const Converter bent = adcOf({{"bits", 12.0},
                                  {"reference_V", 4.096},
                                  {"nonlinearity_code_LSB", std::vector<Point>{{0, 0}, {1000, 8}, {3000, 0}}}});
    EXPECT_NEAR(bent.inputOf(500), 0.496, 1e-12);
    EXPECT_NEAR(bent.inputOf(2000), 1.996, 1e-12);
    for (double code = 0; code < 4095; code += 7.3) EXPECT_NEAR(bent.exactCode(bent.inputOf(code)), code, 1e-8);
    EXPECT_EQ(makeAdc(
                  {{"bits", 12.0}, {"reference_V", 4.0}, {"nonlinearity_code_LSB", std::vector<Point>{{5, 0}, {5, 8}}}})
                  .error()
                  .where,
              "converter.nonlinearity_code_LSB");
}

TEST(Counters, CountWhatTheyAreGiven) {
    const auto made = [](const char* kind, const Parameters& p) { return findConverterKind(kind)->make(p); };
    EXPECT_NEAR(made("counter", {{"gate_s", 0.1}})->inputOf(666), 6660, 1e-9);
    EXPECT_NEAR(made("timer", {{"clock_Hz", 1e6}, {"periods", 10.0}})->exactCode(150e-6), 1500, 1e-9);
    EXPECT_EQ(made("pulses", {})->inputOf(1604), 1604);
    EXPECT_EQ(made("counter", {{"gate_s", 0.0}}).error().where, "converter.gate_s");
    EXPECT_EQ(made("timer", {{"clock_Hz", 1e6}, {"periods", 1.5}}).error().where, "converter.periods");
}

TEST(DefaultGauge, EveryPartOfTheCatalogueStartsWithAPathThatAnswers) {
    for (const Part& part : test::catalogue().parts()) {
        const GaugeSpec spec = defaultGauge(part);
        const auto path = AnalogPath::build(spec, test::catalogue());
        ASSERT_TRUE(path) << part.id << ": " << path.error().message();
        const Interval span = spec.spanCanonical();
        const double middle = span.low + span.width() * 0.4;
        const auto evaluation = path->evaluate({Stage::World, middle});
        ASSERT_TRUE(evaluation) << part.id;
        ASSERT_TRUE(std::isfinite(path->exactCode(middle))) << part.id;
        for (int i = 0; i <= 40; ++i) {
            const double world = span.low + span.width() * i / 40;
            if (std::isfinite(path->exactCode(world))) {
                EXPECT_NEAR(path->reading(path->exactCode(world)), world, 2e-7 * span.width()) << part.id;
            }
        }
        EXPECT_TRUE(budgetAt(spec, test::catalogue(), middle)) << part.id;
    }
}

}  // namespace
}  // namespace fg
