#include "handover/typed_line.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <limits>

namespace fg {
namespace {

// Wide enough for every exact result of two 64-bit numbers. Not of the standard, but of both compilers.
__extension__ using Wide = __int128;
__extension__ using WideUnsigned = unsigned __int128;

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

}  // namespace

struct TypedLine::Piece {
    enum class Kind { Number, Code, Unary, Binary, Cast } kind = Kind::Number;
    char sign = 0;  ///< of an operation; '<' and '>' are the shifts
    std::int32_t left = -1, right = -1;
    CValue number;
    int suffixLong = 0;
    bool isUnsigned = false, isHex = false;
    CType type;                    ///< of a cast; bits 1 stands for int, 2 for long
    bool isMovable = false;        ///< a constant that may be fitted
    std::size_t from = 0, to = 0;  ///< in the text
};

/// Reads a line by the grammar of C's expressions.
class LineReader {
  public:
    explicit LineReader(std::string_view text) { m_line.m_text = std::string(text); }

    Expected<TypedLine> read() {
        // "int t = adc / 2;" is "adc / 2"; "==" is none.
        const std::string& text = m_line.m_text;
        const std::size_t equals = text.find('=');
        if (equals != std::string::npos) m_at = equals + 1;
        const std::int32_t root = shown(0);
        if (!m_error.empty()) return error();
        skip();
        if (m_at < text.size() && text[m_at] == ';') ++m_at, skip();
        if (m_at < text.size()) {
            wrong("an operation or the end of the line");
            return error();
        }
        if (root < 0) {
            wrong("a number or the raw code");
            return error();
        }
        return std::move(m_line);
    }

  private:
    [[nodiscard]] tl::unexpected<Error> error() const { return fail(m_code, "formula", m_found, m_error); }
    void wrong(const std::string& expected, ErrorCode code = ErrorCode::Syntax) {
        if (!m_error.empty()) return;
        m_error = expected, m_code = code;
        const std::string rest = m_line.m_text.substr(std::min(m_at, m_line.m_text.size()), 12);
        m_found = rest.empty() ? "the end of the line" : fmt::format("“{}” at character {}", rest, m_at + 1);
    }
    void skip() {
        while (m_at < m_line.m_text.size() && (m_line.m_text[m_at] == ' ' || m_line.m_text[m_at] == '\t')) ++m_at;
    }
    [[nodiscard]] bool next(std::string_view token) {
        skip();
        if (std::string_view(m_line.m_text).substr(m_at).starts_with(token)) {
            m_at += token.size();
            return true;
        }
        return false;
    }
    std::int32_t add(TypedLine::Piece piece) {
        m_line.m_pieces.push_back(std::make_shared<const TypedLine::Piece>(std::move(piece)));
        return static_cast<std::int32_t>(m_line.m_pieces.size() - 1);
    }

    /// Levels from the loosest: | ^ & shifts sums products.
    std::int32_t shown(int level) {
        constexpr std::array<std::string_view, 6> kSigns{"|", "^", "&", "<>", "+-", "*/%"};
        constexpr int kMostDepth = 60;
        if (level >= static_cast<int>(kSigns.size())) return unary();
        if (level == 0 && ++m_depth > kMostDepth) {
            wrong(fmt::format("at most {} brackets in one another", kMostDepth));
            return -1;
        }
        skip();
        const std::size_t from = m_at;
        std::int32_t left = shown(level + 1);
        for (;;) {
            skip();
            const std::string& text = m_line.m_text;
            if (left < 0 || m_at >= text.size() ||
                kSigns[static_cast<std::size_t>(level)].find(text[m_at]) == std::string_view::npos)
                break;
            const char sign = text[m_at];
            if (level == 3 && (m_at + 1 >= text.size() || text[m_at + 1] != sign)) break;
            m_at += level == 3 ? 2 : 1;
            const std::int32_t right = shown(level + 1);
            if (right < 0) {
                wrong("a number or the raw code");
                return -1;
            }
            // What is added, multiplied or divided may be fitted; of shifts and masks nothing.
            if (level >= 4 && sign != '%')
                for (const std::int32_t side : {left, right}) movable(side);
            TypedLine::Piece piece;
            piece.kind = TypedLine::Piece::Kind::Binary, piece.sign = sign, piece.left = left, piece.right = right;
            piece.from = from, piece.to = m_at;
            left = add(piece);
        }
        if (level == 0) --m_depth;
        return left;
    }
    void movable(std::int32_t index) {
        TypedLine::Piece piece = *m_line.m_pieces[static_cast<std::size_t>(index)];
        if (piece.kind != TypedLine::Piece::Kind::Number || piece.number.type.bits == 0) return;
        piece.isMovable = true;
        m_line.m_pieces[static_cast<std::size_t>(index)] = std::make_shared<const TypedLine::Piece>(piece);
    }

