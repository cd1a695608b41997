#pragma once

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {

/// What differs within the family of barometers with a PROM of eight words, a CRC-4 and second-order compensation.
/// Internal to the room.
struct PromFamily {
    const char* source;
    std::int64_t offsetScale, offsetSlope;            ///< OFF = C2 · offsetScale + C4 · dT/offsetSlope
    std::int64_t sensitivityScale, sensitivitySlope;  ///< SENS = C1 · sensitivityScale + C3 · dT/sensitivitySlope
    std::int64_t pressureDivisor;                     ///< P = (D1 · SENS/2²¹ − OFF)/pressureDivisor
    double pascalPerStep;                             ///< of P
    std::size_t crcWord;  ///< which PROM word holds the CRC: 7 in its low nibble, 0 in its high one
    double lowest_Pa, highest_Pa;

    using Int = Whole<std::int64_t>;
    struct Second {
        Int t = 0, off = 0, sens = 0;
    };
    /// Second-order terms for dT and TEMP (0.01 °C), as printed; 64-bit. Zeros where the first order is all.
    Second (*second)(const Int& dT, const Int& temp);
    int otherType = 0;  ///< in bits 11:5 of the first word: the PROM of `otherName`, which reads otherwise; 0: not told
    const char* otherName = "";
};

[[nodiscard]] std::vector<BlockSpec> promBlocks(const DeviceOptions&);
[[nodiscard]] Expected<Decoded> decodeProm(const PromFamily& family, const RawData& raw, const DeviceOptions& options);
[[nodiscard]] std::vector<RawVariable> promVariables(const DeviceOptions&);
[[nodiscard]] RawData promCompose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&);
/// The row of one of them.
[[nodiscard]] constexpr Device promDevice(std::string_view id, std::string_view title, std::string_view source,
                                          Expected<Decoded> (*decode)(const RawData&, const DeviceOptions&),
                                          RawData (*specimen)()) {
    return {.id = id,
            .title = title,
            .source = source,
            .options = noOptions,
            .blocks = promBlocks,
            .decode = decode,
            .variables = promVariables,
            .compose = promCompose,
            .specimen = specimen};
}

/// A PROM of C1 … C6 with its CRC.
[[nodiscard]] RawData promOf(const PromFamily& family, std::span<const int> six);

}  // namespace fg
