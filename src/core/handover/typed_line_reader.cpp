#include "handover/typed_line_pieces.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <limits>
#include <optional>

namespace fg {

/// Reads a line by the grammar of C's expressions.
class TypedLineReader {
  public:
    explicit TypedLineReader(std::string_view text) { m_line.m_text = std::string(text); }

    Expected<TypedLine> read() {
        // "int t = adc / 2;" is "adc / 2"; "==" is none.
        const std::string& text = m_line.m_text;
        const std::size_t equals = text.find('=');
        if (equals != std::string::npos) m_at = equals + 1;
        const std::int32_t root = shown(0);
        if (!m_error.empty()) return error();
        skip();
        if (m_at < text.size() && text[m_at] == ';') {
            ++m_at;
            skip();
        }
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
        m_error = expected;
        m_code = code;
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
            piece.kind = TypedLine::Piece::Kind::Binary;
            piece.sign = sign;
            piece.left = left;
            piece.right = right;
            piece.from = from;
            piece.to = m_at;
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
            piece.kind = TypedLine::Piece::Kind::Unary;
            piece.sign = sign;
            piece.left = operand;
            piece.from = from;
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
                piece.kind = TypedLine::Piece::Kind::Cast;
                piece.type = *type;
                piece.left = operand;
                piece.from = from;
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
            if (asReal.ec != std::errc()) {
                wrong("a number");
                return -1;
            }
        } else if (read.ec != std::errc() || stop == begin + 2) {
            wrong("a number of at most 64 bits");
            return -1;
        }
        // C11 6.4.4.1: a whole number that begins with 0 is in octal.
        const bool isOctal = !isHex && !isBinary && !isReal && rest.size() > 1 && rest[0] == '0' && isDigit(rest[1]);
        if (isOctal) {
            const auto asOctal = std::from_chars(begin, end, whole, 8);
            if (asOctal.ptr != stop || asOctal.ec != std::errc()) {
                wrong("a number without a 0 before it (C reads one with it in octal, digits 0 to 7)");
                return -1;
            }
        }
        if (whole > static_cast<std::uint64_t>(std::numeric_limits<std::int64_t>::max())) {
            wrong("a number of at most 63 bits");
            return -1;
        }
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
            else {
                wrong("an operation, or a suffix u, l or f");
                return -1;
            }
        }
        piece.isDecimal = !isHex && !isBinary && !isOctal;
        piece.number.type = {isReal ? 0 : 64, true};
        piece.number.whole = static_cast<std::int64_t>(whole);
        piece.number.real = isReal ? real : static_cast<double>(whole);
        return add(piece);
    }

    std::int32_t name() {
        const std::string& text = m_line.m_text;
        const std::size_t from = m_at;
        while (m_at < text.size() && (isLetter(text[m_at]) || (m_at > from && isDigit(text[m_at])))) ++m_at;
        if (m_at == from) {
            wrong("a number or the raw code");
            return -1;
        }
        std::string found = text.substr(from, m_at - from);
        // A call that reads the converter is the code.
        if (next("(")) {
            int open = 1;
            while (m_at < text.size() && open > 0) {
                open += text[m_at] == '(' ? 1 : text[m_at] == ')' ? -1 : 0;
                ++m_at;
            }
            found = text.substr(from, m_at - from);
            if (open > 0) {
                wrong("a closing bracket");
                return -1;
            }
        }
        if (!m_line.m_name.empty() && m_line.m_name != found) {
            m_at = from;
            wrong(fmt::format("one name for the raw code; “{}” is it already", m_line.m_name), ErrorCode::Unsupported);
            return -1;
        }
        m_line.m_name = found;
        TypedLine::Piece piece;
        piece.kind = TypedLine::Piece::Kind::Code;
        piece.from = from;
        piece.to = m_at;
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
    return TypedLineReader(text).read();
}

}  // namespace fg
