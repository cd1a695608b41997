#include "bytes/checksum.h"

#include <array>
#include <boost/crc.hpp>

namespace fg {

std::uint8_t crc8OneWire(std::span<const std::uint8_t> bytes) {
    boost::crc_optimal<8, 0x31, 0, 0, true, true> crc;
    crc.process_bytes(bytes.data(), bytes.size());
    return crc.checksum();
}

std::uint8_t crc8Humidity(std::span<const std::uint8_t> bytes, std::uint8_t start) {
    boost::crc_optimal<8, 0x31, 0, 0, false, false> crc(start);
    crc.process_bytes(bytes.data(), bytes.size());
    return crc.checksum();
}

std::uint16_t crc16Modbus(std::span<const std::uint8_t> bytes) {
    boost::crc_optimal<16, 0x8005, 0xFFFF, 0, true, true> crc;
    crc.process_bytes(bytes.data(), bytes.size());
    return crc.checksum();
}

// As the note has it, by hand: its last bits are left in the register, which no common CRC does.
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
