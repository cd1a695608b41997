// Digital parts once more, written from the data sheets' formulas in another way (real arithmetic, own checksums, own
// bit handling), against the decoders over thousands of random words. What one of the two gets wrong the other does
// not.

#include "bytes/dump_text.h"
#include "support.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <random>

namespace fg {
namespace {

using Frame = std::vector<unsigned>;
using Readings = std::map<std::string, double>;  // as people read them: °C, %RH, hPa, lx

/// A signed number of `bits` bits, by value instead of by shifting.
double sign(double word, int bits) { return word >= std::exp2(bits - 1) ? word - std::exp2(bits) : word; }

double word(const Frame& bytes, std::size_t high, std::size_t low) { return 256.0 * bytes[high] + bytes[low]; }

/// CRC-8 by long division on a string of bits; `reflected` takes each byte from its low end.
unsigned crc8(const Frame& bytes, std::size_t from, std::size_t count, unsigned start, bool reflected) {
    std::vector<int> bits;
    for (std::size_t i = from; i < from + count; ++i)
        for (int b = 0; b < 8; ++b) bits.push_back(static_cast<int>(bytes[i] >> (reflected ? b : 7 - b)) & 1);
    std::vector<int> rest(8);
    for (int b = 0; b < 8; ++b) rest[static_cast<std::size_t>(b)] = static_cast<int>(start >> (7 - b)) & 1;
    for (const int bit : bits) {
        const int out = rest[0] ^ bit;
        for (std::size_t i = 0; i < 7; ++i) rest[i] = rest[i + 1];
        rest[7] = 0;
        if (out)
            for (const std::size_t tap : {2u, 3u, 7u}) rest[tap] ^= 1;  // x⁵, x⁴ and 1
    }
    unsigned value = 0;
    for (std::size_t b = 0; b < 8; ++b) value |= static_cast<unsigned>(rest[b]) << (reflected ? b : 7 - b);
    return value;
}

unsigned crc16(const Frame& bytes, std::size_t count) {
    unsigned rest = 0xFFFF;
    for (std::size_t i = 0; i < count; ++i) {
        rest ^= bytes[i];
        for (int b = 0; b < 8; ++b) rest = rest % 2 ? rest / 2 ^ 0xA001 : rest / 2;
    }
    return rest;
}

/// Three bytes with a CRC behind each pair, as the humidity parts send them.
Frame checkedWords(const Frame& random, unsigned start) {
    Frame frame{random[0], random[1], 0, random[2], random[3], 0};
    frame[2] = crc8(frame, 0, 2, start, false);
    frame[5] = crc8(frame, 3, 2, start, false);
    return frame;
}

/// Temperature of a platinum resistance by bisection on the standard's polynomial.
double platinum(double ohm, double r0) {
    const auto r = [&](double t) {
        return r0 * (1 + 3.9083e-3 * t - 5.775e-7 * t * t + (t < 0 ? -4.183e-12 * (t - 100) * t * t * t : 0));
    };
    double low = -250, high = 1000;
    for (int i = 0; i < 80; ++i) (r((low + high) / 2) < ohm ? low : high) = (low + high) / 2;
    return (low + high) / 2;
}

struct Second {
    const char* device;
    const char* options;
    std::vector<std::pair<const char*, std::size_t>> blocks;  ///< names and lengths; "" for the device's usual one
    std::function<Frame(const Frame& random)> frame;          ///< what the part could send, of random bytes
    std::function<Readings(const Frame& frame)> readings;
};
std::ostream& operator<<(std::ostream& out, const Second& one) { return out << one.device << " " << one.options; }

Frame asIs(const Frame& random) { return random; }

Frame scratchpad(const Frame& r, unsigned configuration, unsigned remain) {
    Frame frame{r[0], (r[1] & 8) ? 0xF8u | (r[1] & 7) : r[1] & 7, r[2], r[3], configuration, 0xFF, remain, 16, 0};
    frame[8] = crc8(frame, 0, 8, 0, true);
    return frame;
}

const std::vector<Second>& seconds() {
    static const std::vector<Second> all{
        {"lm75",
         "resolution=9",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0x80};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 256}};
         }},
        {"lm75",
         "resolution=11",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0xE0};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 256}};
         }},
        {"tmp102",
         "extended=0",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0xF0};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 256}};
         }},
        {"tmp102",
         "extended=1",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], (r[1] & 0xF8) | 1};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1) - 1, 16) / 128}};
         }},
        {"tmp117",
         "",
         {{"", 2}},
         asIs,
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 128}};
         }},
        {"mcp9808",
         "",
         {{"", 2}},
         asIs,
         [](const Frame& f) {
             return Readings{{"temperature", sign(std::fmod(word(f, 0, 1), 8192), 13) / 16}};
         }},
        {"adt7410",
         "resolution=16",
         {{"", 2}},
         asIs,
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 128}};
         }},
        {"adt7410",
         "resolution=13",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0xF8};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 128}};
         }},
        {"ds3231",
         "",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0xC0};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(f[0], 8) + f[1] / 256.0}};
         }},
        {"max6675",
         "",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] & 0x7F, r[1] & 0xF8};
         },
         [](const Frame& f) {
             return Readings{{"temperature", word(f, 0, 1) / 32}};
         }},
        {"max31855",
         "",
         {{"", 4}},
         // Couple −270 … 1372 °C, chip −55 … 125 °C; the two reserved and the fault bits 0.
         [](const Frame& r) {
             return Frame{r[0] % 2 ? 0xF0u | r[1] % 16 : r[1] % 0x50, r[2] & 0xFC, r[3] % 0x7D, r[0] & 0xF0};
         },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 0, 1), 16) / 16},
                             {"internal", sign(word(f, 2, 3), 16) / 256}};
         }},
        {"max31865",
         "rref_ohm=430",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{0x10 + r[0] % 0x90, r[1] & 0xFE};
         },
         [](const Frame& f) {
             return Readings{{"temperature", platinum(word(f, 0, 1) / 65536 * 430, 100)}};
         }},
        {"ds18b20",
         "",
         {{"", 9}},
         [](const Frame& r) { return scratchpad(r, 0x7F, r[4] % 16 + 1); },
         [](const Frame& f) {
             return Readings{{"temperature", sign(word(f, 1, 0), 16) / 16}};
         }},
        {"ds18s20",
         "",
         {{"", 9}},
         [](const Frame& r) {
             Frame f{r[0] % 200, 0, r[2], r[3], 0xFF, 0xFF, r[4] % 16 + 1, 16, 0};
             f[8] = crc8(f, 0, 8, 0, true);
             return f;
         },
         [](const Frame& f) {
             return Readings{{"temperature", std::floor(f[0] / 2.0) - 0.25 + (16.0 - f[6]) / 16}};
         }},
        {"dht11",
         "",
         {{"", 5}},
         [](const Frame& r) {
             Frame f{r[0] % 90 + 5, 0, r[1] % 50, r[2] % 10, 0};
             f[4] = (f[0] + f[1] + f[2] + f[3]) % 256;
             return f;
         },
         [](const Frame& f) {
             return Readings{{"humidity", f[0]}, {"temperature", f[2] + 0.1 * f[3]}};
         }},
        {"dht22",
         "",
         {{"", 5}},
         [](const Frame& r) {
             const unsigned humidity = (r[0] * 256 + r[1]) % 1001, tenths = (r[2] * 256 + r[3]) % 800;
             const bool below = r[0] % 2 && tenths <= 400;
             Frame f{humidity / 256, humidity % 256, tenths / 256 + (below ? 128 : 0), tenths % 256, 0};
             f[4] = (f[0] + f[1] + f[2] + f[3]) % 256;
             return f;
         },
         [](const Frame& f) {
             const double magnitude = word({f[2] % 128, f[3]}, 0, 1) / 10;
             return Readings{{"humidity", word(f, 0, 1) / 10}, {"temperature", f[2] >= 128 ? -magnitude : magnitude}};
         }},
        {"am2320",
         "",
         {{"", 8}},
         [](const Frame& r) {
             const unsigned humidity = (r[0] * 256 + r[1]) % 1001, tenths = (r[2] * 256 + r[3]) % 800;
             const bool below = r[0] % 2 && tenths <= 400;
             Frame f{3, 4, humidity / 256, humidity % 256, tenths / 256 + (below ? 128 : 0), tenths % 256};
             const unsigned crc = crc16(f, 6);
             f.push_back(crc % 256);
             f.push_back(crc / 256);
             return f;
         },
         [](const Frame& f) {
             const double magnitude = word({f[4] % 128, f[5]}, 0, 1) / 10;
             return Readings{{"humidity", word(f, 2, 3) / 10}, {"temperature", f[4] >= 128 ? -magnitude : magnitude}};
         }},
        {"aht20",
         "",
         {{"", 7}},
         [](const Frame& r) {
             Frame f{0x1C, r[0], r[1], r[2], r[3], r[4], 0};
             f[6] = crc8(f, 0, 6, 0xFF, false);
             return f;
         },
         [](const Frame& f) {
             return Readings{{"humidity", (f[1] * 4096.0 + f[2] * 16.0 + f[3] / 16) / 10485.76},
                             {"temperature", (f[3] % 16 * 65536.0 + f[4] * 256.0 + f[5]) / 5242.88 - 50}};
         }},
        {"sht3x",
         "",
         {{"", 6}},
         [](const Frame& r) { return checkedWords(r, 0xFF); },
         [](const Frame& f) {
             return Readings{{"temperature", 175 * word(f, 0, 1) / 65535 - 45},
                             {"humidity", 100 * word(f, 3, 4) / 65535}};
         }},
        {"sht4x",
         "",
         {{"", 6}},
         [](const Frame& r) {
             return checkedWords({r[0], r[1], 0x20 + r[2] % 0xA0, r[3]}, 0xFF);
         },
         [](const Frame& f) {
             return Readings{{"temperature", 175 * word(f, 0, 1) / 65535 - 45},
                             {"humidity", 125 * word(f, 3, 4) / 65535 - 6}};
         }},
        {"si7021",
         "",
         {{"temperature", 3}, {"humidity", 3}},
         // Bit 1 tells humidity from temperature; both status bits count as 0.
         [](const Frame& r) {
             return checkedWords({r[0], r[1] & 0xFC, 0x20 + r[2] % 0xA0, (r[3] & 0xFC) | 2}, 0);
         },
         [](const Frame& f) {
             return Readings{{"temperature", 175.72 * word(f, 0, 1) / 65536 - 46.85},
                             {"humidity", 125 * (word(f, 3, 4) - 2) / 65536 - 6}};
         }},
        {"hdc1080",
         "",
         {{"", 4}},
         [](const Frame& r) {
             return Frame{r[0], r[1] & 0xFC, r[2], r[3] & 0xFC};
         },
         [](const Frame& f) {
             return Readings{{"temperature", 165 * word(f, 0, 1) / 65536 - 40},
                             {"humidity", 100 * word(f, 2, 3) / 65536}};
         }},
        {"bh1750",
         "mtreg=69",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] % 0xFE, r[1]};
         },
         [](const Frame& f) {
             return Readings{{"illuminance", word(f, 0, 1) / 1.2}};
         }},
        {"bh1750",
         "mtreg=138 mode=h2",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] % 0xFE, r[1]};
         },
         [](const Frame& f) {
             return Readings{{"illuminance", word(f, 0, 1) / 1.2 / 2 / 2}};
         }},
        {"max44009",
         "",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] % 0xE0, r[1] % 16};
         },
         [](const Frame& f) {
             return Readings{{"illuminance", 0.045 * std::exp2(f[0] / 16) * (f[0] % 16 * 16 + f[1])}};
         }},
        {"opt3001",
         "",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] % 0xB0, r[1]};
         },
         [](const Frame& f) {
             return Readings{{"illuminance", 0.01 * std::exp2(f[0] / 16) * (f[0] % 16 * 256 + f[1])}};
         }},
        {"veml7700",
         "gain=1/8 integration_ms=50 correction=0",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0], r[1] % 0xFE};
         },
         [](const Frame& f) {
             return Readings{{"illuminance", 0.0036 * (2 / 0.125) * (800 / 50.0) * word(f, 1, 0)}};
         }},
        {"hx711",
         "gain=64",
         {{"", 3}},
         [](const Frame& r) {
             return Frame{r[0] == 0x7F || r[0] == 0x80 ? 0x10 : r[0], r[1], r[2]};
         },
         [](const Frame& f) {
             return Readings{{"ratio", sign(f[0] * 65536.0 + f[1] * 256.0 + f[2], 24) / std::exp2(24) / 64}};
         }},
        {"ads1115",
         "fsr_V=1.024",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] == 0x7F || r[0] == 0x80 ? 0x10 : r[0], r[1]};
         },
         [](const Frame& f) {
             return Readings{{"voltage", sign(word(f, 0, 1), 16) * 1.024 / 32768}};
         }},
        {"ads1115",
         "fsr_V=6.144 bits=12",
         {{"", 2}},
         [](const Frame& r) {
             return Frame{r[0] == 0x7F || r[0] == 0x80 ? 0x10 : r[0], r[1] & 0xF0};
         },
         [](const Frame& f) {
             return Readings{{"voltage", sign(word(f, 0, 1), 16) * 6.144 / 32768}};
         }},
        {"lps22hb",
         "",
         {{"", 5}},
         [](const Frame& r) {
             return Frame{r[0], r[1], 0x10 + r[2] % 0x38, r[3], r[4] % 0x21};
         },
         [](const Frame& f) {
             return Readings{{"pressure", (f[0] + 256.0 * f[1] + 65536.0 * f[2]) / 4096 * 100},
                             {"temperature", sign(word(f, 4, 3), 16) / 100}};
         }},
        {"lps25hb",
         "",
         {{"", 5}},
         [](const Frame& r) {
             return Frame{r[0], r[1], 0x11 + r[2] % 0x38, r[3], (r[4] + 0xC0) % 256};
         },
         [](const Frame& f) {
             return Readings{{"pressure", (f[0] + 256.0 * f[1] + 65536.0 * f[2]) / 4096 * 100},
                             {"temperature", 42.5 + sign(word(f, 4, 3), 16) / 480}};
         }},
        // The PROM of the data sheet's example; D1 and D2 around its values, cold enough for both second orders.
        {"ms5611",
         "",
         {{"d1", 3}, {"d2", 3}},
         [](const Frame& r) { return Frame{0x70 + r[0] % 0x40, r[1], r[2], 0x68 + r[3] % 0x30, r[4], r[5]}; },
         [](const Frame& f) {
             const double c1 = 40127, c2 = 36924, c3 = 23317, c4 = 23282, c5 = 33464, c6 = 28312;
             const double d1 = f[0] * 65536.0 + f[1] * 256.0 + f[2], d2 = f[3] * 65536.0 + f[4] * 256.0 + f[5];
             const double dt = d2 - c5 * 256, temp = std::floor(2000 + dt * c6 / 8388608);  // in whole 0.01 °C
             double off = c2 * 65536 + c4 * dt / 128, sens = c1 * 32768 + c3 * dt / 256, t2 = 0;
             if (temp < 2000) {
                 const double below = (temp - 2000) * (temp - 2000),
                              veryLow = temp < -1500 ? (temp + 1500) * (temp + 1500) : 0;
                 t2 = dt * dt / 2147483648.0;
                 off -= 2.5 * below + 7 * veryLow;
                 sens -= 1.25 * below + 5.5 * veryLow;
             }
             return Readings{{"temperature", (temp - t2) / 100}, {"pressure", (d1 * sens / 2097152 - off) / 32768}};
         }},
    };
    return all;
}

