#include "bytes/checksum.h"

#include <array>

namespace fg {

std::uint8_t crc8OneWire(std::span<const std::uint8_t> bytes) {
    unsigned crc = 0;
    for (const std::uint8_t byte : bytes) {
        crc ^= byte;
        for (int bit = 0; bit < 8; ++bit) crc = crc & 1 ? crc >> 1 ^ 0x8C : crc >> 1;
    }
    return static_cast<std::uint8_t>(crc);
}

std::uint8_t crc8Humidity(std::span<const std::uint8_t> bytes, std::uint8_t start) {
    unsigned crc = start;
    for (const std::uint8_t byte : bytes) {
        crc ^= byte;
        for (int bit = 0; bit < 8; ++bit) crc = (crc & 0x80 ? crc << 1 ^ 0x31 : crc << 1) & 0xFF;
    }
    return static_cast<std::uint8_t>(crc);
}

std::uint16_t crc16Modbus(std::span<const std::uint8_t> bytes) {
    unsigned crc = 0xFFFF;
    for (const std::uint8_t byte : bytes) {
        crc ^= byte;
        for (int bit = 0; bit < 8; ++bit) crc = crc & 1 ? crc >> 1 ^ 0xA001 : crc >> 1;
    }
    return static_cast<std::uint16_t>(crc);
}

std::uint8_t crc4Prom(std::span<const std::uint16_t> eightWords) {
    std::array<std::uint16_t, 8> words{};
    for (std::size_t i = 0; i < words.size(); ++i) words[i] = eightWords[i];
    words[7] &= 0xFF00;
    unsigned rest = 0;
    for (std::size_t i = 0; i < 16; ++i) {
        rest ^= i % 2 == 1 ? words[i / 2] & 0xFFu : words[i / 2] >> 8u;
        for (int bit = 0; bit < 8; ++bit) rest = (rest & 0x8000 ? rest << 1 ^ 0x3000 : rest << 1) & 0xFFFF;
    }
    return static_cast<std::uint8_t>(rest >> 12 & 0xF);
}

}  // namespace fg
