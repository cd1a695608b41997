// Digital parts against published examples and tables, their inverses, their refusals, and bytes in every shape people
// have them in.

#include "bytes/checksum.h"
#include "bytes/dump_text.h"
#include "bytes/pulse_text.h"
#include "devices/trimmed_bulk.h"
#include "support.h"

#include <fmt/format.h>
#include <array>
#include <cmath>
#include <set>

namespace fg {
namespace {

DeviceOptions optionsOf(const std::string& text) {
    DeviceOptions options;
    std::istringstream words(text);
    for (std::string word; words >> word;) options.set(word.substr(0, word.find('=')), word.substr(word.find('=') + 1));
    return options;
}

Expected<Decoded> decoded(const std::string& device, const std::string& dump, const std::string& options = "") {
    const auto raw = readDump(dump);
    if (!raw) return tl::unexpected(raw.error());
    return decode(*findDevice(device), *raw, optionsOf(options));
}

double valueOf(const std::string& device, const std::string& dump, const std::string& reading,
               const std::string& options = "") {
    const auto result = decoded(device, dump, options);
    if (!result) {
        ADD_FAILURE() << device << ": " << result.error().message();
        return std::nan("");
    }
    return result->find(reading) ? result->find(reading)->value : std::nan("");
}

bool says(const Decoded& result, const std::string& id, StatusKind kind) {
    for (const DeviceStatus& one : result.status)
        if (one.id == id) return one.kind == kind;
    return false;
}

struct Example {
    std::string device, options, dump, reading;
    double value, tolerance;
};

std::vector<Example> examples() {
    std::ifstream file(std::filesystem::path(FAIRGAUGE_SOURCE) / "tests/data/device_examples.tsv");
    std::vector<Example> rows;
    for (std::string line; std::getline(file, line);) {
        if (line.empty() || line[0] == '#') continue;
        std::vector<std::string> cells;
        std::istringstream text(line);
        for (std::string cell; std::getline(text, cell, '\t');) cells.push_back(cell);
        if (cells.size() != 7 || !findDevice(cells[0])) {
            ADD_FAILURE() << line;
            continue;
        }
        rows.push_back({cells[0], cells[1], cells[2], cells[3], test::number(cells[4]), test::number(cells[5])});
    }
    return rows;
}

TEST(Devices, PublishedExamples) {
    EXPECT_GE(examples().size(), 95u);
    for (const Example& one : examples())
        EXPECT_NEAR(valueOf(one.device, one.dump, one.reading, one.options), one.value, one.tolerance + 1e-12)
            << one.device << " " << one.dump;
}

// DS18B20 data sheet, table 1, and DS18S20 data sheet, table 1: temperature and data.
TEST(Devices, OneWireTables) {
    const std::pair<int, double> table[] = {{0x07D0, 125},      {0x0550, 85}, {0x0191, 25.0625}, {0x00A2, 10.125},
                                            {0x0008, 0.5},      {0x0000, 0},  {0xFFF8, -0.5},    {0xFF5E, -10.125},
                                            {0xFE6F, -25.0625}, {0xFC90, -55}};
    const auto padOf = [](int word, std::vector<int> rest) {
        std::vector<std::uint8_t> pad{static_cast<std::uint8_t>(word), static_cast<std::uint8_t>(word >> 8)};
        for (const int byte : rest) pad.push_back(static_cast<std::uint8_t>(byte));
        pad.push_back(crc8OneWire(pad));
        return RawData({{"scratchpad", {}, pad}});
    };
    for (const auto& [word, celsius] : table) {
        const auto result =
            decode(*findDevice("ds18b20"), padOf(word, {0x4B, 0x46, 0x7F, 0xFF, 0x0C, 0x10}), {}).value();
        EXPECT_EQ(result.find("temperature")->value, celsius);
        EXPECT_EQ(says(result, "power-on", StatusKind::Doubt), word == 0x0550);
    }
    // Nine bits: what stands below the half degree is undefined and must not count.
    EXPECT_EQ(decode(*findDevice("ds18b20"), padOf(0x0197, {0, 0, 0x1F, 0xFF, 0x0C, 0x10}), {})
                  .value()
                  .find("temperature")
                  ->value,
              25.0);
    const std::pair<int, double> older[] = {{0x00AA, 85},   {0x0032, 25},  {0x0001, 0.5}, {0x0000, 0},
                                            {0xFFFF, -0.5}, {0xFFCE, -25}, {0xFF92, -55}};
    for (const auto& [word, celsius] : older)
        EXPECT_EQ(decode(*findDevice("ds18s20"), padOf(word, {0x4B, 0x46, 0xFF, 0xFF, 0x0C, 0x10}), {{"extended", "0"}})
                      .value()
                      .find("temperature")
                      ->value,
                  celsius);
    // TEMP_READ 25, COUNT_REMAIN 4 of 16: 25 − 0.25 + 0.75.
    EXPECT_EQ(decode(*findDevice("ds18s20"), padOf(0x0032, {0x4B, 0x46, 0xFF, 0xFF, 4, 16}), {})
                  .value()
                  .find("temperature")
                  ->value,
              25.5);
}

TEST(Devices, PublishedChecksums) {
    EXPECT_EQ(crc8Humidity(std::array<std::uint8_t, 2>{0xBE, 0xEF}, 0xFF), 0x92);  // SHT3x data sheet, 4.12
    EXPECT_EQ(crc8Humidity(std::array<std::uint8_t, 1>{0xDC}, 0x00), 0x79);        // HTU21D data sheet, CRC checksum
    EXPECT_EQ(crc8Humidity(std::array<std::uint8_t, 2>{0x68, 0x3A}, 0x00), 0x7C);
    EXPECT_EQ(crc8Humidity(std::array<std::uint8_t, 2>{0x4E, 0x85}, 0x00), 0x6B);
    EXPECT_EQ(crc4Prom(std::array<std::uint16_t, 8>{0x3132, 0x3334, 0x3536, 0x3738, 0x3940, 0x4142, 0x4344, 0x4500}),
              0xB);  // AN520
    // Modbus over serial line V1.02, 6.2: the request 02 07 has CRC 0x1241.
    EXPECT_EQ(crc16Modbus(std::array<std::uint8_t, 2>{0x02, 0x07}), 0x1241);
    // Application note 27, ROM code 02 1C B8 01 00 00 00: CRC A2.
    EXPECT_EQ(crc8OneWire(std::array<std::uint8_t, 7>{0x02, 0x1C, 0xB8, 0x01, 0x00, 0x00, 0x00}), 0xA2);
}

// The three routines for the same bytes differ by their own coarseness only.
TEST(Devices, IntegerAndDoubleRoutinesAgreeOverTheRange) {
    const trimmed::Words c{27504, 26435,  -1000, 36477, -10685, 3024, 2855, 140, -7,
                           15500, -14600, 6000,  75,    370,    0,    313,  50,  30};
    const Trimmed<double> doubles{27504, 26435,  -1000, 36477, -10685, 3024, 2855, 140, -7,
                                  15500, -14600, 6000,  75,    370,    0,    313,  50,  30};
    for (std::int32_t rawT = 400000; rawT <= 620000; rawT += 5501)
        for (std::int32_t rawP = 250000; rawP <= 600000; rawP += 17011) {
            const double fine = trimmed::fineOf<double>(doubles, rawT);
            const auto whole = trimmed::fineInt(c, rawT);
            EXPECT_NEAR(whole.value(), fine, 26435 / 2048.0 + 3)
                << rawT;  // raw >> 3 loses up to a step of dig_T2/2¹¹, the other shifts less than 1 each
            const double exact = trimmed::pascalOf<double>(doubles, fine, rawP);
            EXPECT_NEAR(static_cast<double>(trimmed::pascalInt64(c, whole, rawP).value()) / 256.0, exact, 1.0)
                << rawT << " " << rawP;
            EXPECT_NEAR(trimmed::pascalInt32(c, whole, rawP).value(), exact, 12) << rawT << " " << rawP;
            const std::int32_t rawH = 20000 + rawP / 40;
            EXPECT_NEAR(trimmed::percentInt32(c, whole, rawH).value() / 1024.0,
                        trimmed::cutPercent(trimmed::uncutPercentOf<double>(doubles, fine, rawH)), 0.05)
                << rawT << " " << rawH;
        }
}

TEST(Devices, ColumnsAreBitEqualToRows) {
    const TrimmedCoefficients c{27504, 26435,  -1000, 36477, -10685, 3024, 2855, 140, -7,
                                15500, -14600, 6000,  75,    370,    0,    313,  50,  30};
    std::vector<std::int32_t> rawT, rawP, rawH;
    for (std::int32_t i = 0; i < 1003; ++i) {
        rawT.push_back(400000 + 217 * i);
        rawP.push_back(600000 - 341 * i);
        rawH.push_back(15000 + 40 * i);
    }
    std::vector<double> t(rawT.size()), p(t), h(t);
    compensateColumns(c, {rawT, rawP, rawH}, {t, p, h});
    for (std::size_t i = 0; i < t.size(); ++i) {
        const Trimmed<double> words = c.asDoubles();
        const double fine = trimmed::fineOf<double>(words, rawT[i]);
        EXPECT_EQ(t[i], fine / 5120);
        EXPECT_EQ(p[i], trimmed::pascalOf<double>(words, fine, rawP[i]));
        EXPECT_EQ(h[i], trimmed::cutPercent(trimmed::uncutPercentOf<double>(words, fine, rawH[i])));
    }
}

TEST(Devices, PiecewiseLuxOfBothRoutines) {
    // Data sheet's formula by hand, T package, 402 ms, gain 16: 0.0304·1000 − 0.062·1000·0.2^1.4 = 23.886 lx.
    EXPECT_NEAR(valueOf("tsl2561", "ch0: E8 03; ch1: C8 00", "illuminance", "gain=16"), 23.886, 0.001);
    EXPECT_NEAR(valueOf("tsl2561", "ch0: 0x3E8; ch1: 200", "illuminance", "gain=16"), 23.886,
                0.001);  // typed as numbers
    EXPECT_NEAR(valueOf("tsl2561", "ch0: E8 03; ch1: C8 00", "illuminance", "gain=16 package=CS"),
                0.0315 * 1000 - 0.0593 * 1000 * std::pow(0.2, 1.4), 1e-9);
    for (const char* package : {"T", "CS"})
        for (int share = 5; share <= 125; share += 7) {
            const std::string dump = fmt::format("ch0: 0x{:04x}; ch1: 0x{:04x}", 20000, 200 * share);
            const double exact = valueOf("tsl2561", dump, "illuminance", std::string("gain=16 package=") + package);
            const double whole =
                valueOf("tsl2561", dump, "illuminance", std::string("variant=integer gain=16 package=") + package);
            EXPECT_NEAR(whole, exact, 0.04 * exact + 12) << package << " " << share;
        }
    const auto full = decoded("tsl2561", "ch0: 0x9139; ch1: 0x2000", "integration_ms=101").value();
    EXPECT_TRUE(says(full, "saturated", StatusKind::Fault));
    EXPECT_EQ(full.find("illuminance")->bound, Bound::AtLeast);
    const auto both = decoded("tsl2561", "ch0: 0x9139; ch1: 0x9139", "integration_ms=101").value();
    EXPECT_TRUE(std::isnan(both.find("illuminance")->value));
    EXPECT_EQ(decoded("tsl2561", "ch0: 0x9140; ch1: 0x2000", "integration_ms=101").error().code, ErrorCode::Range);
}

// decode(encode(x)) within one raw step over the whole range of every device that can be simulated.
TEST(Devices, EncodingIsTheInverse) {
    int met = 0;
    for (const DevicePart& part : test::catalogue().devices()) {
        const Device& device = *part.device;
        const DeviceOptions options = part.options.completed(device.options()).value();
        const RawData calibration = device.specimen ? device.specimen() : RawData();
        const auto variables = device.variables(options);
        ASSERT_FALSE(variables.empty()) << part.id;
        for (int step = 0; step <= 8; ++step) {
            std::vector<WantedReading> wanted;
            for (const RawVariable& variable : variables) {
                const auto range = part.ranges.find(variable.reading);
                Interval span = range == part.ranges.end() ? Interval{0.001, 0.0015} : range->second;
                if (variable.reading == "illuminance")
                    span.high = std::min(span.high, 3500.0);  // what the default gains and times reach
                // Off the very ends, which a specimen's own coefficients need not reach.
                wanted.push_back({variable.reading, span.low + (0.04 + 0.92 * step / 8) * span.width()});
            }
            if (wanted.size() > 1 && wanted[1].id == "pressure") wanted[1].value = 40000 + 7000 * step;
            if (wanted[0].id == "temperature" && wanted.size() > 1 && wanted[1].id == "pressure")
                wanted[0].value = -20 + 10 * step;
            const auto raw = encode(device, wanted, part.options, calibration);
            if (!raw) {
                ADD_FAILURE() << part.id << " step " << step << ": " << raw.error().message();
                continue;
            }
            const auto back = decode(device, *raw, part.options);
            ASSERT_TRUE(back) << part.id << ": " << back.error().message();
            for (const WantedReading& one : wanted) {
                const DeviceReading* reading = back->find(one.id);
                ASSERT_TRUE(reading) << part.id << " " << one.id;
                const double allowed = std::max(reading->step, 1e-9 * std::abs(one.value));
                EXPECT_NEAR(reading->value, one.value, 1.02 * allowed) << part.id << " " << one.id << " step " << step;
                ++met;
            }
        }
    }
    EXPECT_GT(met, 600);
}

TEST(Devices, RefusalsNameWhatWasReadAndWhatWasExpected) {
    struct Row {
        const char *device, *dump, *options;
        ErrorCode code;
        const char* says;
    };
    const Row rows[] = {
        {"ds18b20", "50 05 4B 46 7F FF 0C 10 1D", "", ErrorCode::Damaged, "0x1C"},
        {"ds18b20", "00 00 00 00 00 00 00 00 00", "", ErrorCode::Damaged, "pull-up"},
        {"ds18b20", "FF FF FF FF FF FF FF FF FF", "", ErrorCode::Missing, "answers"},
        {"ds18b20", "50 05 4B 46 7F FF 0C 10", "", ErrorCode::Range, "9 bytes"},
        {"dht22", "02 8C 01 5F EF", "", ErrorCode::Damaged, "0xEE"},
        {"dht22", "02 8C 01 5F", "", ErrorCode::Range, "5 bytes"},
        {"dht22", "35 00 18 00 4D", "", ErrorCode::Range, "100 %RH"},
        {"dht11", "02 8C 01 5F EE", "", ErrorCode::Range, "tenths"},
        {"sht3x", "66 66 92 72 B0 DC", "", ErrorCode::Damaged, "0x93"},
        {"am2320", "03 04 01 F4 00 FA 31 A4", "", ErrorCode::Damaged, "0xA531"},
        {"bmp280", "F7: 65 5A C0 7E ED 00", "", ErrorCode::Missing, "0x88"},
        {"bmp280", "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17; F7: 65 5A C0", "",
         ErrorCode::Missing, "0xFA"},
        {"bmp280", "88: FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF FF; F7: FF FF FF FF FF FF",
         "", ErrorCode::Damaged, "nothing answered"},
        {"bmp280", "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17; F7: 65 5A C0 FF ED 00",
         "", ErrorCode::Range, "belong together"},
        {"bmp280", "F7: 65", "variant=float", ErrorCode::Range, "int64"},
        {"bmp280", "F7: 65", "oss=1", ErrorCode::Unknown, "variant"},
        {"ms5611", "prom: 00 42 9C BF 90 3C 5B 15 5A F2 82 B8 6E 98 00 0A; d1: 8A A2 1A; d2: 82 C1 3E", "",
         ErrorCode::Damaged, "9 for its words"},
        {"max31855", "FF FF FF FF", "", ErrorCode::Range, "nothing drives"},
        {"max6675", "FF FF", "", ErrorCode::Range, "bit 15"},
        {"opt3001", "C0 01", "", ErrorCode::Range, "0 to 11"},
        {"ds3231", "11: 19 41", "", ErrorCode::Range, "lower six bits"},
        {"bh1750", "83", "", ErrorCode::Range, "2 bytes"},
        {"bh1750", "83 90", "mtreg=300", ErrorCode::Range, "31 to 254"},
        {"ads1115", "00: 12 34", "bits=12", ErrorCode::Range, "lowest four bits"},
    };
    for (const Row& row : rows) {
        const auto result = decoded(row.device, row.dump, row.options);
        ASSERT_FALSE(result) << row.device << " " << row.dump;
        EXPECT_EQ(result.error().code, row.code) << row.device << " " << row.dump << ": " << result.error().message();
        EXPECT_NE(result.error().message().find(row.says), std::string::npos) << result.error().message();
    }
}

// Every example whose part sends a checksum, spoilt by each single bit in turn, and every example of any part with its
// last byte lost.
TEST(Devices, NoSpoiltFrameIsBelieved) {
    const std::set<std::string> checked{"ds18b20", "ds18s20", "dht11", "dht22", "am2320", "aht20", "sht3x", "sht4x"};
    std::set<std::string> spoilt;
    for (const Example& example : examples()) {
        const auto raw = readDump(example.dump).value();
        const DeviceOptions options = optionsOf(example.options);
        for (const RawBlock& block : raw.blocks()) {
            const auto with = [&](const std::vector<std::uint8_t>& bytes) {
                std::vector<RawBlock> blocks;
                for (const RawBlock& one : raw.blocks())
                    blocks.push_back(&one == &block ? RawBlock{one.name, one.address, bytes} : one);
                return decode(*findDevice(example.device), RawData(blocks), options);
            };
            std::vector<std::uint8_t> shorter = block.bytes;
            shorter.pop_back();
            const auto lost = with(shorter);
            // What may be left unread costs resolution, or another reading, or is marked: never this one's truth in
            // silence.
            const DeviceReading* const still = lost ? lost->find(example.reading) : nullptr;
            EXPECT_TRUE(!still || !lost->status.empty() ||
                        std::abs(still->value - example.value) <= still->step + example.tolerance)
                << example.device << " " << example.dump;
            const bool isUnchecked = example.device == "aht20" && block.bytes.size() == 6;
            if (!checked.contains(example.device) || isUnchecked) continue;
            spoilt.insert(example.device);
            for (std::size_t bit = 0; bit < 8 * block.bytes.size(); ++bit) {
                std::vector<std::uint8_t> bytes = block.bytes;
                bytes[bit / 8] = static_cast<std::uint8_t>(bytes[bit / 8] ^ 1U << bit % 8);
                const auto result = with(bytes);
                EXPECT_FALSE(result) << example.device << " " << example.dump << ", bit " << bit;
            }
        }
    }
    EXPECT_EQ(spoilt, checked);
}

TEST(Devices, PatternsThatAreNoReadingsAreNamed) {
    struct Row {
        const char *device, *dump, *reading, *status;
        StatusKind kind;
        bool hasValue;
    };
    const char* const calibrated = "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17; ";
    const std::string reset = std::string(calibrated) + "F7: 80 00 00 80 00 00",
                      skipped = std::string(calibrated) + "F7: 80 00 00 7E ED 00";
    const Row rows[] = {
        {"tmp117", "00: 80 00", "temperature", "not-ready", StatusKind::Fault, false},
        {"tmp117", "00: 0C 80; 01: 02 20", "temperature", "stale", StatusKind::Doubt, true},
        {"max31855", "01 91 19 01", "temperature", "open", StatusKind::Fault, false},
        {"max31855", "01 91 19 01", "internal", "open", StatusKind::Fault, true},
        {"max6675", "0C 84", "temperature", "open", StatusKind::Fault, false},
        {"max31865", "01: 40 01; 07: 80", "temperature", "fault-7", StatusKind::Fault, false},
        {"aht20", "98 80 00 08 00 00", "humidity", "not-ready", StatusKind::Fault, false},
        {"aht20", "10 80 00 08 00 00", "temperature", "uncalibrated", StatusKind::Doubt, true},
        {"bmp280", reset.c_str(), "temperature", "not-ready", StatusKind::Fault, false},
        {"bmp280", skipped.c_str(), "pressure", "pressure-skipped", StatusKind::Fault, false},
        {"bmp280", skipped.c_str(), "temperature", "pressure-skipped", StatusKind::Fault, true},
        {"hdc1080", "FF FF FF FF", "humidity", "not-ready", StatusKind::Fault, false},
        {"ms5611", "prom: 00 42 9C BF 90 3C 5B 15 5A F2 82 B8 6E 98 00 09; d1: 00 00 00; d2: 82 C1 3E", "pressure",
         "not-ready", StatusKind::Fault, false},
        {"hx711", "7F FF FF", "ratio", "saturated", StatusKind::Fault, true},
        {"bh1750", "FF FF", "illuminance", "saturated", StatusKind::Fault, true},
        {"veml7700", "04: FF FF", "illuminance", "saturated", StatusKind::Fault, true},
        {"opt3001", "00: 34 56; 01: 01 80", "illuminance", "saturated", StatusKind::Fault, true},
        {"max44009", "03: F0 00", "illuminance", "saturated", StatusKind::Fault, true},
        {"mcp9808", "05: 81 90", "temperature", "critical", StatusKind::Note, true},
        {"sht4x", "66 66 93 00 00 81", "humidity", "cut", StatusKind::Note, true},
    };
    for (const Row& row : rows) {
        const auto result = decoded(row.device, row.dump);
        ASSERT_TRUE(result) << row.device << ": " << result.error().message();
        EXPECT_TRUE(says(*result, row.status, row.kind)) << row.device << " " << row.dump;
        EXPECT_EQ(!std::isnan(result->find(row.reading)->value), row.hasValue) << row.device << " " << row.dump;
        // Saturated is a limit, never a value.
        EXPECT_EQ(result->find(row.reading)->bound != Bound::None, std::string(row.status) == "saturated")
            << row.device;
    }
}

TEST(Dump, EveryShapeGivesTheSameBytes) {
    const std::vector<std::uint8_t> five{0x02, 0x8C, 0x01, 0x5F, 0xEE};
    for (const char* text : {"02 8C 01 5F EE", "0x02, 0x8C, 0x01, 0x5F, 0xEE", "{0x02,0x8c,0x01,0x5f,0xee}",
                             "028C015FEE", "02 8C\n01 5F EE  # a frame", "  028C 015F EE "}) {
        const auto raw = readDump(text);
        ASSERT_TRUE(raw) << text << ": " << raw.error().message();
        ASSERT_EQ(raw->blocks().size(), 1u) << text;
        EXPECT_EQ(raw->blocks()[0].bytes, five) << text;
    }
    const char* const table =
        "     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f    0123456789abcdef\n"
        "80: XX XX XX XX XX XX XX XX 70 6b 43 67 18 fc 7d 8e    ........pkCg..}.\n"
        "90: 43 d6 d0 0b 27 0b 8c 00 f9 ff 8c 3c f8 c6 70 17    C...'......<..p.\n"
        "f0: -- -- -- -- -- -- -- 65 5a c0 7e ed 00 -- -- --    .......eZ.~.....\n";
    for (const std::string& text :
         {std::string(table),
          std::string(
              "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17\nF7: 65 5A C0 7E ED 00"),
          std::string("0x88 = 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B\n0x94 = 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17\n0xF7 = "
                      "0x65\n0xF8 = "
                      "0x5A\n0xF9 = 0xC0\n0xFA=7E\n0xFB=ED\n0xFC=00\n")}) {
        const auto raw = readDump(text);
        ASSERT_TRUE(raw) << text << raw.error().message();
        EXPECT_NEAR(decode(*findDevice("bmp280"), *raw, {}).value().find("pressure")->value, 100653.27, 0.005) << text;
    }
    const auto csv = readDump("address,value\n0x11,0x19\n0x12,0x40\n");
    ASSERT_TRUE(csv) << csv.error().message();
    EXPECT_EQ(decode(*findDevice("ds3231"), *csv, {}).value().find("temperature")->value, 25.25);
    const auto words = readDump("F4=27 F5=A0");
    ASSERT_TRUE(words) << words.error().message();
    EXPECT_EQ(words->blocks()[1].address, 0xF5u);
    // A word as a number, and two registers typed apart.
    EXPECT_EQ(valueOf("lm75", "0x1900", "temperature"), 25);
    EXPECT_EQ(valueOf("lm75", "high=0x19 low=0x00", "temperature"), 25);
    EXPECT_EQ(valueOf("lm75", "lsb=0 msb=25", "temperature"), 25);
    EXPECT_EQ(valueOf("lm75", "0b0001100100000000", "temperature"), 25);
}

TEST(Dump, WhatCannotBeReadIsSaid) {
    EXPECT_EQ(readDump("").error().code, ErrorCode::Missing);
    EXPECT_EQ(readDump("88: 70 6G").error().code, ErrorCode::Syntax);
    EXPECT_NE(readDump("88: 70 6G").error().message().find("6G"), std::string::npos);
    EXPECT_EQ(readDump("88: 70\n89: 7").value().blocks()[1].bytes, std::vector<std::uint8_t>{7});
    EXPECT_EQ(readDump("88:\n").error().code, ErrorCode::Missing);
    EXPECT_EQ(readDump("word: 0191").error().code, ErrorCode::Ambiguous);
    EXPECT_EQ(readDump("0x12345678123456781").error().code, ErrorCode::Syntax);
    EXPECT_NE(readDump("88: 70\n!!: 71").error().message().find("line 2"), std::string::npos);
}

TEST(Dump, PulseLengthsOfTheSingleBus) {
    std::vector<double> high{80};
    for (const int byte : {0x02, 0x8C, 0x01, 0x5F, 0xEE})
        for (int bit = 7; bit >= 0; --bit) high.push_back(byte >> bit & 1 ? 71.5 : 26.2);
    const auto block = singleBusFromPulses(high).value();
    EXPECT_EQ(block.bytes, (std::vector<std::uint8_t>{0x02, 0x8C, 0x01, 0x5F, 0xEE}));
    high[5] = 48;
    EXPECT_EQ(singleBusFromPulses(high).error().where, "pulses, bit 5");
    high.resize(30);
    EXPECT_EQ(singleBusFromPulses(high).error().code, ErrorCode::Range);
    // As text, told from a frame's bytes by their number.
    std::string text;
    for (const int bit : {0, 0, 0, 0, 0, 0, 1, 0}) text += bit ? "70.5, " : "26; ";
    text += text + text + text + text;
    EXPECT_EQ(readSingleBus(text).value().blocks()[0].bytes, (std::vector<std::uint8_t>{2, 2, 2, 2, 2}));
    EXPECT_EQ(readSingleBus("02 8C 01 5F EE").value().blocks()[0].bytes, block.bytes);
    EXPECT_NE(readPulses("26 seventy").error().message().find("seventy"), std::string::npos);
}

TEST(Devices, LiveFramesAreCutIntoTheirBlocks) {
    const Device& bmp = *findDevice("bmp280");
    EXPECT_EQ(blocksOfFrame(bmp, {}, std::vector<std::uint8_t>(30)).value().blocks().size(), 2u);
    EXPECT_EQ(blocksOfFrame(bmp, {}, std::vector<std::uint8_t>(6)).value().blocks()[0].address, 0xF7u);
    const auto wrong = blocksOfFrame(bmp, {}, std::vector<std::uint8_t>(7));
    EXPECT_NE(wrong.error().message().find("30 bytes or 6 bytes without the calibration"), std::string::npos)
        << wrong.error().message();
}

TEST(Catalogue, EveryDeviceEntryHasItsDecoderRangesAndAddresses) {
    EXPECT_GE(test::catalogue().devices().size(), 46u);
    for (const DevicePart& part : test::catalogue().devices()) {
        const DeviceOptions options = part.options.completed(part.device->options()).value();
        EXPECT_FALSE(part.device->blocks(options).empty()) << part.id;
        EXPECT_LT(part.supply_V.low, part.supply_V.high) << part.id;
        for (const DeviceAccuracy& one : part.accuracy) {
            const auto range = part.ranges.find(std::string(quantityName(one.quantity)));
            ASSERT_NE(range, part.ranges.end()) << part.id;
            EXPECT_TRUE(range->second.contains(one.band.span.low) && range->second.contains(one.band.span.high))
                << part.id << " " << quantityName(one.quantity);
        }
    }
    const DevicePart& bme = *test::catalogue().findDevicePart("BME280");
    EXPECT_EQ(displayOf(bme, {"pressure", Quantity::Pressure, 100653.27, 0.18}).value, "1006.5 hPa");
    EXPECT_EQ(displayOf(bme, {"pressure", Quantity::Pressure, 100653.27, 0.18}).uncertainty, "1.0 hPa");
}

Expected<Decoded> laid(const std::string& device, const std::string& dump, const std::string& options = "") {
    const auto raw = readDump(dump);
    if (!raw) return tl::unexpected(raw.error());
    const auto ordered = laidOut(*findDevice(device), optionsOf(options), *raw);
    return ordered ? decode(*findDevice(device), *ordered, optionsOf(options))
                   : Expected<Decoded>(tl::unexpected(ordered.error()));
}

// The data sheet's example of the twelve-coefficient barometer (25.08 °C), its calibration read word by word over the
// bus.
TEST(Words, ReadFromTheBusAreNotSwapped) {
    const std::string words =
        "88: 0x6B70 0x6743 0xFC18 0x8E7D 0xD643 0x0BD0 0x0B27 0x008C 0xFFF9 0x3C8C 0xC6F8 0x1770; ";
    const auto barometer = laid("bmp280", words + "F7: 65 5A C0 7E ED 00");
    ASSERT_TRUE(barometer) << barometer.error().message();
    EXPECT_NEAR(barometer->find("temperature")->value, 25.08, 0.005);
    EXPECT_NEAR(laid("tsl2561", "8C: 0x0400; 8E: 0x0100")->find("illuminance")->value,
                valueOf("tsl2561", "8C: 00 04; 8E: 00 01", "illuminance"), 1e-9);
    EXPECT_NEAR(laid("tmp102", "00: 0x1900")->find("temperature")->value, 25,
                1e-12);  // the part's own word: TMP102 data sheet, 25 °C
    // High byte first and read as a word: nobody can know which.
    const auto open = laid("bmp280", words + "F7: 0x655A 0xC07E 0xED00");
    ASSERT_FALSE(open);
    EXPECT_EQ(open.error().code, ErrorCode::Ambiguous);
    EXPECT_NE(open.error().message().find("5A 65"), std::string::npos) << open.error().message();
    EXPECT_FALSE(laid("bmp280", "88: 0x6B70 43 67"));
}

TEST(Uniform, BytesThatABusWithoutADeviceGivesAreDoubted) {
    for (const auto& [device, dump] : {std::pair{"tmp117", "FF FF"}, {"mcp9808", "FF FF"}})
        EXPECT_TRUE(says(decoded(device, dump).value(), "all-ones", StatusKind::Doubt)) << device;
    for (const auto& [device, dump] : {std::pair{"tmp102", "00 00"}, {"hdc1080", "00 00 00 00"}, {"mcp9808", "00 00"}})
        EXPECT_TRUE(says(decoded(device, dump).value(), "all-zeros", StatusKind::Doubt)) << device;
    EXPECT_TRUE(says(decoded("tsl2561", "00 00 00 00").value(), "zero", StatusKind::Doubt));
    EXPECT_TRUE(says(decoded("tsl2561", "64 00 C8 00").value(), "ratio", StatusKind::Doubt));  // 100 and 200
    EXPECT_FALSE(says(decoded("tsl2561", "64 00 14 00").value(), "ratio", StatusKind::Doubt));
    EXPECT_TRUE(decoded("tmp102", "19 00")->status.empty());
}

// Bytes that a line of the trace came from are bytes of what was handed in, however the decoder cut it.
TEST(Uniform, LitBytesLieInsideWhatWasRead) {
    const auto raw = readDump("00 04 00 01").value();
    const auto result = decode(*findDevice("tsl2561"), raw, {}).value();
    for (const DeviceLine& line : result.lines)
        for (const ByteRef& place : line.bytes) {
            ASSERT_LT(place.block, raw.blocks().size()) << line.line.name;
            EXPECT_LE(place.first + place.count, raw.blocks()[place.block].bytes.size());
        }
}

// DS18B20 data sheet, table of temperatures: 0191h is 25.0625 °C, low byte first.
TEST(Probe, ItsWordAndItsCodeAlone) {
    EXPECT_EQ(valueOf("ds18b20", "91 01", "temperature"), 25.0625);
    EXPECT_EQ(valueOf("ds18b20", "0x0191", "temperature"), 25.0625);
    EXPECT_EQ(valueOf("ds18b20", "5E FF", "temperature"), -10.125);
    EXPECT_EQ(decoded("ds18b20", "01 91").error().code, ErrorCode::Range);  // bytes swapped: −1775 °C
    // The worked example of the 1-wire CRC: 02 1C B8 01 00 00 00, CRC A2.
    const auto foreign = decoded("ds18b20", "rom: 02 1C B8 01 00 00 00 A2");
    ASSERT_FALSE(foreign);
    EXPECT_NE(foreign.error().found.find("0x02"), std::string::npos) << foreign.error().message();
    EXPECT_FALSE(decoded("ds18b20", "28 FF 64 1D 00 00 00 00"));  // its CRC does not fit
}

}  // namespace
}  // namespace fg