    std::int32_t unary() {
        skip();
        const std::size_t from = m_at;
        const std::string& text = m_line.m_text;
        if (m_at < text.size() && (text[m_at] == '-' || text[m_at] == '+' || text[m_at] == '~')) {
            constexpr int kMostSigns = 20;
            const char sign = text[m_at++];
            if (++m_signs > kMostSigns) {
                wrong("fewer signs in a row");
                return -1;
            }
            const std::int32_t operand = unary();
            --m_signs;
            if (operand < 0) {
                wrong("a number or the raw code");
                return -1;
            }
            TypedLine::Piece piece;
            piece.kind = TypedLine::Piece::Kind::Unary, piece.sign = sign, piece.left = operand, piece.from = from,
            piece.to = m_at;
            return add(piece);
        }
        if (next("(")) {
            if (const auto type = castType()) {
                const std::int32_t operand = unary();
                if (operand < 0) {
                    wrong("what is cast");
                    return -1;
                }
                TypedLine::Piece piece;
                piece.kind = TypedLine::Piece::Kind::Cast, piece.type = *type, piece.left = operand, piece.from = from,
                piece.to = m_at;
                return add(piece);
            }
            const std::int32_t inside = shown(0);
            if (inside < 0 || !next(")")) {
                wrong(inside < 0 ? "a number or the raw code" : "a closing bracket");
                return -1;
            }
            return inside;
        }
        return m_at < text.size() && (isDigit(text[m_at]) || text[m_at] == '.') ? number() : name();
    }

    [[nodiscard]] static bool isDigit(char c) { return c >= '0' && c <= '9'; }
    [[nodiscard]] static bool isLetter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; }

    /// A type behind an opening bracket, with its closing one; nothing, and nothing read, where it is an expression.
    std::optional<CType> castType() {
        constexpr int kInt = 1, kLong = 2;
        struct Name {
            std::string_view name;
            CType type;
        };
        static constexpr std::array kNames{Name{"unsigned long long", {64, false}},
                                           Name{"long long", {64, true}},
                                           Name{"unsigned long", {kLong, false}},
                                           Name{"long int", {kLong, true}},
                                           Name{"long", {kLong, true}},
                                           Name{"unsigned int", {kInt, false}},
                                           Name{"unsigned char", {8, false}},
                                           Name{"unsigned short", {16, false}},
                                           Name{"unsigned", {kInt, false}},
                                           Name{"int8_t", {8, true}},
                                           Name{"int16_t", {16, true}},
                                           Name{"int32_t", {32, true}},
                                           Name{"int64_t", {64, true}},
                                           Name{"uint8_t", {8, false}},
                                           Name{"uint16_t", {16, false}},
                                           Name{"uint32_t", {32, false}},
                                           Name{"uint64_t", {64, false}},
                                           Name{"short", {16, true}},
                                           Name{"char", {8, true}},
                                           Name{"int", {kInt, true}},
                                           Name{"float", {0, true}},
                                           Name{"double", {0, true}}};
        const std::size_t before = m_at;
        for (const Name& one : kNames)
            if (next(one.name)) {
                if (next(")")) return one.type;
                m_at = before;
            }
        m_at = before;
        return std::nullopt;
    }

