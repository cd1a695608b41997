#pragma once

#include <cstdint>
#include <span>

namespace fg {

/// CRC-8 of 1-wire parts: x⁸ + x⁵ + x⁴ + 1, reflected (0x8C), start 0. Of data with its CRC behind it: 0.
/// Source: DS18B20 data sheet, CRC generation.
[[nodiscard]] std::uint8_t crc8OneWire(std::span<const std::uint8_t> bytes);

/// CRC-8 of humidity parts: x⁸ + x⁵ + x⁴ + 1, most significant bit first (0x31), start as the part has it (0xFF, or
/// 0x00 for the older kind). Source: SHT3x data sheet, 4.12 (0xBEEF gives 0x92); HTU21D data sheet, CRC checksum
/// (0x683A gives 0x7C with start 0).
[[nodiscard]] std::uint8_t crc8Humidity(std::span<const std::uint8_t> bytes, std::uint8_t start);

/// CRC-16 as in Modbus: x¹⁶ + x¹⁵ + x² + 1, reflected (0xA001), start 0xFFFF; its low byte is sent first.
[[nodiscard]] std::uint16_t crc16Modbus(std::span<const std::uint8_t> bytes);

/// CRC-4 of a PROM of eight words, over all but the four bits that hold it. Source: application note AN520, C code of
/// the CRC.
[[nodiscard]] std::uint8_t crc4Prom(std::span<const std::uint16_t> eightWords);

}  // namespace fg
