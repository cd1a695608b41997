#include "support.h"

#include "units/number_format.h"
#include "units/text_file.h"
#include "units/value_text.h"

#include <gtest/gtest.h>
#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace fg {
namespace {

TEST(Lengths, AsPeopleMeasureCables) {
    EXPECT_DOUBLE_EQ(readValue("15 ft", Quantity::Length)->canonical, 4.572);
    EXPECT_DOUBLE_EQ(readValue("40 cm", Quantity::Length)->canonical, 0.4);
    EXPECT_DOUBLE_EQ(readValue("2,5", Quantity::Length)->canonical, 2.5);
    EXPECT_FALSE(readValue("-1 m", Quantity::Length));
    EXPECT_DOUBLE_EQ(readValue("-1400 ft", Quantity::Height)->canonical, -426.72);  // the shore of a dead sea
    EXPECT_EQ(quantityFromName("light"), Quantity::Illuminance);
}

struct Read {
    const char* text;
    Quantity quantity;
    double expected;
};

void PrintTo(const Read& read, std::ostream* out) { *out << read.text; }

class ReadsValue : public testing::TestWithParam<Read> {};

TEST_P(ReadsValue, AsMakersWriteIt) {
    const auto value = readValue(GetParam().text, GetParam().quantity);
    ASSERT_TRUE(value) << value.error().message();
    EXPECT_NEAR(value->canonical, GetParam().expected, 1e-12 * std::max(1e-9, std::abs(GetParam().expected)));
}

// Expected values by hand, from the definitions of the prefixes and units.
INSTANTIATE_TEST_SUITE_P(
    Notation, ReadsValue,
    testing::Values(Read{"4k7", Quantity::Resistance, 4700}, Read{"4.7k", Quantity::Resistance, 4700},
                    Read{"4,7 kΩ", Quantity::Resistance, 4700}, Read{"4K7", Quantity::Resistance, 4700},
                    Read{"2R2", Quantity::Resistance, 2.2}, Read{"100R", Quantity::Resistance, 100},
                    Read{"1M", Quantity::Resistance, 1e6}, Read{"10 ohm", Quantity::Resistance, 10},
                    Read{"3V3", Quantity::Voltage, 3.3}, Read{"250 mV", Quantity::Voltage, 0.25},
                    Read{"-12.5m", Quantity::Voltage, -0.0125}, Read{"100n", Quantity::Capacitance, 1e-7},
                    Read{"4.7 µF", Quantity::Capacitance, 4.7e-6}, Read{"1u5", Quantity::Capacitance, 1.5e-6},
                    Read{"10u", Quantity::Current, 1e-5}, Read{"0x3FF", Quantity::Count, 1023},
                    Read{"0b1010", Quantity::Count, 10}, Read{"817", Quantity::Count, 817},
                    Read{"61 °C", Quantity::Temperature, 61}, Read{"−40", Quantity::Temperature, -40},
                    Read{"212F", Quantity::Temperature, 100}, Read{"300K", Quantity::Temperature, 300 - 273.15},
                    Read{"1013,25 hPa", Quantity::Pressure, 101325}, Read{"101.325k", Quantity::Pressure, 101325},
                    Read{"1 psi", Quantity::Pressure, 6894.757293168},
                    Read{"760 mmHg", Quantity::Pressure, 101325.0144354}, Read{"45 %", Quantity::RelativeHumidity, 45},
                    Read{"1 %", Quantity::Ratio, 0.01}, Read{"0.001", Quantity::Ratio, 0.001},
                    Read{"5 min", Quantity::Time, 300}, Read{"10ms", Quantity::Time, 0.01},
                    Read{"1e3", Quantity::Voltage, 1000}, Read{"0,125", Quantity::Voltage, 0.125},
                    Read{"1.2 kHz", Quantity::Frequency, 1200},
                    Read{"1 fc", Quantity::Illuminance, 10.763910416709722}));

struct Refused {
    const char* text;
    Quantity quantity;
    ErrorCode code;
    const char* says;
};

void PrintTo(const Refused& refused, std::ostream* out) { *out << refused.text; }

class RefusesValue : public testing::TestWithParam<Refused> {};

TEST_P(RefusesValue, WithAReason) {
    const auto value = readValue(GetParam().text, GetParam().quantity);
    ASSERT_FALSE(value) << "read as " << value->canonical;
    EXPECT_EQ(value.error().code, GetParam().code) << value.error().message();
    EXPECT_NE(value.error().message().find(GetParam().says), std::string::npos) << value.error().message();
}

INSTANTIATE_TEST_SUITE_P(Wrong, RefusesValue,
                         testing::Values(Refused{"1,234", Quantity::Resistance, ErrorCode::Ambiguous, "1.234 or 1234"},
                                         Refused{"1.234,5", Quantity::Voltage, ErrorCode::Ambiguous, "1234.5"},
                                         Refused{"5 m", Quantity::Time, ErrorCode::Ambiguous, "min"},
                                         Refused{"4k7x", Quantity::Resistance, ErrorCode::Syntax, "x"},
                                         Refused{"", Quantity::Voltage, ErrorCode::Missing, "nothing"},
                                         Refused{"abc", Quantity::Voltage, ErrorCode::Syntax, "abc"},
                                         Refused{"0x3FF", Quantity::Voltage, ErrorCode::Syntax, "counts"},
                                         Refused{"0xZZ", Quantity::Count, ErrorCode::Syntax, "hexadecimal"},
                                         Refused{"0b12", Quantity::Count, ErrorCode::Syntax, "0 and 1"},
                                         Refused{"-5", Quantity::Resistance, ErrorCode::Range, "not below 0"},
                                         Refused{"-300", Quantity::Temperature, ErrorCode::Range, "absolute zero"},
                                         Refused{"1e999", Quantity::Voltage, ErrorCode::Range, "double"},
                                         Refused{"nan", Quantity::Voltage, ErrorCode::Syntax, "nan"},
                                         Refused{"61 V", Quantity::Temperature, ErrorCode::Syntax, "V"},
                                         Refused{"3e", Quantity::Voltage, ErrorCode::Syntax, "e"},
                                         Refused{"1.2.3", Quantity::Voltage, ErrorCode::Ambiguous, "1234.5"},
                                         Refused{"k", Quantity::Resistance, ErrorCode::Syntax, "k"}));

TEST(ReadValue, TakesTheFieldsUnitWhenNoneIsWritten) {
    const Unit* fahrenheit = unitFromId("degF", Quantity::Temperature).value();
    EXPECT_NEAR(readValue("61", Quantity::Temperature, fahrenheit)->canonical, (61.0 - 32) / 1.8, 1e-12);
    EXPECT_DOUBLE_EQ(readValue("61 °C", Quantity::Temperature, fahrenheit)->canonical, 61);
}

TEST(Unit, ConvertsPointsAndDifferencesApart) {
    const Unit& fahrenheit = *unitFromId("degF", Quantity::Temperature).value();
    EXPECT_NEAR(fahrenheit.fromCanonical(-40), -40, 1e-12);
    EXPECT_NEAR(fahrenheit.fromCanonical(37), 98.6, 1e-12);
    EXPECT_NEAR(fahrenheit.differenceFromCanonical(10), 18, 1e-12);
    const Unit& inHg = *unitFromId("inHg", Quantity::Pressure).value();
    EXPECT_NEAR(inHg.toCanonical(29.9213), 101325, 0.3);  // the standard atmosphere, to the digits given
    EXPECT_FALSE(unitFromId("degC", Quantity::Pressure));
}

TEST(NumberFormat, EngineeringKeepsOneToThreeDigitsBeforeThePoint) {
    EXPECT_EQ(engineering(2443.8, Quantity::Resistance).joined(), "2.444 kΩ");
    EXPECT_EQ(engineering(999960, Quantity::Resistance).joined(), "1.000 MΩ");
    EXPECT_EQ(engineering(0.000711, Quantity::Current, 3).joined(), "711 µA");
    EXPECT_EQ(engineering(1e-7, Quantity::Capacitance, 3).joined(), "100 nF");
    EXPECT_EQ(engineering(0, Quantity::Voltage).joined(), "0.000 V");
    EXPECT_EQ(shortEngineering(2200, Quantity::Resistance).joined(), "2.2 kΩ");
    EXPECT_EQ(shortEngineering(100, Quantity::Resistance).joined(), "100 Ω");
}

TEST(NumberFormat, RoundsTheReadingToTwoDigitsOfItsUncertainty) {
    const Unit& celsius = canonicalUnit(Quantity::Temperature);
    EXPECT_EQ(roundedReading(60.4837, 0.681, celsius).value.joined(), "60.48 °C");
    EXPECT_EQ(roundedReading(60.4837, 0.681, celsius).uncertainty, "0.68");
    EXPECT_EQ(roundedReading(60.4837, 12.3, celsius).value.joined(), "60 °C");
    EXPECT_EQ(roundedReading(60.4837, 0.0996, celsius).uncertainty, "0.10");    // 0.0996 is 0.10 to two digits
    EXPECT_EQ(roundedReading(-0.001, 0.5, celsius).value.joined(), "0.00 °C");  // no minus in front of nothing
    EXPECT_TRUE(roundedReading(1, 0, celsius).uncertainty.empty());
    EXPECT_EQ(roundedReading(std::nan(""), 0.5, celsius).value.digits, "–");
}

TEST(NumberFormat, WritesAndReadsBackTheSameDouble) {
    for (const double value : {0.1, 1.0 / 3, 6.02214076e23, -5e-324, 60.483729104})
        EXPECT_EQ(test::number(shortestText(value)), value) << shortestText(value);
}

TEST(TextFile, IsReadWholeOrRefusedWithItsPath) {
    test::TemporaryFolder folder;
    const std::string all("a\0\r\nb\xFF", 6);
    test::writeText(folder / "a.txt", all);
    EXPECT_EQ(readTextFile(folder / "a.txt", "a file").value(), all);
    const auto isFolder = readTextFile(folder / ".", "a gauge file");
    EXPECT_EQ(isFolder.error().code, ErrorCode::Io);
    EXPECT_NE(isFolder.error().message().find("a folder, expected a gauge file"), std::string::npos)
        << isFolder.error().message();
    EXPECT_NE(readTextFile(folder / "none", "a file").error().message().find("none: found No such file"),
              std::string::npos);
    EXPECT_EQ(readTextFile("/dev/zero", "a file").error().code, ErrorCode::Range);
}

TEST(TextFile, OfAnywhereStandsInOneLine) {
    EXPECT_EQ(inOneLine("a\n\tb\x7F"), "a  b ");
    EXPECT_EQ(inOneLine("21 °C, 3 kΩ, …"), "21 °C, 3 kΩ, …");
    EXPECT_EQ(inOneLine("\xC3"), "?");  // half a character
    EXPECT_EQ(inOneLine("\xC3z\x80\xFF"), "?z??");
}

}  // namespace
}  // namespace fg
