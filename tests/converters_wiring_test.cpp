#include "converters/converter.h"
#include "converters/kind.h"
#include "wiring/divider.h"
#include "wiring/kind.h"

#include <gtest/gtest.h>
#include <cmath>
#include <limits>

namespace fg {
namespace {

TEST(Converter, TwoToTheNLawCentresEachCodeOnItsVoltage) {
    const Converter adc = Converter::make(10, 5.0, CodeLaw::PowerOfTwo, Rounding::Nearest).value();
    EXPECT_DOUBLE_EQ(adc.lsb(), 5.0 / 1024);
    EXPECT_DOUBLE_EQ(adc.inputOf(512), 2.5);
    EXPECT_EQ(adc.quantise(2.5).value, 512);
    EXPECT_EQ(adc.quantise(2.5 + 0.49 * 5.0 / 1024).value, 512);
    EXPECT_EQ(adc.quantise(2.5 + 0.51 * 5.0 / 1024).value, 513);
    EXPECT_EQ(adc.inputOf(1023), 5.0 * 1023 / 1024);  // full scale is one LSB below the reference
}

TEST(Converter, TwoToTheNMinusOneLawReachesTheReference) {
    const Converter adc = Converter::make(10, 5.0, CodeLaw::PowerOfTwoMinusOne, Rounding::Nearest).value();
    EXPECT_DOUBLE_EQ(adc.inputOf(1023), 5.0);
    EXPECT_DOUBLE_EQ(adc.lsb(), 5.0 / 1023);
    EXPECT_EQ(adc.quantise(5.0).value, 1023);
}

TEST(Converter, TruncatingConverterStandsForTheMiddleOfItsCell) {
    const Converter adc = Converter::make(8, 2.56, CodeLaw::PowerOfTwo, Rounding::Down).value();  // LSB 10 mV
    EXPECT_EQ(adc.quantise(0.0199).value, 1);
    EXPECT_EQ(adc.quantise(0.0201).value, 2);
    EXPECT_NEAR(adc.inputOf(2), 0.025, 1e-15);
    for (int code = 0; code < 256; ++code) EXPECT_EQ(adc.quantise(adc.inputOf(code)).value, code);
}

TEST(Converter, EndCodesAreLimitsNotValues) {
    const Converter adc = Converter::make(12, 3.3, CodeLaw::PowerOfTwo, Rounding::Nearest).value();
    EXPECT_EQ(adc.quantise(7).value, 4095);
    EXPECT_EQ(adc.quantise(7).clip, Clip::AtLeast);
    EXPECT_EQ(adc.quantise(-1).value, 0);
    EXPECT_EQ(adc.quantise(-1).clip, Clip::AtMost);
    EXPECT_EQ(adc.quantise(1).clip, Clip::None);
    EXPECT_NEAR(adc.quantise(7).exact, 7 * 4096 / 3.3, 1e-9);  // exact stays exact, beyond the range too
    EXPECT_NEAR(adc.clipBound(4095), 4094.5 * 3.3 / 4096, 1e-12);
    EXPECT_NEAR(adc.clipBound(0), 0.5 * 3.3 / 4096, 1e-12);
    EXPECT_EQ(flipped(Clip::AtLeast), Clip::AtMost);
    EXPECT_EQ(flipped(Clip::None), Clip::None);
}

TEST(Converter, RefusesWhatNoConverterIs) {
    EXPECT_EQ(makeAdc({{"bits", 0.0}, {"reference_V", 5.0}}).error().where, "converter.bits");
    EXPECT_EQ(makeAdc({{"bits", 25.0}, {"reference_V", 5.0}}).error().code, ErrorCode::Range);
    EXPECT_EQ(makeAdc({{"bits", 10.5}, {"reference_V", 5.0}}).error().where, "converter.bits");
    EXPECT_EQ(makeAdc({{"bits", 10.0}, {"reference_V", 0.0}}).error().where, "converter.reference_V");
    EXPECT_EQ(makeAdc({{"bits", 10.0}}).error().code, ErrorCode::Missing);
    EXPECT_EQ(makeAdc({{"bits", 10.0}, {"reference_V", 5.0}, {"code_law", std::string("2n")}}).error().found, "“2n”");
    EXPECT_EQ(makeAdc({{"bits", 10.0}, {"reference_V", 5.0}, {"reference_measured_V", -1.0}}).error().where,
              "converter.reference_measured_V");
    EXPECT_DOUBLE_EQ(makeAdc({{"bits", 10.0}, {"reference_V", 5.0}, {"reference_measured_V", 4.7}})->reference_V(),
                     4.7);
}

TEST(Divider, FollowsOhmsLawOnEitherSide) {
    const Divider low = divider(SensorSide::Low, 2200, 3.3).value();
    const Divider high = divider(SensorSide::High, 2200, 3.3).value();
    EXPECT_DOUBLE_EQ(low.forward(2200), 1.65);
    EXPECT_DOUBLE_EQ(high.forward(2200), 1.65);
    EXPECT_DOUBLE_EQ(low.forward(4400), 2.2);
    EXPECT_NEAR(high.forward(4400), 1.1, 1e-15);
    // The two taps of one chain share the source: Kirchhoff.
    for (const double ohm : {1.0, 470.0, 10000.0, 1e6}) {
        EXPECT_NEAR(low.forward(ohm) + high.forward(ohm), 3.3, 1e-12);
        EXPECT_NEAR(low.inverse(low.forward(ohm)), ohm, 1e-9 * ohm);
        EXPECT_NEAR(high.inverse(high.forward(ohm)), ohm, 1e-9 * ohm);
    }
}

TEST(Divider, OpenAndShortedSensorsAndImpossibleTaps) {
    const Divider low = divider(SensorSide::Low, 2200, 3.3).value();
    const Divider high = divider(SensorSide::High, 2200, 3.3).value();
    const double open = std::numeric_limits<double>::infinity();
    EXPECT_DOUBLE_EQ(low.forward(open), 3.3);
    EXPECT_DOUBLE_EQ(high.forward(open), 0);
    EXPECT_DOUBLE_EQ(low.forward(0), 0);
    EXPECT_TRUE(std::isnan(low.inverse(3.3)));
    EXPECT_TRUE(std::isnan(low.inverse(3.4)));
    EXPECT_TRUE(std::isnan(low.inverse(-0.1)));
    EXPECT_TRUE(std::isnan(high.inverse(0)));
    EXPECT_FALSE(divider(SensorSide::Low, 0, 3.3));
    EXPECT_FALSE(divider(SensorSide::Low, 2200, 0));
}

TEST(WiringKinds, NameTheFieldThatIsWrong) {
    const WiringKind& divider = *findWiringKind("divider");
    EXPECT_EQ(divider.make({}, {3.3}).error().where, "wiring: fixed_ohm");
    EXPECT_EQ(divider.make({{"fixed_ohm", 1e3}, {"sensor_side", std::string("left")}}, {3.3}).error().where,
              "wiring.sensor_side");
    EXPECT_EQ(divider.make({{"fixed_ohm", 1e3}, {"source", std::string("battery")}}, {3.3}).error().where,
              "wiring.source");
    EXPECT_EQ(
        divider.make({{"fixed_ohm", 1e3}, {"source", std::string("rail")}, {"source_V", -5.0}}, {3.3}).error().where,
        "wiring.source_V");
    EXPECT_EQ(findWiringKind("bridge-of-sighs"), nullptr);
}

}  // namespace
}  // namespace fg
