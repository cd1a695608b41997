#pragma once

#include "units/error.h"

#include <cstdint>
#include <string_view>

namespace fg {

/// How a code lies in the register or the number in which it arrives.
enum class WordFormat {
    RightJustified,  ///< the number is the code; negative codes in two's complement of the converter's bits or of the whole word
    LeftJustified,   ///< the code stands at the top of a 16-bit register (24 or 32 for longer codes), zeros below
    ScaledUp  ///< software spread it over 16 bits, full scale to 65 535: word = code · 65535/(2^n − 1), rounded down (the bits repeated)
};

/// Name in files: "right-justified", "left-justified", "scaled-up".
[[nodiscard]] std::string_view wordFormatName(WordFormat format);
[[nodiscard]] Expected<WordFormat> wordFormatFromName(std::string_view name);

/// Bits of the register that holds an n-bit code: 8, 16, 24 or 32.
[[nodiscard]] int registerBits(int codeBits);

/// Reads a raw value as people have it: one number (decimal, 0x, 0b; a mean may have decimals), or two registers typed apart, as
/// `0x03 0x31` (high first) or named in any order, `low=0x31 high=0x03` (also h, l, msb, lsb). Each register is a byte.
/// Errors: Syntax or Range, naming the piece that did not fit.
[[nodiscard]] Expected<double> readRawWord(std::string_view text);

}  // namespace fg
