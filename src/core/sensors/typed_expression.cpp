#include "sensors/typed_expression.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <numbers>

namespace fg {

/// Recursive descent over muParser's grammar; gives up (isFine false) at the first thing that it does not know.
class TypedExpressionReader {
  public:
    explicit TypedExpressionReader(std::string_view text) : m_text(text) {}

    [[nodiscard]] std::optional<TypedExpression> read() {
        m_made.m_root = choice();
        skip();
        if (!m_isFine || m_at != m_text.size()) return std::nullopt;
        return std::move(m_made);
    }

  private:
    using Kind = TypedExpression::Kind;
    using Comparison = TypedExpression::Comparison;
    static constexpr int kDeepest = 200;

    void skip() {
        while (m_at < m_text.size() && (m_text[m_at] == ' ' || m_text[m_at] == '\t' || m_text[m_at] == '\n')) ++m_at;
    }
    [[nodiscard]] bool take(std::string_view word) {
        skip();
        if (!m_text.substr(m_at).starts_with(word)) return false;
        m_at += word.size();
        return true;
    }
    int fail() {
        m_isFine = false;
        return add({});
    }
    int add(TypedExpression::Piece piece) {
        m_made.m_pieces.push_back(piece);
        return static_cast<int>(m_made.m_pieces.size()) - 1;
    }
    int add(Kind kind, int a, int b = -1) {
        TypedExpression::Piece piece;
        piece.kind = kind;
        piece.a = a;
        piece.b = b;
        return add(piece);
    }

    /// condition ? a : b
    int choice() {
        if (++m_depth > kDeepest || !m_isFine) return fail();
        const int left = sum();
        Comparison comparison = Comparison::None;
        if (take("<="))
            comparison = Comparison::LessOrEqual;
        else if (take(">="))
            comparison = Comparison::GreaterOrEqual;
        else if (take("<"))
            comparison = Comparison::Less;
        else if (take(">"))
            comparison = Comparison::Greater;
        int result = left;
        if (comparison != Comparison::None) {
            TypedExpression::Piece piece;
            piece.kind = Kind::Choose;
            piece.comparison = comparison;
            piece.c = left;
            piece.d = sum();
            if (!take("?")) return fail();
            piece.a = choice();
            if (!take(":")) return fail();
            piece.b = choice();
            result = add(piece);
        }
        --m_depth;
        return result;
    }

    int sum() {
        int left = product();
        while (m_isFine) {
            if (take("+"))
                left = add(Kind::Add, left, product());
            else if (take("-"))
                left = add(Kind::Subtract, left, product());
            else
                break;
        }
        return left;
    }

    int product() {
        int left = sign();
        while (m_isFine) {
            if (take("*"))
                left = add(Kind::Multiply, left, sign());
            else if (take("/"))
                left = add(Kind::Divide, left, sign());
            else
                break;
        }
        return left;
    }

    /// A sign binds less than a power: −2^2 is −4.
    int sign() {
        if (++m_depth > kDeepest || !m_isFine) return fail();
        const int result = take("-") ? add(Kind::Negate, sign()) : take("+") ? sign() : power();
        --m_depth;
        return result;
    }

    int power() {
        const int base = single();
        return take("^") ? add(Kind::Power, base, sign()) : base;  // from the right: 2^3^2 is 2^9
    }

    int single() {
        skip();
        if (m_at >= m_text.size() || !m_isFine) return fail();
        if (take("(")) {
            const int inner = choice();
            return take(")") ? inner : fail();
        }
        const char c = m_text[m_at];
        if ((c >= '0' && c <= '9') || c == '.') return number();
        const std::size_t begin = m_at;
        while (m_at < m_text.size() && (std::isalnum(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == '_'))
            ++m_at;
        return named(m_text.substr(begin, m_at - begin));
    }

    int number() {
        TypedExpression::Piece piece;
        const auto [end, status] = std::from_chars(m_text.data() + m_at, m_text.data() + m_text.size(), piece.number);
        if (status != std::errc{}) return fail();
        m_at = static_cast<std::size_t>(end - m_text.data());
        return add(piece);
    }

    int named(std::string_view name) {
        TypedExpression::Piece piece;
        if (name == "x") {
            piece.kind = Kind::Argument;
            return add(piece);
        }
        if (name == "_pi" || name == "_e") {
            piece.number = name == "_pi" ? std::numbers::pi : std::numbers::e;
            return add(piece);
        }
        struct Function {
            std::string_view name;
            Kind kind;
            int arguments;
        };
        static constexpr std::array kFunctions{Function{"sqrt", Kind::Sqrt, 1},   Function{"exp", Kind::Exp, 1},
                                               Function{"ln", Kind::Log, 1},      Function{"log", Kind::Log, 1},
                                               Function{"log10", Kind::Log10, 1}, Function{"log2", Kind::Log2, 1},
                                               Function{"abs", Kind::Abs, 1},     Function{"sinh", Kind::Sinh, 1},
                                               Function{"asinh", Kind::Asinh, 1}, Function{"min", Kind::Min, 2},
                                               Function{"max", Kind::Max, 2}};
        const auto known =
            std::find_if(kFunctions.begin(), kFunctions.end(), [&](const Function& one) { return one.name == name; });
        if (known == kFunctions.end() || !take("(")) return fail();
        const int a = choice();
        if (known->arguments == 2 && !take(",")) return fail();
        const int b = known->arguments == 2 ? choice() : -1;
        return take(")") ? add(known->kind, a, b) : fail();
    }

    std::string_view m_text;
    std::size_t m_at = 0;
    int m_depth = 0;
    bool m_isFine = true;
    TypedExpression m_made;
};

std::optional<TypedExpression> TypedExpression::read(std::string_view text) {
    return TypedExpressionReader(text).read();
}

}  // namespace fg
