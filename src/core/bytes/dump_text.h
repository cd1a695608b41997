#pragma once

#include "bytes/raw_data.h"

namespace fg {

/// Bytes as people have them:
///
///   02 8C 01 5F EE            0x02, 0x8C, 0x01         028C015FEE           one block without a name
///   88: 70 6B 43; F7: 65 5A   scratchpad: 50 05 …      0xF7 = 0x65          by register address or by name; `;` or a
///   new line between
///        0  1  2 … f          address,value            a table with row and column addresses (XX or -- where nothing
///        was read); CSV
///   80: 70 6B 43 …            0xF7,0x65
///   88: 0x6B70 0x6743         8C = 0x0400                               16-bit words as a word read gives them; see
///   laidOut() 0x0191   401   0b1 1001   high=0x01 low=0x91       one number, or two registers typed apart: laid into
///   the block as the device has it
///
/// Text after `#` and, in tables, behind the row's bytes is left out. Blocks named d1 and d2 keep their name beside the
/// address. Errors: Syntax with line and piece, Ambiguous where digits could be decimal or hexadecimal, Missing for no
/// bytes at all. Never throws, whatever it is given; at most 65 536 bytes.
[[nodiscard]] Expected<RawData> readDump(std::string_view text);

}  // namespace fg
