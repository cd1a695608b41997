#pragma once

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {

/// The 40-bit frame of single-bus parts: four bytes and their sum. Checks the sum, and a line that never moved.
/// Internal to the room.
[[nodiscard]] Expected<Bytes> readSingleBusFrame(const RawData& raw, Tracer& tracer);

[[nodiscard]] RawData singleBusFrameOf(std::vector<std::uint8_t> four);

[[nodiscard]] inline std::vector<BlockSpec> singleBusBlocks(const DeviceOptions&) {
    return {{"frame", {}, 5, false, false}};
}

}  // namespace fg
