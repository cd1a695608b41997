#include "handover/typed_line_pieces.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>

namespace fg {
namespace {

// Wide enough for every exact result of two 64-bit numbers. Not of the standard, but of both compilers.
__extension__ using Wide = __int128;
__extension__ using WideUnsigned = unsigned __int128;

/// A number cut to a type as the usual machines do.
std::int64_t wrapped(Wide value, CType type) {
    if (type.bits >= 64) return static_cast<std::int64_t>(value);
    const auto mask = (static_cast<WideUnsigned>(1) << type.bits) - 1;
    auto low = static_cast<std::uint64_t>(static_cast<WideUnsigned>(value) & mask);
    if (type.isSigned && (low >> (type.bits - 1)) & 1U) low |= ~static_cast<std::uint64_t>(mask);
    return static_cast<std::int64_t>(low);
}

bool fits(Wide value, CType type) {
    const Wide one = 1;
    if (!type.isSigned) return value >= 0 && value < (one << type.bits);
    return value >= -(one << (type.bits - 1)) && value < (one << (type.bits - 1));
}

/// Runs a line in the arithmetic of C.
class LineRun {
  public:
    LineRun(const std::vector<std::shared_ptr<const TypedLine::Piece>>& pieces, const std::string& text,
            std::int64_t code, LineInt width)
        : m_pieces(pieces), m_text(text), m_code(code), m_int(static_cast<int>(width)), m_long(std::max(32, m_int)) {}

    LineValue run() {
        const CValue value = of(static_cast<std::int32_t>(m_pieces.size()) - 1);
        m_result.value = value.asReal();
        m_result.isReal = value.type.bits == 0;
        return m_result;
    }

  private:
    using Kind = TypedLine::Piece::Kind;

    [[nodiscard]] CType resolved(CType type) const {
        return {type.bits == 1 ? m_int : type.bits == 2 ? m_long : type.bits, type.isSigned};
    }
    /// Integer promotion, C11 6.3.1.1.
    [[nodiscard]] CValue promoted(CValue value) const {
        if (value.type.bits == 0 || value.type.bits >= m_int) return value;
        value.type = {m_int, true};
        return value;
    }
    /// The usual arithmetic conversions, C11 6.3.1.8.
    [[nodiscard]] CType common(CType a, CType b) const {
        if (a.bits == 0 || b.bits == 0) return {0, true};
        if (a.bits == b.bits) return {a.bits, a.isSigned && b.isSigned};
        return a.bits > b.bits ? a : b;
    }
    [[nodiscard]] static CValue converted(const CValue& value, CType type) {
        if (type.bits == 0) return {type, 0, value.asReal()};
        if (value.type.bits == 0) {
            const double cut = std::trunc(value.real);
            const bool isIn = cut >= -9.2e18 && cut <= 9.2e18;
            return {type, isIn ? wrapped(static_cast<std::int64_t>(cut), type) : 0, 0};
        }
        return {type, wrapped(wide(value), type), 0};
    }
    [[nodiscard]] static Wide wide(const CValue& value) {
        return value.type.isSigned ? static_cast<Wide>(value.whole)
                                   : static_cast<Wide>(static_cast<std::uint64_t>(value.whole));
    }

    /// The type of a constant: the first that holds it, C11 6.4.4.1.
    [[nodiscard]] CType typeOf(const TypedLine::Piece& piece) const {
        if (piece.number.type.bits == 0) return {0, true};
        const std::array candidates{m_int, m_long, 64};
        for (std::size_t i = piece.suffixLong == 0 ? 0 : piece.suffixLong == 1 ? 1 : 2; i < candidates.size(); ++i) {
            if (!piece.isUnsigned && fits(piece.number.whole, {candidates[i], true})) return {candidates[i], true};
            // Only what is not written in tens may be unsigned by itself.
            if ((piece.isUnsigned || !piece.isDecimal) && fits(piece.number.whole, {candidates[i], false}))
                return {candidates[i], false};
        }
        return {64, !piece.isUnsigned};
    }

    CValue of(std::int32_t index) {
        const TypedLine::Piece& piece = *m_pieces[static_cast<std::size_t>(index)];
        switch (piece.kind) {
            case Kind::Number: {
                CValue value = piece.number;
                value.type = typeOf(piece);
                return value;
            }
            case Kind::Code: {
                // What a read function returns: an int, or what holds the code.
                CType type{m_int, true};
                if (!fits(m_code, type)) type = fits(m_code, {m_int, false}) ? CType{m_int, false} : CType{64, true};
                if (type.bits == 64 && fits(m_code, {32, true})) type.bits = 32;
                return {type, m_code, 0};
            }
            case Kind::Cast:
                return converted(of(piece.left), resolved(piece.type));
            case Kind::Unary: {
                const CValue value = promoted(of(piece.left));
                if (value.type.bits == 0) return {value.type, 0, piece.sign == '-' ? -value.real : value.real};
                if (piece.sign == '+') return value;
                return whole(piece, piece.sign == '-' ? -wide(value) : ~wide(value), value.type);
            }
            case Kind::Binary:
                return binary(piece);
        }
        return {};
    }

    /// `isBeyond`: the exact result does not even fit `exact`, whose low bits it then is.
    CValue whole(const TypedLine::Piece& piece, Wide exact, CType type, bool isBeyond = false) {
        // Unsigned numbers wrap by the language's rule, and surprise as much.
        if ((isBeyond || !fits(exact, type)) && m_result.overflow.empty() && piece.sign != '~') {
            m_result.overflow = m_text.substr(piece.from, piece.to - piece.from);
            while (!m_result.overflow.empty() && m_result.overflow.back() == ' ') m_result.overflow.pop_back();
            m_result.overflowed = isBeyond ? HUGE_VAL : static_cast<double>(exact);
            m_result.overflowBits = type.bits;
        }
        return {type, wrapped(exact, type), 0};
    }
    CValue product(const TypedLine::Piece& piece, Wide a, Wide b, CType type) {
        Wide exact = 0;
        const bool isBeyond = __builtin_mul_overflow(a, b, &exact);
        return whole(piece, exact, type, isBeyond);
    }

