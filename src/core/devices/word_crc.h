#pragma once

#include "bytes/checksum.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {

/// Two words of 16 bits, each with its CRC-8 behind it. Internal to the room.
struct WordPair {
    Recorded first, second;
};
[[nodiscard]] Expected<WordPair> readWordPair(const RawData& raw, Tracer& tracer, const char* firstName,
                                              const char* secondName);
[[nodiscard]] RawData wordPairOf(std::uint16_t first, std::uint16_t second);
[[nodiscard]] inline std::vector<BlockSpec> wordPairBlocks(const DeviceOptions&) {
    return {{"frame", {}, 6, false, false}};
}

}  // namespace fg
