#pragma once

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {

/// The 40-bit frame of single-bus parts: four bytes and their sum. Checks the sum, and a line that never moved. Internal to the room.
[[nodiscard]] Expected<Bytes> readSingleBusFrame(const RawData& raw, Tracer& tracer);

[[nodiscard]] RawData singleBusFrameOf(std::vector<std::uint8_t> four);

[[nodiscard]] inline std::vector<BlockSpec> singleBusBlocks(const DeviceOptions&) { return {{"frame", {}, 5, false, false}}; }

/// The 40 bits out of a scope's or logic analyser's high times in µs: a bit is 0 when the line was high for 26–28 µs, 1 for 70 µs. Exactly
/// 40 of them, or 41 to 42 with the answer's own 80 µs before them. Errors: Range for another count or for a time that is neither.
[[nodiscard]] Expected<RawBlock> singleBusFromPulses(std::span<const double> high_us);

}  // namespace fg