    std::int32_t number() {
        TypedLine::Piece piece;
        piece.from = m_at;
        const std::string& text = m_line.m_text;
        const char *begin = text.data() + m_at, *end = text.data() + text.size();
        const auto rest = std::string_view(text).substr(m_at);
        std::uint64_t whole = 0;
        const bool isHex = rest.starts_with("0x") || rest.starts_with("0X"), isBinary = rest.starts_with("0b");
        const auto read = std::from_chars(begin + (isHex || isBinary ? 2 : 0), end, whole,
                                          isHex      ? 16
                                          : isBinary ? 2
                                                     : 10);
        const char* stop = read.ptr;
        bool isReal = false;
        double real = 0;
        if (!isHex && !isBinary) {
            const auto asReal = std::from_chars(begin, end, real);
            isReal = asReal.ptr > stop || read.ec != std::errc();
            if (isReal) stop = asReal.ptr;
            if (asReal.ec != std::errc()) return wrong("a number"), -1;
        } else if (read.ec != std::errc() || stop == begin + 2) {
            return wrong("a number of at most 64 bits"), -1;
        }
        if (whole > static_cast<std::uint64_t>(std::numeric_limits<std::int64_t>::max()))
            return wrong("a number of at most 63 bits"), -1;
        m_at = static_cast<std::size_t>(stop - text.data());
        piece.to = m_at;
        for (; m_at < text.size() && isLetter(text[m_at]); ++m_at) {
            const char c = text[m_at];
            if (c == 'u' || c == 'U')
                piece.isUnsigned = true;
            else if (c == 'l' || c == 'L')
                ++piece.suffixLong;
            else if ((c == 'f' || c == 'F') && isReal)
                continue;
            else
                return wrong("an operation, or a suffix u, l or f"), -1;
        }
        piece.isHex = isHex || isBinary;
        piece.number.type = {isReal ? 0 : 64, true};
        piece.number.whole = static_cast<std::int64_t>(whole);
        piece.number.real = isReal ? real : static_cast<double>(whole);
        return add(piece);
    }

    std::int32_t name() {
        const std::string& text = m_line.m_text;
        const std::size_t from = m_at;
        while (m_at < text.size() && (isLetter(text[m_at]) || (m_at > from && isDigit(text[m_at])))) ++m_at;
        if (m_at == from) return wrong("a number or the raw code"), -1;
        std::string found = text.substr(from, m_at - from);
        // A call that reads the converter is the code.
        if (next("(")) {
            int open = 1;
            while (m_at < text.size() && open > 0) {
                open += text[m_at] == '(' ? 1 : text[m_at] == ')' ? -1 : 0;
                ++m_at;
            }
            found = text.substr(from, m_at - from);
            if (open > 0) return wrong("a closing bracket"), -1;
        }
        if (!m_line.m_name.empty() && m_line.m_name != found) {
            m_at = from;
            return wrong(fmt::format("one name for the raw code; “{}” is it already", m_line.m_name),
                         ErrorCode::Unsupported),
                   -1;
        }
        m_line.m_name = found;
        TypedLine::Piece piece;
        piece.kind = TypedLine::Piece::Kind::Code, piece.from = from, piece.to = m_at;
        return add(piece);
    }

    TypedLine m_line;
    std::size_t m_at = 0;
    int m_depth = 0, m_signs = 0;
    std::string m_error, m_found;
    ErrorCode m_code = ErrorCode::Syntax;
};

Expected<TypedLine> TypedLine::read(std::string_view text) {
    constexpr std::size_t kLongest = 400;
    if (text.size() > kLongest)
        return fail(ErrorCode::Range, "formula", fmt::format("{} characters", text.size()),
                    fmt::format("a line of at most {}", kLongest));
    return LineReader(text).read();
}

namespace {

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
            if ((piece.isUnsigned || piece.isHex) && fits(piece.number.whole, {candidates[i], false}))
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

    CValue whole(const TypedLine::Piece& piece, Wide exact, CType type) {
        // Unsigned numbers wrap by the language's rule, and surprise as much.
        if (!fits(exact, type) && m_result.overflow.empty() && piece.sign != '~') {
            m_result.overflow = m_text.substr(piece.from, piece.to - piece.from);
            while (!m_result.overflow.empty() && m_result.overflow.back() == ' ') m_result.overflow.pop_back();
            m_result.overflowed = static_cast<double>(exact);
            m_result.overflowBits = type.bits;
        }
        return {type, wrapped(exact, type), 0};
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
                return whole(piece, a * b, type);
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
                return whole(piece,
                             piece.sign == '<' ? a * (static_cast<Wide>(1) << static_cast<int>(b))
                                               : a >> static_cast<int>(b),
                             type);
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

double TypedLine::exactAt(std::int64_t code) const { return exactWith(constants(), static_cast<double>(code)); }

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

std::vector<double> TypedLine::constants() const {
    std::vector<double> all;
    for (const auto& piece : m_pieces)
        if (piece->isMovable) all.push_back(piece->number.real);
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
