// Registers by meaning, both ways; what they cost; and how they go over the bus.

#include "registers/alert_pin.h"
#include "registers/register_checks.h"
#include "registers_support.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <random>

namespace fg {
namespace {

using test::consequence;
using test::mapOf;
using test::meaning;
using test::transactions;
using test::wordsOf;

std::string settingsAsHex(const std::string& part, const std::string& settings) {
    const auto words = test::wordsFor(part, settings);
    if (!words) return words.error().message();
    std::string text;
    for (const RegisterWord& word : *words)
        text +=
            fmt::format("{}{:02X}={:0{}X}", text.empty() ? "" : " ", word.in->address, word.word, 2 * word.in->bytes);
    return text;
}

TEST(Registers, SettingsBecomeTheDataSheetsWords) {
    // BMP280 data sheet, 3.8.2: weather monitoring, forced, ×1, ×1: 0x25; indoor navigation, normal, ×2, ×16, filter
    // 16, 0.5 ms: 0x57, 0x10.
    EXPECT_EQ(settingsAsHex("bmp280", "osrs_t=x1,osrs_p=x1,mode=forced"), "F4=25");
    EXPECT_EQ(settingsAsHex("bmp280", "osrs_t=x2, osrs_p=x16, mode=normal, standby=0.5ms, filter=16"), "F4=57 F5=10");
    EXPECT_EQ(settingsAsHex("bme280", "osrs_h=x1,t_sb=10ms"), "F2=01 F5=C0");
    // TMP117 data sheet: reset value 0x0220 is continuous, 1 s, eight averages. 31 °C is 3968 steps: 0x0F80.
    EXPECT_EQ(settingsAsHex("tmp117", "mode=continuous,conv=1s,avg=8"), "01=0220");
    EXPECT_EQ(settingsAsHex("tmp117", "high_limit=31 °C,low_limit=-0.5"), "02=0F80 03=FFC0");
    EXPECT_EQ(settingsAsHex("tmp117", "high_limit=87.8 °F"), "02=0F80");
    EXPECT_EQ(settingsAsHex("tmp117", "offset=-0.5 °C"), "07=FFC0");
    // TMP102 data sheet, limits after power-on: THIGH 80 °C 0x5000, TLOW 75 °C 0x4B00.
    EXPECT_EQ(settingsAsHex("tmp102", "thigh=80,tlow=75"), "03=5000 02=4B00");
    EXPECT_EQ(settingsAsHex("lm75", "tos=80,thyst=75"), "03=5000 02=4B00");
    EXPECT_EQ(settingsAsHex("ds18b20", "resolution=10,th=30,tl=-5"), "04=3F 02=1E 03=FB");
    // ADS1115 data sheet, example: continuous, AIN0 against ground, ± 4.096 V… 0x8583 is what it starts with.
    EXPECT_EQ(settingsAsHex("ads1115", "mux=ain0,pga=4.096V,mode=continuous,rate=128"), "01=C283");
    EXPECT_EQ(settingsAsHex("opt3001", "range=auto,time=800ms,mode=continuous"), "01=CC10");
    EXPECT_EQ(settingsAsHex("veml7700", "gain=x1/8,integration=25ms,shutdown=off"), "00=1300");
}

// The limits of light sensors, in each one's own format.
TEST(Registers, LimitsAreKeptAsExponentAndMantissa) {
    // OPT3001 data sheet, limit registers: 0.01 lx · 2^E · R. Table of examples of the result: 0x3456 is 88.80 lx,
    // 0x789A 2818.56 lx.
    EXPECT_EQ(settingsAsHex("opt3001", "high_limit=83865.6"), "03=BFFF");
    EXPECT_EQ(settingsAsHex("opt3001", "high_limit=40.95 lx,low_limit=0.01"), "03=0FFF 02=0001");
    EXPECT_EQ(settingsAsHex("opt3001", "high_limit=88.80"), "03=28AC");  // the same with the smaller exponent: 2220 · 4
    EXPECT_EQ(meaning("opt3001", "03=3456", "high_limit"), "88.8 lx");
    EXPECT_EQ(meaning("opt3001", "03=789A", "high_limit"), "2818.56 lx");
    EXPECT_NE(settingsAsHex("opt3001", "high_limit=90000").find("0 to 83865.6 lx"), std::string::npos);
    // MAX44009 data sheet, threshold registers: upper 2^E · (16 M + 15) · 0.045, lower 2^E · 16 M · 0.045.
    EXPECT_EQ(meaning("max44009", "05=EF", "high_limit"), "188006.4 lx");
    EXPECT_EQ(meaning("max44009", "05=00", "high_limit"), "0.675 lx");
    EXPECT_EQ(meaning("max44009", "06=1F", "low_limit"), "21.6 lx");
    EXPECT_EQ(settingsAsHex("max44009", "low_limit=21.6"), "06=1F");
    // TSL2561 data sheet: thresholds are counts of channel 0, low byte first. LPS22HB data sheet: 16 steps a hPa.
    EXPECT_EQ(transactions("tsl2561", "threshold_high=4660", {BusKind::TwoWire, 0x39}),
              "write: S 72 A A4 A 34 A 12 A P\nread: S 72 A A4 A Sr 73 A 34 A 12 N P");
    EXPECT_EQ(transactions("lps22hb", "threshold=2.5 hPa", {BusKind::TwoWire, 0x5C}).substr(0, 31),
              "write: S B8 A 0C A 28 A 00 A P\n");
    // The older sibling of the tmp117 has no offset: that address is its memory.
    EXPECT_NE(settingsAsHex("tmp116", "offset=1").find("a field this device does not have"), std::string::npos);
}

// OPT3001 data sheet, interrupt reporting: latched window, or transparent hysteresis.
TEST(Registers, LatchOfALightSensorIsAnAlertMode) {
    const auto mode = [](const std::string& settings) {
        return alertSettingOf(mapOf("opt3001").all(test::wordsFor("opt3001", settings).value()))->mode;
    };
    EXPECT_EQ(mode("latch=on,high_limit=500,low_limit=200"), AlertMode::WindowLatched);
    EXPECT_EQ(mode("latch=off,high_limit=500,low_limit=200"), AlertMode::Comparator);
}

TEST(Registers, WordsAreExplained) {
    EXPECT_EQ(meaning("bmp280", "F4=27 F5=A0", "osrs_t"), "x1");
    EXPECT_EQ(meaning("bmp280", "F4=27 F5=A0", "mode"), "normal");
    EXPECT_EQ(meaning("bmp280", "F4=27 F5=A0", "standby"), "1000ms");
    EXPECT_EQ(meaning("bmp280", "F4: 27 A0", "standby"), "1000ms");  // read in one go
    EXPECT_EQ(meaning("bmp280", "F5=14", "filter"), "code 5 (reserved)");
    EXPECT_EQ(meaning("tmp117", "02: 0F 80", "high_limit"), "31 °C");
    EXPECT_EQ(meaning("veml7700", "00: 00 13", "gain"), "x1/8");  // low byte first
    EXPECT_EQ(mapOf("bmp280").words(readDump("D0=58").value()).error().code, ErrorCode::Unknown);
    EXPECT_EQ(mapOf("tmp117").words(readDump("01=02").value()).error().code, ErrorCode::Range);
}

TEST(Registers, WhatCannotBeSetIsRefused) {
    const auto refused = [](const std::string& part, const std::string& settings) {
        return mapOf(part).set(RegisterMap::readSettings(settings).value()).error();
    };
    EXPECT_NE(refused("bmp280", "osrs_t=x3").message().find("x1, x2, x4"), std::string::npos);
    EXPECT_EQ(refused("bmp280", "osrs_q=x1").code, ErrorCode::Unknown);
    EXPECT_EQ(refused("tmp117", "high_limit=300").code, ErrorCode::Range);
    EXPECT_EQ(refused("tmp117", "data_ready=on").code, ErrorCode::ReadOnly);
    EXPECT_EQ(RegisterMap::readSettings("osrs_t").error().code, ErrorCode::Syntax);
}

TEST(Registers, PastedWordsAreComparedWithWhatWasAsked) {
    const auto compare = [](const std::string& part, const std::string& dump, const std::string& asked) {
        return mapOf(part).compare(wordsOf(part, dump), RegisterMap::readSettings(asked).value()).value();
    };
    const auto half = compare("bmp280", "F4=27 F5=80", "standby=1000ms,mode=normal");
    ASSERT_EQ(half.size(), 1u);
    EXPECT_EQ(half[0].text, "Standby is 500ms, half of the 1000ms that was asked for");
    EXPECT_TRUE(compare("bmp280", "F4=27 F5=A0", "standby=1000ms,mode=normal").empty());
    EXPECT_NE(compare("bmp280", "F4=27", "standby=1000ms")[0].text.find("not written"), std::string::npos);
}

TEST(Registers, Consequences) {
    // BMP280 data sheet, table 13: ×1/×1 5.5 ms typically and 6.4 ms at most; ×2/×16 37.5 and 43.2 ms.
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x1,osrs_p=x1,mode=forced", "conversion_s"), 5.5e-3, 1e-9);
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x1,osrs_p=x1,mode=forced", "conversion_max_s"), 6.4e-3, 0.05e-3);
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x2,osrs_p=x16,mode=normal", "conversion_s"), 37.5e-3, 1e-9);
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x2,osrs_p=x16,mode=normal", "conversion_max_s"), 43.2e-3, 0.06e-3);
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x1,osrs_p=x1,mode=normal,standby=1000ms", "period_s"), 1.0055, 1e-9);
    EXPECT_NEAR(consequence("bme280", "osrs_t=x1,osrs_p=x1,osrs_h=x1,mode=forced", "conversion_max_s"), 9.3e-3,
                0.05e-3);                                                               // BME280 data sheet, 3.5.1
    EXPECT_NEAR(consequence("tmp117", "avg=64,conv=15.5ms", "period_s"), 0.992, 1e-9);  // table 7-7: 1 s
    EXPECT_NEAR(consequence("ds18b20", "resolution=9", "conversion_max_s"), 0.09375, 1e-12);
    EXPECT_NEAR(consequence("ads1115", "pga=2.048V,rate=8", "step_V"), 62.5e-6, 1e-12);
    // BMP280 data sheet, table 4: 2.74 µA at 1 Hz with ×1 and ×1, of which 0.1 µA are the sleep between; TMP117 data
    // sheet: 16 µA at 1 Hz with eight averages.
    EXPECT_NEAR(consequence("bmp280", "osrs_t=x1,osrs_p=x1,mode=forced", "current_A"), 2.74e-6, 0.35e-6);
    EXPECT_NEAR(consequence("tmp117", "avg=8,conv=1s", "current_A"), 16e-6, 2.5e-6);
}

// Whatever stands in the registers, reserved codes too: what it costs is a number, or is not told.
TEST(Registers, WhateverTheWordsCostIsANumber) {
    std::mt19937 random(3);
    for (const RegisterMap& map : test::catalogue().registerMaps())
        for (int i = 0; i < 500; ++i) {
            std::vector<RegisterWord> words;
            for (const Register& in : map.registers) words.push_back({&in, static_cast<std::uint32_t>(random())});
            for (const Consequence& one : consequencesOf(map, map.all(words)))
                EXPECT_TRUE(std::isfinite(one.value) && one.value >= 0)
                    << map.id << " " << one.id << " " << consequenceText(one);
            if (const auto alert = alertSettingOf(map.all(words))) {
                EXPECT_EQ(alertPicture(*alert).pin.size(), alertPicture(*alert).time.size()) << map.id;
            }
        }
}

// Words and times that the data sheets print.
TEST(Registers, WordsOfTheDataSheets) {
    const auto word = [](const std::string& part, std::vector<Setting> settings,
                         std::uint32_t address) -> std::uint32_t {
        const auto words = test::catalogue().findRegisterMap(part)->set(settings);
        if (!words) return ADD_FAILURE() << words.error().message(), 0;
        for (const RegisterWord& one : *words)
            if (one.in->address == address) return one.word;
        return ADD_FAILURE() << part << ": no word for that register", 0;
    };
    EXPECT_EQ(word("bmp180", {{"measure", "temperature"}, {"start", "on"}}, 0xF4), 0x2E);
    EXPECT_EQ(word("bmp180", {{"measure", "pressure"}, {"start", "on"}, {"oss", "3"}}, 0xF4), 0xF4);
    EXPECT_EQ(word("adt7410", {{"high_limit", "64"}}, 0x04), 0x2000);
    EXPECT_EQ(word("adt7410", {{"critical", "147"}}, 0x08), 0x4980);
    EXPECT_EQ(word("adt7410", {{"low_limit", "-25"}}, 0x06), 0xF380);  // −25 · 128 in two's complement
    EXPECT_EQ(word("dps310", {{"osr_p", "x64"}, {"rate_p", "2Hz"}}, 0x06), 0x16);
    EXPECT_EQ(word("lps22hb", {{"odr", "10Hz"}, {"bdu", "on"}}, 0x10), 0x22);
    EXPECT_EQ(word("ds3231", {{"convert", "on"}}, 0x0E), 0x3C);
    EXPECT_EQ(word("max44009", {{"mode", "continuous"}}, 0x02), 0x83);
    EXPECT_EQ(word("bme680", {{"osrs_t", "x2"}, {"osrs_p", "x16"}, {"mode", "forced"}}, 0x74), 0x55);
    const std::pair<const char*, double> times[]{
        {"x1", 3.6e-3}, {"x8", 14.8e-3}, {"x16", 27.6e-3}, {"x64", 104.4e-3}, {"x128", 206.8e-3}};
    for (const auto& [factor, seconds] : times)
        EXPECT_NEAR(consequence("dps310", std::string("mode=pressure once,osr_p=") + factor, "conversion_s"), seconds,
                    1e-9)
            << factor;
    EXPECT_NEAR(consequence("bmp180", "oss=3,measure=pressure", "conversion_max_s"), 25.5e-3, 1e-12);
    EXPECT_NEAR(consequence("opt3001", "range=83865.60lx", "step_lx"), 20.48, 1e-9);
    EXPECT_NEAR(consequence("bmp388", "pressure=on,osr_p=x32", "pressure_step_Pa"), 0.085, 0.003);
}

TEST(Registers, GoOverTheBusByteForByte) {
    EXPECT_EQ(transactions("bmp280", "osrs_t=x1,osrs_p=x1,mode=normal", {BusKind::TwoWire, 0x76}),
              "write: S EC A F4 A 27 A P\nread: S EC A F4 A Sr ED A 27 N P");
    EXPECT_EQ(transactions("tmp117", "high_limit=31", {BusKind::TwoWire, 0x48}),
              "write: S 90 A 02 A 0F A 80 A P\nread: S 90 A 02 A Sr 91 A 0F A 80 N P");
    EXPECT_EQ(transactions("tmp117", "high_limit=31", {BusKind::TwoWire, 0}), "");  // nobody knows where it is
    // TSL2561 data sheet, command register: its highest bit makes the byte a command, so the control register is
    // reached as 0x80.
    EXPECT_EQ(transactions("tsl2561", "power=on", {BusKind::TwoWire, 0x39}),
              "write: S 72 A 80 A 03 A P\nread: S 72 A 80 A Sr 73 A 03 N P");
    EXPECT_EQ(meaning("tsl2561", "80=03", "power"), "on");
    EXPECT_EQ(meaning("tsl2561", "00=03", "power"), "on");
    // MAX31865 data sheet, register map: read at 0x00 to 0x07, written at 0x80 to 0x87, between chip select low and
    // high.
    EXPECT_EQ(transactions("max31865", "bias=on,conversion=auto", {BusKind::FourWire, 0}),
              "write: [ 80 C0 ]\nread: [ 00 C0 ]");
    EXPECT_EQ(transactions("max31865", "high_threshold=100", {BusKind::FourWire, 0}).substr(0, 11), "write: [ 83");
}

// DS18B20 data sheet, function commands: write scratchpad takes TH, TL and the configuration; whoever sets one of them
// writes all three.
TEST(Registers, OfAProbeAreWrittenAllAtOnce) {
    EXPECT_EQ(
        transactions("ds18b20", "resolution=10", {BusKind::OneWire, 0}),
        "write: R p CC 4E ·· ·· 3F\nkeep: R p CC 48\nconvert: R p CC 44\nread: R p CC BE ·· ·· ·· ·· 3F ·· ·· ·· ··");
    // The older sibling has no configuration byte, and its document does not say what the alarm bytes hold.
    EXPECT_EQ(transactions("ds18s20", "th=30", {BusKind::OneWire, 0}).substr(0, 24), "write: R p CC 4E 1E ··");
    EXPECT_EQ(transactions("ds18b20", "resolution=10", {BusKind::None, 0}), "");
}

// Every field of every map: whatever its code, explaining and setting it again gives the same word.
TEST(Registers, EveryFieldGoesRound) {
    EXPECT_GE(test::catalogue().registerMaps().size(), 23u);
    for (const RegisterMap& map : test::catalogue().registerMaps())
        for (const std::string& part : map.parts) {
            EXPECT_TRUE(test::catalogue().findDevicePart(part) || !map.converters.empty()) << part;
            for (const Register& in : map.registers)
                for (const RegisterField& field : in.fields) {
                    if (field.isReadOnly || !in.words.empty()) continue;
                    const auto most = static_cast<std::uint32_t>((std::uint64_t{1} << field.width()) - 1);
                    for (std::uint32_t code = 0; code <= most; code += std::max(1u, most / 37)) {
                        const std::vector<RegisterWord> word{{&in, field.deposit(in.reset, code)}};
                        const auto values = map.explain(word);
                        const auto value = std::find_if(values.begin(), values.end(),
                                                        [&](const FieldValue& one) { return one.field == &field; });
                        if (value->isReserved) continue;
                        const std::vector<Setting> setting{{field.id, value->text}};
                        const auto again = map.set(setting);
                        ASSERT_TRUE(again)
                            << part << " " << field.id << " " << value->text << ": " << again.error().message();
                        // An exponent has several ways to say one number.
                        if (field.exponentBits == 0) {
                            EXPECT_EQ((*again)[0].word, word[0].word) << part << " " << field.id << " " << value->text;
                        } else {
                            EXPECT_NEAR(field.numberOf(field.extract((*again)[0].word)), value->number,
                                        1e-9 * value->number)
                                << part;
                        }
                    }
                }
        }
}

/// The pin as text, "-" low and "^" high.
std::string pinOver(const std::vector<double>& results, const std::vector<std::size_t>& reads,
                    const AlertSetting& setting) {
    std::string text;
    for (const bool high : alertLevels(results, reads, setting)) text += high ? '^' : '-';
    return text;
}

// TMP102 data sheet, figure of the alert output: comparator against interrupt mode, active low.
TEST(AlertPin, GoesAndIsClearedAsTheModeSays) {
    const std::vector<double> day{20, 26, 31, 33, 29, 27, 24, 22, 26, 31, 24};
    EXPECT_EQ(pinOver(day, {}, {AlertMode::Comparator, 25, 30, false, 1}), "^^----^^^-^");
    EXPECT_EQ(pinOver(day, {}, {AlertMode::Comparator, 25, 30, true, 1}), "--^^^^---^-");
    // Latched at 31, read at 29; then the low limit counts, at 24, read at 22; then the high one again.
    EXPECT_EQ(pinOver(day, {4, 7}, {AlertMode::Interrupt, 25, 30, false, 1}), "^^--^^-^^--");
    EXPECT_EQ(pinOver(day, {}, {AlertMode::Interrupt, 25, 30, false, 1}), "^^---------");
    EXPECT_EQ(pinOver(day, {}, {AlertMode::Window, 25, 30, true, 1}), "^-^^--^^-^^");
    EXPECT_EQ(pinOver({27, 31, 27, 27, 24, 27}, {3}, {AlertMode::WindowLatched, 25, 30, true, 1}), "-^^-^^");
    // MCP9808: hysteresis on falling temperatures only, upper 30, lower 20, 3 °C: on above 30 until below 27, on below
    // 17 until above 20.
    const auto mcp = [](const std::string& settings) {
        return *alertSettingOf(mapOf("mcp9808").all(test::wordsFor("mcp9808", settings).value()));
    };
    const std::vector<double> swing{25, 31, 28, 26.9, 19, 16, 19, 21};
    EXPECT_EQ(pinOver(swing, {}, mcp("upper=30,lower=20,hysteresis=3degC,alert=on,polarity=high")), "-^^--^^-");
    EXPECT_EQ(pinOver(swing, {}, mcp("upper=30,lower=20,hysteresis=3degC,polarity=high")),
              "--------");  // off after a reset
    // Its interrupt latches at each crossing, and a write clears it.
    const AlertSetting edges = mcp("upper=30,lower=20,hysteresis=3degC,alert=on,polarity=high,alert_mode=interrupt");
    EXPECT_TRUE(edges.isClearedByWrite);
    EXPECT_EQ(pinOver(swing, {2, 4}, edges), "-^-^-^^^");
    // ADT7410: the hysteresis lies inside the window on both sides.
    const auto adt = *alertSettingOf(mapOf("adt7410").all(
        test::wordsFor("adt7410", "high_limit=30,low_limit=20,hysteresis=2,alert_mode=comparator,int_polarity=high")
            .value()));
    EXPECT_EQ(pinOver({25, 31, 29, 27.9, 19, 21, 22.1}, {}, adt), "-^^-^^-");
    // Two faults in a row before it counts.
    EXPECT_EQ(pinOver({27, 31, 27, 31, 32, 27}, {}, {AlertMode::Comparator, 25, 30, true, 2}), "----^^");
}

// TMP102 data sheet, extended mode (13-bit): 80 °C is 0x500 in 12 bits at the top of the word, and 0x500 in 13; 140 °C
// is 0x8C0.
TEST(Registers, LimitsHaveOneBitMoreInExtendedMode) {
    const auto word = [](const std::string& settings, const std::string& name) {
        const auto words = test::wordsFor("tmp102", settings).value();
        for (const RegisterWord& one : words)
            if (one.in->name == name) return one.word;
        return 0u;
    };
    EXPECT_EQ(word("high_limit=80", "high_limit"), 0x5000u);
    EXPECT_EQ(word("extended=on,high_limit=80", "high_limit"), 0x2800u);
    EXPECT_EQ(word("high_limit=80,extended=on", "high_limit"), 0x2800u);  // whichever comes first
    EXPECT_EQ(word("extended=on,high_limit=140", "high_limit"), 0x4600u);
    EXPECT_FALSE(test::wordsFor("tmp102", "high_limit=140"));
    EXPECT_EQ(test::meaning("tmp102", "01=60B0 03=2800", "high_limit"), "80 °C");
    EXPECT_EQ(test::meaning("tmp102", "01=60A0 03=2800", "high_limit"), "40 °C");
    // Switched over, a limit keeps what it means.
    const auto base = test::wordsFor("tmp112", "high_limit=31.5").value();
    const auto both = mapOf("tmp112").set(RegisterMap::readSettings("extended=on").value(), base).value();
    EXPECT_EQ(both[0].word, 31.5 * 16 * 8);
}

TEST(Registers, WordsAsPeopleSayThem) {
    const auto said = [](const char* part, const char* settings) {
        return test::wordsFor(part, settings).value()[0].word;
    };
    EXPECT_EQ(said("bme280", "standby=1s"), said("bme280", "standby=1000ms"));
    EXPECT_EQ(said("bme280", "osrs_p=skip"), said("bme280", "osrs_p=skipped"));
    EXPECT_EQ(said("bme280", "osrs_p=16"), said("bme280", "osrs_p=x16"));
    EXPECT_EQ(said("mcp9808", "resolution=0.0625"), said("mcp9808", "resolution=0.0625degC"));
    EXPECT_EQ(said("tsl2561", "integration=13ms"), said("tsl2561", "integration=13.7ms"));
    EXPECT_FALSE(test::wordsFor("bme280", "standby=3s"));
    // A whole-degree limit is not rounded in silence.
    EXPECT_NE(test::wordsFor("ds18b20", "th=28.5").error().expected.find("28 or 29"), std::string::npos);
    // Contradictions are faults, whatever the part calls its limits.
    for (const auto& [part, settings] :
         {std::pair{"tmp117", "high_limit=10,low_limit=20"}, {"ds18b20", "th=10,tl=20"}}) {
        const auto checks = checkSettings(mapOf(part).all(test::wordsFor(part, settings).value()));
        ASSERT_FALSE(checks.empty()) << part;
        EXPECT_EQ(checks[0].id, "limits-swapped");
    }
}

}  // namespace
}  // namespace fg
