#pragma once

#include "handover/typed_line.h"

#include <cstdint>

namespace fg {

// What a typed line is made of. Internal to the room.

/// A type of C as far as it matters: bits, sign; 0 bits is a real number.
struct CType {
    int bits = 0;
    bool isSigned = true;
};

struct CValue {
    CType type;
    std::int64_t whole = 0;
    double real = 0;
    [[nodiscard]] double asReal() const {
        if (type.bits == 0) return real;
        return type.isSigned ? static_cast<double>(whole) : static_cast<double>(static_cast<std::uint64_t>(whole));
    }
};

struct TypedLine::Piece {
    enum class Kind { Number, Code, Unary, Binary, Cast } kind = Kind::Number;
    char sign = 0;  ///< of an operation; '<' and '>' are the shifts
    std::int32_t left = -1, right = -1;
    CValue number;
    int suffixLong = 0;
    bool isUnsigned = false, isDecimal = true;
    CType type;                    ///< of a cast; bits 1 stands for int, 2 for long
    bool isMovable = false;        ///< a constant that may be fitted
    std::size_t from = 0, to = 0;  ///< in the text
};

}  // namespace fg
