// Bytes in, no crash: every decoder on random blocks of the right and of wrong lengths, and the readers of text on
// random text. Built with the address and undefined-behaviour sanitizers in every build, with the rooms it needs.

#include "bytes/dump_text.h"
#include "bytes/pulse_text.h"
#include "devices/device.h"

#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <random>
#include <string>

namespace fg {
namespace {

// What nature allows: a number beyond it must have been refused, or be marked.
bool isPossible(const DeviceReading& reading) {
    switch (reading.quantity) {
        case Quantity::Temperature:
            return reading.value >= -273.15 && reading.value < 3000;
        case Quantity::RelativeHumidity:
            return reading.value >= 0 && reading.value <= 100;
        case Quantity::Pressure:
            return reading.value >= 0 && reading.value < 2e7;
        case Quantity::Illuminance:
            return reading.value >= 0 && reading.value < 1e6;
        default:
            return std::isfinite(reading.value);
    }
}

TEST(Fuzz, DecodersAndTextSurviveAnything) {
    // scripts/fuzz asks for many more rounds, from another start.
    const char* const asked = std::getenv("FAIRGAUGE_FUZZ_ROUNDS");
    const char* const seed = std::getenv("FAIRGAUGE_FUZZ_SEED");
    const int rounds = asked ? std::atoi(asked) : 300;
    std::mt19937 random(seed ? static_cast<unsigned>(std::atoi(seed)) : 7u);
    int refused = 0, taken = 0;
    for (const Device* device : devices()) {
        const DeviceOptions options = DeviceOptions().completed(device->options()).value();
        for (int round = 0; round < rounds; ++round) {
            RawData raw;
            for (const BlockSpec& block : device->blocks(options)) {
                if (block.isOptional && random() % 2) continue;
                RawBlock bytes{block.address ? "" : block.name, block.address, {}};
                const std::size_t size = random() % 8 == 0 ? random() % 40 : block.size;
                for (std::size_t i = 0; i < size; ++i)
                    bytes.bytes.push_back(
                        static_cast<std::uint8_t>(random() % 5 == 0 ? (random() % 2 ? 0xFF : 0x00) : random()));
                raw.add(bytes);
            }
            const auto result = device->decode(raw, options);
            result ? ++taken : ++refused;
            EXPECT_TRUE(result || !result.error().expected.empty()) << device->id;
            if (!result) continue;
            for (const DeviceReading& reading : result->readings)
                EXPECT_TRUE(std::isnan(reading.value) || isPossible(reading) || !result->status.empty())
                    << device->id << " " << reading.id << " " << reading.value;
        }
    }
    EXPECT_GT(refused, 1000);
    EXPECT_GT(taken, 500);
    const std::string alphabet = "0123456789abcdefFX:;=,x \n\t#{}-|dhi";
    for (int round = 0; round < 15 * rounds; ++round) {
        std::string text;
        for (std::size_t i = random() % 60; i > 0; --i) text += alphabet[random() % alphabet.size()];
        const auto raw = readDump(text);
        EXPECT_TRUE(!raw || !raw->blocks().empty()) << text;
        const auto pulses = readSingleBus(text + " " + text);
        EXPECT_TRUE(!pulses || !pulses->blocks().empty()) << text;
    }
}

}  // namespace
}  // namespace fg
