#pragma once

#include "units/error.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// What an int is where a line of code runs.
enum class LineInt { Int16 = 16, Int32 = 32, Int64 = 64 };

/// What a line of code comes to for one raw code.
struct LineValue {
    double value = 0;  ///< of a whole result exact up to 2^53
    bool isReal = false;
    /// The first operation whose exact result did not fit its type: "adc * 295", with its exact result. Signed
    /// overflow is undefined in C; the value goes on as it wraps on the usual machines.
    std::string overflow = {};
    double overflowed = 0;
    int overflowBits = 0;
    bool isNone = false;  ///< a division by 0
};

/// A line of C as a maker typed it, `124-adc*295/10000`, with the arithmetic of C: whole numbers of the type's own
/// width, divisions that cut towards 0, real numbers once one with a point or a real type comes in.
///
/// Understood: numbers (decimal, octal with a leading 0, 0x, 0b, with u, l, f), one name for the raw code (adc, raw,
/// x, analogRead(A0)…), + − * / % << >> & | ^ ~, brackets, casts ((long), (int32_t), (float)), and what stands before
/// an = is left off. The int has the width that is asked; long is 32 bits or the int where that is wider; the usual
/// conversions of C11 6.3.1 between signed and unsigned.
class TypedLine {
  public:
    /// Errors: Syntax with the piece that does not fit; Unsupported for a second name.
    [[nodiscard]] static Expected<TypedLine> read(std::string_view text);

    [[nodiscard]] LineValue at(std::int64_t code, LineInt width) const;
    /// The same without cutting anything: real numbers throughout.
    [[nodiscard]] double exactAt(std::int64_t code) const;
    [[nodiscard]] double exactWith(const std::vector<double>& constants, double code) const;

    /// The whole constants of the line that may be moved: factors, divisors, terms; not those of shifts and masks.
    [[nodiscard]] std::vector<std::int64_t> constants() const;
    /// The same line with other constants, as it is typed.
    [[nodiscard]] std::string textWith(const std::vector<std::int64_t>& constants) const;
    [[nodiscard]] TypedLine with(const std::vector<std::int64_t>& constants) const;
    [[nodiscard]] const std::string& name() const { return m_name; }

    struct Piece;

  private:
    TypedLine() = default;
    friend class TypedLineReader;
    std::vector<std::shared_ptr<const Piece>> m_pieces;  ///< operands before operations; the last is the line
    std::string m_text, m_name;
};

}  // namespace fg
