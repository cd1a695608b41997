#pragma once

#include "bytes/checksum.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <initializer_list>

namespace fg {

/// The nine bytes of a scratchpad, checked: its CRC, a bus that nobody drives (all ones) or that is held low (all
/// zeros, whose CRC fits). A block "rom" is checked and told too: family code (one of `families`), serial number, CRC.
/// Internal to the room.
[[nodiscard]] Expected<Bytes> readScratchpad(const RawData& raw, Tracer& tracer, std::initializer_list<int> families);

/// The eight bytes of a block "rom" (or the only block): CRC, family code, serial number. Errors: Damaged, Unknown
/// family, naming it.
[[nodiscard]] Expected<void> readRomCode(const RawData& raw, Tracer& tracer, std::initializer_list<int> families);

/// A scratchpad block of eight bytes and their CRC.
[[nodiscard]] RawData scratchpadOf(std::vector<std::uint8_t> eight);

}  // namespace fg