    CValue binary(const TypedLine::Piece& piece) {
        const CValue left = promoted(of(piece.left)), right = promoted(of(piece.right));
        const bool isShift = piece.sign == '<' || piece.sign == '>';
        const CType type = isShift ? left.type : common(left.type, right.type);
        if (type.bits == 0 || (isShift && right.type.bits == 0)) {
            const double a = left.asReal(), b = right.asReal();
            const double value = piece.sign == '+'   ? a + b
                                 : piece.sign == '-' ? a - b
                                 : piece.sign == '*' ? a * b
                                 : piece.sign == '/' ? a / b
                                                     : std::nan("");
            m_result.isNone = m_result.isNone || !std::isfinite(value);
            return {{0, true}, 0, value};
        }
        const Wide a = wide(converted(left, type)), b = isShift ? wide(right) : wide(converted(right, type));
        switch (piece.sign) {
            case '+':
                return whole(piece, a + b, type);
            case '-':
                return whole(piece, a - b, type);
            case '*':
                return product(piece, a, b, type);
            case '/':
            case '%':
                if (b == 0) {
                    m_result.isNone = true;
                    return {type, 0, 0};
                }
                return whole(piece, piece.sign == '/' ? a / b : a % b, type);
            case '<':
            case '>':
                if (b < 0 || b >= type.bits) {
                    m_result.isNone = true;
                    return {type, 0, 0};
                }
                if (piece.sign == '<') return product(piece, a, static_cast<Wide>(1) << static_cast<int>(b), type);
                return whole(piece, a >> static_cast<int>(b), type);
            case '&':
                return {type, wrapped(a & b, type), 0};
            case '|':
                return {type, wrapped(a | b, type), 0};
            default:
                return {type, wrapped(a ^ b, type), 0};
        }
    }

    const std::vector<std::shared_ptr<const TypedLine::Piece>>& m_pieces;
    const std::string& m_text;
    std::int64_t m_code;
    int m_int, m_long;
    LineValue m_result;
};

}  // namespace

LineValue TypedLine::at(std::int64_t code, LineInt width) const { return LineRun(m_pieces, m_text, code, width).run(); }

double TypedLine::exactAt(std::int64_t code) const {
    const auto whole = constants();
    return exactWith({whole.begin(), whole.end()}, static_cast<double>(code));
}

double TypedLine::exactWith(const std::vector<double>& constants, double code) const {
    std::vector<double> values;
    std::size_t next = 0;
    for (const auto& piece : m_pieces) {
        const auto at = [&](std::int32_t i) { return values[static_cast<std::size_t>(i)]; };
        double value = std::nan("");
        switch (piece->kind) {
            case Piece::Kind::Number:
                value = piece->isMovable ? constants[next++] : piece->number.real;
                break;
            case Piece::Kind::Code:
                value = code;
                break;
            case Piece::Kind::Cast:
                value = at(piece->left);
                break;
            case Piece::Kind::Unary:
                value = piece->sign == '-'   ? -at(piece->left)
                        : piece->sign == '+' ? at(piece->left)
                                             : -at(piece->left) - 1;
                break;
            case Piece::Kind::Binary: {
                const double a = at(piece->left), b = at(piece->right);
                switch (piece->sign) {
                    case '+':
                        value = a + b;
                        break;
                    case '-':
                        value = a - b;
                        break;
                    case '*':
                        value = a * b;
                        break;
                    case '/':
                        value = a / b;
                        break;
                    case '<':
                        value = a * std::exp2(b);
                        break;
                    case '>':
                        value = a / std::exp2(b);
                        break;
                    default:
                        break;
                }
                break;
            }
        }
        values.push_back(value);
    }
    return values.back();
}

std::vector<std::int64_t> TypedLine::constants() const {
    std::vector<std::int64_t> all;
    for (const auto& piece : m_pieces)
        if (piece->isMovable) all.push_back(piece->number.whole);
    return all;
}

std::string TypedLine::textWith(const std::vector<std::int64_t>& constants) const {
    // From the end, so that the places before stay what they are. Pieces come in the order of their text.
    std::string text = m_text;
    std::vector<const Piece*> moved;
    for (const auto& piece : m_pieces)
        if (piece->isMovable) moved.push_back(piece.get());
    for (std::size_t i = moved.size(); i-- > 0;) {
        const std::size_t from = moved[i]->from;
        std::string number = std::to_string(constants[i]);
        if (constants[i] < 0) {
            // Behind a plus or a minus between two operands the sign turns round instead.
            const std::size_t sign = from == 0 ? std::string::npos : text.find_last_not_of(" \t", from - 1);
            const std::size_t before =
                sign == std::string::npos || sign == 0 ? std::string::npos : text.find_last_not_of(" \t", sign - 1);
            const bool isBinary = before != std::string::npos && (text[sign] == '+' || text[sign] == '-') &&
                                  std::string_view("(+-*/%<>&|^~=").find(text[before]) == std::string_view::npos;
            if (isBinary) text[sign] = text[sign] == '+' ? '-' : '+';
            number = isBinary ? number.substr(1) : "(" + number + ")";
        }
        text.replace(from, moved[i]->to - from, number);
    }
    return text;
}

TypedLine TypedLine::with(const std::vector<std::int64_t>& constants) const {
    return read(textWith(constants)).value_or(*this);
}

}  // namespace fg