class SecondDerivation : public testing::TestWithParam<Second> {};

TEST_P(SecondDerivation, AgreesWithTheDecoder) {
    const Second& one = GetParam();
    const Device& device = *findDevice(one.device);
    DeviceOptions options;
    std::istringstream words(one.options);
    for (std::string text; words >> text;) options.set(text.substr(0, text.find('=')), text.substr(text.find('=') + 1));
    std::mt19937 random(20);
    int values = 0, places = 0;
    for (int round = 0; round < 2000; ++round) {
        Frame bytes;
        for (int i = 0; i < 6; ++i) bytes.push_back(static_cast<unsigned>(random() % 256));
        const Frame frame = one.frame(bytes);
        std::string dump =
            std::string(one.device) == "ms5611" ? "prom: 00 42 9C BF 90 3C 5B 15 5A F2 82 B8 6E 98 00 09; " : "";
        std::size_t at = 0;
        for (const auto& [name, length] : one.blocks) {
            if (at > 0) dump += "; ";
            if (*name) dump += std::string(name) + ": ";
            for (std::size_t i = 0; i < length; ++i) dump += fmt::format("{:02X} ", frame[at++]);
        }
        auto raw = readDump(dump);
        ASSERT_TRUE(raw) << dump << raw.error().message();
        const auto result = decode(device, *raw, options);
        const Readings own = one.readings(frame);
        places += static_cast<int>(own.size());
        if (!result) {
            // Refused as impossible: then it is, by the part's own stated range.
            ASSERT_EQ(result.error().code, ErrorCode::Range) << dump << " " << result.error().message();
            const DevicePart* part = test::catalogue().findDevicePart(one.device);
            ASSERT_TRUE(part) << result.error().message();
            EXPECT_TRUE(
                std::any_of(own.begin(), own.end(),
                            [&](const auto& value) { return !part->ranges.at(value.first).contains(value.second); }))
                << dump << " " << result.error().message();
            continue;
        }
        for (const auto& [reading, wanted] : own) {
            const DeviceReading* read = result->find(reading);
            ASSERT_TRUE(read) << reading;
            if (std::isnan(read->value)) continue;  // a pattern with a name of its own, like a power-on value
            ++values;
            // A step at the most where the data sheet's routine is one of whole numbers; else rounding only.
            const double tolerance = std::string(one.device) == "ms5611" ? 2.5 : 1e-9 * (1 + std::abs(wanted));
            ASSERT_NEAR(read->value, wanted, reading == "temperature" && tolerance > 1 ? 0.011 : tolerance)
                << one.device << " " << dump;
        }
    }
    EXPECT_GT(values, 0.25 * places);  // of all random words; the others are no temperatures
}

INSTANTIATE_TEST_SUITE_P(Parts, SecondDerivation, testing::ValuesIn(seconds()), [](const auto& one) {
    std::string name = fmt::format("{}_{}", one.param.device, one.index);
    return name;
});

}  // namespace
}  // namespace fg
