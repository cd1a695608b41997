// Devices that are configured by commands, by registers with a CRC, or by clock pulses: words, meanings, costs, the
// bus, and the simulated parts that obey them.

#include "registers/alert_pin.h"
#include "registers_support.h"
#include "simulation/register_bus.h"

#include <random>

namespace fg {
namespace {

using test::consequence;
using test::mapOf;
using test::meaning;
using test::transactions;
using test::wordsFor;
using Bytes = std::vector<std::uint8_t>;

std::string wordsAsText(const std::string& part, const std::string& settings) {
    const auto words = wordsFor(part, settings);
    if (!words) return words.error().message();
    std::string text;
    for (const RegisterWord& word : *words) {
        if (!text.empty()) text += ' ';
        text += word.text();
    }
    return text;
}

ErrorCode refusal(const std::string& part, const std::string& dump) {
    const auto words = mapOf(part).words(readDump(dump).value());
    return words ? ErrorCode::Io : words.error().code;
}

TEST(Commands, SettingsBecomeTheDataSheetsWords) {
    // SHT3x-DIS data sheet, tables of the single shot and the periodic commands.
    EXPECT_EQ(wordsAsText("sht31", "repeat=once_stretched,repeatability=high"), "0x2C06");
    EXPECT_EQ(wordsAsText("sht31", "repeatability=low,repeat=once"), "0x2416");
    EXPECT_EQ(wordsAsText("sht35", "repeat=10/s"), "0x2737");
    EXPECT_EQ(wordsAsText("sht30", "repeat=0.5/s,repeatability=medium"), "0x2024");
    EXPECT_EQ(wordsAsText("sht31", "heater=on"), "0x306D");
    // Its alert mode application note: 60 °C and 80 % are CD33, 58 and 79 CB2D, −9 and 22 3869.
    EXPECT_EQ(wordsAsText("sht31",
                          "high_set=60 °C,high_set_rh=80,high_clear=58,high_clear_rh=79,low_clear=-9,low_clear_rh=22"),
              "0xCD33 0xCB2D 0x3869");
    EXPECT_EQ(wordsAsText("sht31", "high_set=140 °F"), "0xCD33");
    EXPECT_EQ(wordsAsText("sht40", "measure=low"), "0xE0");
    EXPECT_EQ(wordsAsText("sht40", "measure=heat_20mW_100ms"), "0x15");
    // BH1750FVI data sheet, instruction set: MTreg 138 is 01000 100 and 011 01010; 69 after power-on; 31 and 254 are
    // the ends.
    EXPECT_EQ(wordsAsText("bh1750", "mtreg=138"), "0x446A");
    EXPECT_EQ(wordsAsText("bh1750", "mtreg=69"), "0x4265");
    EXPECT_EQ(wordsAsText("bh1750", "mtreg=31"), "0x407F");
    EXPECT_EQ(wordsAsText("bh1750", "mtreg=254"), "0x477E");
    EXPECT_EQ(wordsAsText("bh1750", "repeat=continuous,mode=h2"), "0x11");
    EXPECT_EQ(wordsAsText("bh1750", "repeat=once,mode=l"), "0x23");
    // Si7021-A20 data sheet, user register 1: RES1 is its highest and RES0 its lowest bit. HTU21D(F) data sheet, the
    // same over 0x02.
    EXPECT_EQ(wordsAsText("si7021", "resolution=8/12"), "0x3B");
    EXPECT_EQ(wordsAsText("si7021", "resolution=10/13"), "0xBA");
    EXPECT_EQ(wordsAsText("si7021", "resolution=11/11,heater=on"), "0xBF");
    EXPECT_EQ(wordsAsText("si7021", "measure=temperature"), "0xF3");
    EXPECT_EQ(wordsAsText("htu21d", "resolution=11/11"), "0x83");
    // MS5611-01BA03, MS5607-02BA03 and MS5837-30BA data sheets, commands.
    EXPECT_EQ(wordsAsText("ms5611", "convert=pressure,osr=4096"), "0x48");
    EXPECT_EQ(wordsAsText("ms5611", "convert=temperature,osr=256"), "0x50");
    EXPECT_EQ(wordsAsText("ms5611", "word=7"), "0xAE");
    EXPECT_EQ(wordsAsText("ms5607", "convert=temperature,osr=4096"), "0x58");
    EXPECT_EQ(wordsAsText("ms5837", "convert=temperature,osr=8192"), "0x5A");
    // HX711 data sheet, table of input channel and gain selection.
    EXPECT_EQ(wordsAsText("hx711", "gain=128"), "25");
    EXPECT_EQ(wordsAsText("hx711", "gain=32"), "26");
    EXPECT_EQ(wordsAsText("hx711", "pulses=64"), "27");
    EXPECT_EQ(wordsAsText("ds18s20", "th=30,tl=-5"), "0x1E 0xFB");
}

TEST(Commands, WhatIsSentIsExplained) {
    EXPECT_EQ(meaning("sht31", "21 2D", "repeat"), "1/s");
    EXPECT_EQ(meaning("sht31", "21 2D", "repeatability"), "low");
    EXPECT_EQ(meaning("sht31", "30 93 61 1D CD 33 FD 27 37", "repeat"),
              "10/s");  // one after the other as they go over the bus
    EXPECT_TRUE(meaning("sht31", "30 93 61 1D CD 33 FD 27 37", "high_set").starts_with("59.93"));
    EXPECT_TRUE(meaning("sht31", "E11F: CD 33 FD", "high_set").starts_with("59.93"));  // and as it is read back
    EXPECT_EQ(meaning("bh1750", "44 6A 10", "mtreg"), "138");
    EXPECT_EQ(meaning("bh1750", "01 6A 21", "mode"), "h2");
    EXPECT_EQ(meaning("bh1750", "40 60", "mtreg"), "0 (outside 31 to 254)");
    EXPECT_EQ(meaning("si7021", "E6 3B F5", "resolution"), "8/12");
    EXPECT_EQ(meaning("si7021", "E7: 7A", "vdd"), "low");
    EXPECT_EQ(meaning("ms5611", "1E A4 58", "osr"), "4096");
    EXPECT_EQ(meaning("ms5611", "1E A4 58", "word"), "2");
    EXPECT_EQ(meaning("hx711", "1B", "gain"), "64");
    EXPECT_EQ(meaning("ds18s20", "02: 1E", "th"), "30 °C");
}

TEST(Commands, WhatIsNoneOrDamagedIsRefused) {
    EXPECT_EQ(refusal("sht31", "24 01"), ErrorCode::Unknown);
    EXPECT_EQ(refusal("sht31", "24"), ErrorCode::Unknown);
    EXPECT_EQ(refusal("sht31", "61 1D CD 33 FE"), ErrorCode::Damaged);
    EXPECT_EQ(refusal("sht31", "61 1D CD"), ErrorCode::Range);
    EXPECT_EQ(refusal("sht31", "E1 1F CD 33 FD"), ErrorCode::Unknown);  // the read address takes no word
    EXPECT_EQ(refusal("bh1750", "12"), ErrorCode::Unknown);
    EXPECT_EQ(refusal("ms5611", "5A"), ErrorCode::Unknown);  // OSR 8192 is the ms5837's
    EXPECT_EQ(refusal("hx711", "18"), ErrorCode::Range);     // 24 pulses choose nothing
    EXPECT_EQ(refusal("bmp280", "27 A0"), ErrorCode::Missing);
    for (const char* settings : {"mtreg=30", "mtreg=255", "mode=h3"})
        EXPECT_EQ(wordsFor("bh1750", settings).error().code, ErrorCode::Range) << settings;
    EXPECT_EQ(wordsFor("sht31", "alert_pending=no").error().code, ErrorCode::ReadOnly);
    EXPECT_EQ(wordsFor("sht31", "high_set=200").error().code, ErrorCode::Range);
    const auto compare = [](const std::string& part, const std::string& dump, const std::string& asked) {
        return mapOf(part).compare(test::wordsOf(part, dump), RegisterMap::readSettings(asked).value()).value();
    };
    EXPECT_NE(compare("bh1750", "10", "mtreg=138")[0].text.find("measuring_time is not sent"), std::string::npos);
    EXPECT_NE(compare("lps25hb", "20: B0", "avgp=32")[0].text.find("is not stated"), std::string::npos);
    EXPECT_EQ(compare("sht31", "21 30", "repeat=2/s")[0].text, "Measure is 1/s, half of the 2/s that was asked for");
}

// Every listed command: its meaning set again gives the same word.
TEST(Commands, EveryListedWordGoesRound) {
    int count = 0;
    for (const RegisterMap& map : test::catalogue().registerMaps())
        for (const Register& in : map.registers)
            for (const ListedWord& listed : in.words) {
                std::vector<Setting> settings;
                for (const FieldValue& value : map.explain(std::vector<RegisterWord>{{&in, listed.word}}))
                    settings.push_back({value.field->id, value.text});
                const auto words = map.set(settings);
                ASSERT_TRUE(words) << map.id << ": " << words.error().message();
                EXPECT_EQ(words->front().word, listed.word) << map.id;
                ++count;
            }
    EXPECT_EQ(count, 21);  // three single ones stretched and not, three of each of five rates
}

// Whatever is pasted is refused, or every word of it is one that the device has: its bytes on the bus are read back as
// the same word.
TEST(Commands, AnyBytesAreReadOrRefused) {
    std::mt19937 random(4);
    int read = 0;
    for (const RegisterMap& map : test::catalogue().registerMaps()) {
        if (!map.hasCommands()) continue;
        for (int i = 0; i < 3000; ++i) {
            Bytes sent(1 + random() % 6);
            for (std::uint8_t& byte : sent) byte = static_cast<std::uint8_t>(random());
            const auto words = map.words(RawData({RawBlock{"", {}, sent}}));
            if (!words) continue;
            for (const RegisterWord& word : *words) {
                if (word.in->form == WordForm::Register) continue;
                EXPECT_TRUE(word.in->accepts(word.word)) << map.id << " " << word.text();
                const auto again = map.words(RawData({RawBlock{"", {}, word.bytes()}}));
                ASSERT_TRUE(again) << map.id << " " << word.text();
                EXPECT_EQ(again->front().word, word.word) << map.id;
                ++read;
            }
        }
    }
    EXPECT_GT(read, 300);
}

// A maker who asks for a sheet gets one, or hears that there is nothing to set.
TEST(Commands, EveryDigitalPartHasASheetOrSaysWhyNot) {
    for (const DevicePart& part : test::catalogue().devices())
        EXPECT_NE(test::catalogue().findRegisterMap(part.id) == nullptr, part.nothingToSet.empty()) << part.id;
}

TEST(Commands, CostWhatTheDataSheetsSay) {
    EXPECT_NEAR(consequence("bh1750", "mode=h", "conversion_max_s"), 0.180, 1e-12);
    EXPECT_NEAR(consequence("bh1750", "mode=l", "conversion_max_s"), 0.024, 1e-12);
    EXPECT_NEAR(consequence("bh1750", "mtreg=254,mode=h2", "step_lx"), 0.11, 0.005);  // "min. 0.11 lx"
    EXPECT_NEAR(consequence("sht31", "repeatability=high", "conversion_s"), 12.5e-3, 1e-12);
    EXPECT_NEAR(consequence("sht31", "repeat=0.5/s", "poll_s"), 2, 1e-12);
    EXPECT_NEAR(consequence("sht31", "repeatability=low", "current_A"), 1.7e-6,
                0.05e-6);  // table of the electrical specification
    EXPECT_NEAR(consequence("sht40", "measure=medium", "conversion_max_s"), 4.5e-3, 1e-12);
    EXPECT_NEAR(consequence("si7021", "resolution=12/14", "conversion_max_s"), 22.8e-3, 1e-12);  // 12 and 10.8 ms
    EXPECT_NEAR(consequence("si7021", "resolution=12/14", "step_degC"), 0.01, 0.001);
    EXPECT_NEAR(consequence("htu21d", "resolution=12/14,measure=temperature", "conversion_max_s"), 50e-3, 1e-12);
    EXPECT_NEAR(consequence("htu21d", "resolution=8/12", "step_percent"), 0.5, 0.02);
    EXPECT_NEAR(consequence("ms5611", "osr=4096", "noise_Pa"), 1.2, 1e-12);  // 0.012 mbar
    EXPECT_NEAR(consequence("ms5607", "osr=1024", "conversion_max_s"), 2.28e-3, 1e-12);
    EXPECT_NEAR(consequence("ms5837", "osr=8192", "noise_Pa"), 20, 1e-12);  // 0.20 mbar
    EXPECT_NEAR(consequence("hx711", "gain=128", "full_V"), 20e-3, 0.6e-3);
    EXPECT_NEAR(consequence("hx711", "gain=32", "full_V"), 80e-3, 2e-3);
    EXPECT_NEAR(consequence("ds18s20", "", "conversion_max_s"), 0.75, 1e-12);
}

TEST(Commands, CostsAreWrittenAsPeopleWriteThem) {
    const auto text = [](const std::string& part, const std::string& settings, const std::string& id) -> std::string {
        const auto words = wordsFor(part, settings).value();
        for (const Consequence& one : consequencesOf(mapOf(part), mapOf(part).all(words)))
            if (one.id == id) return consequenceText(one);
        return "nothing";
    };
    EXPECT_EQ(text("sht31", "", "conversion_s"), "12.5 ms");
    EXPECT_EQ(text("tmp117", "", "step_degC"), "0.0078125 °C");
    EXPECT_EQ(text("bh1750", "", "step_lx"), "0.83333 lx");
    EXPECT_EQ(text("bh1750", "", "full_lx"), "54613 lx");  // 65535 / 1.2
    EXPECT_EQ(text("bh1750", "mtreg=31", "full_lx"), "121557 lx");
    EXPECT_EQ(text("ms5837", "osr=8192", "noise_Pa"), "20 Pa");
}

TEST(Commands, GoOverTheBusByteForByte) {
    EXPECT_EQ(transactions("sht31", "repeat=once_stretched", {BusKind::TwoWire, 0x44}),
              "send: S 88 A 2C A 06 A P\nanswer: S 89 A ·· A ·· A ·· A ·· A ·· A ·· N P");
    EXPECT_EQ(transactions("sht31", "repeat=4/s", {BusKind::TwoWire, 0x45}),
              "send: S 8A A 23 A 34 A P");  // its results are fetched
    EXPECT_EQ(transactions("sht31", "high_set=60,high_set_rh=80", {BusKind::TwoWire, 0x44}),
              "write: S 88 A 61 A 1D A CD A 33 A FD A P\nread: S 88 A E1 A 1F A Sr 89 A CD A 33 A FD N P");
    EXPECT_EQ(transactions("bh1750", "mtreg=138", {BusKind::TwoWire, 0x23}),
              "send: S 46 A 44 A P\nsend: S 46 A 6A A P");
    EXPECT_EQ(transactions("si7021", "heater=on", {BusKind::TwoWire, 0x40}),
              "write: S 80 A E6 A 3E A P\nread: S 80 A E7 A Sr 81 A 3E N P");
    EXPECT_EQ(transactions("ms5611", "word=1", {BusKind::TwoWire, 0x77}),
              "send: S EE A A2 A P\nanswer: S EF A ·· A ·· N P");
    EXPECT_EQ(transactions("hx711", "gain=64", {BusKind::TwoWire, 0}), "");
}

// Alert mode application note: on beyond the limits that set it, off inside those that clear it.
TEST(Commands, AlertWindowHasLimitsThatClearIt) {
    const auto values = mapOf("sht31").all({});
    const auto setting = alertSettingOf(values);
    ASSERT_TRUE(setting);
    EXPECT_NEAR(setting->high, 60, 0.1);
    EXPECT_NEAR(*setting->clearHigh, 58, 0.2);
    std::string pin;
    for (const bool high : alertLevels(std::vector<double>{20, 59, 61, 59, 57, -9.5, -11, -9.5, -8}, {}, *setting))
        pin += high ? '^' : '-';
    EXPECT_EQ(pin, "--^^--^^-");
}

// TMP117 data sheet, temperature offset register: 0.5 °C is 0x0040; it is added to the result, which is what the limits
// are held against.
TEST(Commands, OffsetMovesTheReadingAndNotTheLimits) {
    const auto words = wordsFor("tmp117", "offset=0.5 °C,high_limit=30,low_limit=20").value();
    EXPECT_EQ(words[0].word, 0x0040u);
    const AlertSetting setting = *alertSettingOf(mapOf("tmp117").all(words));
    EXPECT_EQ(setting.offset, 0.5);
    EXPECT_EQ(setting.high, 30);
    const AlertPicture picture = alertPicture(setting);
    ASSERT_EQ(picture.sensed.size(), picture.value.size());
    for (std::size_t i = 0; i < picture.value.size(); ++i)
        EXPECT_NEAR(picture.value[i] - picture.sensed[i], 0.5, 1e-12);
    EXPECT_TRUE(alertPicture(*alertSettingOf(mapOf("tmp117").all({}))).sensed.empty());
}

RegisterDevice deviceOf(const std::string& id, std::vector<VirtualDevice::Sense> senses) {
    const DevicePart& part = *test::catalogue().findDevicePart(id);
    return RegisterDevice({id, part.device, part.options, part.device->specimen ? part.device->specimen() : RawData(),
                           std::move(senses)},
                          part, test::catalogue().findRegisterMap(id));
}

double word16(const Bytes& bytes) { return bytes.at(0) * 256 + bytes.at(1); }

// BH1750FVI data sheet: lux = count / 1.2 · 69 / MTreg.
TEST(CommandedDevices, LightMeterTakesItsMeasuringTimeInTwoCommands) {
    Workshop workshop;
    RegisterDevice device = deviceOf("bh1750", {{"illuminance", "cabinet_light", 0}});
    const double lux = workshop.cabinetLight_lx();
    ASSERT_TRUE(device.write(0x10, {}));
    device.advance(0.05, workshop);
    EXPECT_EQ(device.answer(2).value(), (Bytes{0, 0}));
    device.advance(0.13, workshop);
    EXPECT_NEAR(word16(device.answer(2).value()) / 1.2, lux, 1);
    ASSERT_TRUE(device.write(0x44, {}));
    ASSERT_TRUE(device.write(0x6A, {}));
    EXPECT_NEAR(device.conversion_s(), 0.24, 1e-9);
    ASSERT_TRUE(device.write(0x20, {}));
    device.advance(0.5, workshop);
    EXPECT_NEAR(word16(device.answer(2).value()) / 1.2 / 2, lux, 1);
    const Bytes once = device.answer(2).value();
    workshop.advance(3600);
    device.advance(3600, workshop);
    EXPECT_EQ(device.answer(2).value(), once);  // it measured once
    EXPECT_EQ(device.write(0x12, {}).error().code, ErrorCode::Unknown);
}

TEST(CommandedDevices, HumiditySensorMeasuresByItselfUntilItIsStopped) {
    Workshop workshop;
    RegisterDevice device =
        deviceOf("sht31", {{"temperature", "store_temperature", 0}, {"humidity", "store_humidity", 0}});
    const auto temperature = [](const Bytes& frame) { return -45 + 175 * word16(frame) / 65535; };
    EXPECT_EQ(device.answer(6).error().code, ErrorCode::Missing);
    ASSERT_TRUE(device.write(0x21, Bytes{0x30}));
    device.advance(0.005, workshop);
    EXPECT_EQ(device.read(0xE000, 6).error().code, ErrorCode::Busy);
    device.advance(0.02, workshop);
    EXPECT_NEAR(temperature(device.read(0xE000, 6).value()), workshop.storeAir_degC(), 0.01);
    const Bytes before = device.read(0xE000, 6).value();
    workshop.advance(7200);
    device.advance(0.5, workshop);
    EXPECT_EQ(device.read(0xE000, 6).value(), before);  // one a second
    device.advance(0.6, workshop);
    EXPECT_NEAR(temperature(device.read(0xE000, 6).value()), workshop.storeAir_degC(), 0.01);
    ASSERT_TRUE(device.write(0x30, Bytes{0x93}));
    const double stopped = workshop.storeAir_degC();
    workshop.advance(7200);
    device.advance(10, workshop);
    EXPECT_NEAR(temperature(device.read(0xE000, 6).value()), stopped, 0.01);
    // Limits are written with a CRC and read at an address of their own.
    ASSERT_TRUE(device.write(0x61, Bytes{0x1D, 0xA6, 0xD6, 0x86}));
    EXPECT_EQ(device.read(0xE11F, 3).value(), (Bytes{0xA6, 0xD6, 0x86}));
    EXPECT_EQ(device.write(0x61, Bytes{0x1D, 0xA6, 0xD6, 0x87}).error().code, ErrorCode::Damaged);
    ASSERT_TRUE(device.write(0x30, Bytes{0xA2}));
    EXPECT_EQ(device.read(0xE11F, 2).value(), (Bytes{0xCD, 0x33}));
}

TEST(CommandedDevices, BarometerConvertsWhatItIsToldTo) {
    Workshop workshop;
    RegisterDevice device = deviceOf("ms5611", {{"temperature", "air", 0}, {"pressure", "air_pressure", 0}});
    ASSERT_TRUE(device.write(0x1E, {}));
    RawData raw;
    Bytes prom;
    for (unsigned word = 0; word < 8; ++word) {
        const Bytes bytes = device.read(0xA0 + 2 * word, 2).value();
        prom.insert(prom.end(), bytes.begin(), bytes.end());
    }
    raw.add({"prom", {}, prom});
    for (const auto& [command, block] : {std::pair{0x48U, "d1"}, std::pair{0x58U, "d2"}}) {
        ASSERT_TRUE(device.write(command, {}));
        device.advance(0.004, workshop);
        EXPECT_TRUE(device.isConverting());
        device.advance(0.005, workshop);
        raw.add({block, {}, device.read(0x00, 3).value()});
    }
    const auto decoded = decode(*test::catalogue().findDevicePart("ms5611")->device, raw, {});
    ASSERT_TRUE(decoded) << decoded.error().message();
    EXPECT_NEAR(decoded->find("pressure")->value, workshop.air_Pa(), 3);
    EXPECT_NEAR(decoded->find("temperature")->value, workshop.air_degC(), 0.02);
    EXPECT_EQ(device.answer(4).error().code, ErrorCode::Range);
}

TEST(CommandedDevices, HumiditySensorKeepsItsUserRegisterApart) {
    Workshop workshop;
    RegisterDevice device =
        deviceOf("si7021", {{"temperature", "store_temperature", 0}, {"humidity", "store_humidity", 0}});
    EXPECT_EQ(device.read(0xE7, 1).value(), (Bytes{0x3A}));
    ASSERT_TRUE(device.write(0xE6, Bytes{0xFF}));
    EXPECT_EQ(device.read(0xE7, 1).value(),
              (Bytes{0xBF}));  // the supply's bit and the reserved ones are the part's own
    ASSERT_TRUE(device.write(0xE6, Bytes{0x3A}));
    EXPECT_EQ(device.read(0xF5, 3).error().code, ErrorCode::Busy);
    device.advance(0.03, workshop);
    EXPECT_NEAR(125 * word16(device.answer(3).value()) / 65536 - 6, workshop.storeHumidity_percent(), 0.05);  // 5.1.1
    ASSERT_TRUE(device.write(0xF3, {}));
    device.advance(0.03, workshop);
    EXPECT_NEAR(175.72 * word16(device.answer(3).value()) / 65536 - 46.85, workshop.storeAir_degC(), 0.02);  // 5.1.2
}

TEST(CommandedDevices, AnswerOverTheBoardsLine) {
    const auto parts = readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue()).value();
    RegisterBus bus(parts.devices, test::catalogue());
    EXPECT_TRUE(bus.answer("r 44 6").starts_with("nak"));
    EXPECT_EQ(bus.answer("w 44 24 00"), "ok");
    EXPECT_TRUE(bus.answer("r 44 6").starts_with("nak"));
    EXPECT_EQ(bus.answer("t 0.02"), "ok");
    const std::string frame = bus.answer("r 44 6");
    EXPECT_EQ(frame, bus.answer("b store frame"));
    EXPECT_EQ(frame.size(), 17u) << frame;
    EXPECT_EQ(bus.answer("r 44 E11F 3"), "CD 33 FD");
    EXPECT_TRUE(bus.answer("w 44 24 01").starts_with("nak"));
}

}  // namespace
}  // namespace fg
