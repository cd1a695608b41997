#pragma once

#include "units/error.h"

#include <cstdint>
#include <optional>
#include <set>
#include <string_view>

namespace fg {

/// How a code lies in the register or the number in which it arrives.
enum class WordFormat {
    RightJustified,  ///< the number is the code; negative codes in two's complement of the converter's bits or of the
                     ///< whole word
    LeftJustified,   ///< the code stands at the top of a 16-bit register (24 or 32 for longer codes), zeros below
    ScaledUp  ///< software spread it over 16 bits, full scale to 65 535: its bits repeated from the top, (c << 4) | (c
              ///< >> 8) of 12 bits; or scaled, c · 65535/4095; or only shifted, c << 4
};

/// Name in files: "right-justified", "left-justified", "scaled-up".
[[nodiscard]] std::string_view wordFormatName(WordFormat format);
[[nodiscard]] Expected<WordFormat> wordFormatFromName(std::string_view name);

/// An n-bit code spread over 16 bits by repeating its bits from the top, as small interpreters do; n from 1 to 16.
[[nodiscard]] std::uint32_t repeatedBits(std::uint32_t code, int bits);

/// The code of n bits that a word of 16 was spread from, in any of the ways that are in use (WordFormat::ScaledUp);
/// nothing for a word that no code makes, such as a mean of several.
[[nodiscard]] std::optional<std::uint32_t> spreadCode(std::uint32_t word, int bits);

/// Looks at many words of a converter that is said to have 16 bits, and tells whether they really have fewer.
class WordWidth {
  public:
    void take(std::uint32_t word);
    /// The fewest bits, 8 to 14, that made every word so far, once kEnough different ones came; nothing when they use
    /// all 16.
    [[nodiscard]] std::optional<int> fewerBits() const;
    static constexpr std::size_t kEnough = 16;

  private:
    std::set<std::uint32_t> m_seen;  ///< at most kEnough of them
    unsigned m_possible = 0x7F;      ///< bit i: 8 + i bits
};

/// Bits of the register that holds an n-bit code: 8, 16, 24 or 32.
[[nodiscard]] int registerBits(int codeBits);

/// Reads a raw value as people have it: one number (decimal, 0x, 0b; a mean may have decimals), or two registers typed
/// apart, as `0x03 0x31` (high first) or named in any order, `low=0x31 high=0x03` (also h, l, msb, lsb). Each register
/// is a byte. Errors: Syntax or Range, naming the piece that did not fit.
[[nodiscard]] Expected<double> readRawWord(std::string_view text);

}  // namespace fg
