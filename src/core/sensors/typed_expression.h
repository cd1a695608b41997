#pragma once

#include "formula/number.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// An expression in x as somebody typed it, as a formula over the number types: so that it is printed with its numbers,
/// has exact slopes and is handed over as code. The same spelling as muParser, which checks it first: + − * / ^,
/// brackets, comparisons with ?:, sqrt exp ln log (both the natural one) log10 log2 abs min max sinh asinh, _pi, _e.
class TypedExpression {
  public:
    /// Nothing for what has no counterpart among the number types (sin, cos …).
    [[nodiscard]] static std::optional<TypedExpression> read(std::string_view text);

    template <class N>
    [[nodiscard]] N at(const N& x) const {
        return value<N>(m_root, x);
    }

  private:
    enum class Kind {
        Number,
        Argument,
        Negate,
        Add,
        Subtract,
        Multiply,
        Divide,
        Power,
        Sqrt,
        Exp,
        Log,
        Log10,
        Log2,
        Abs,
        Min,
        Max,
        Sinh,
        Asinh,
        Choose
    };
    enum class Comparison { None, Less, LessOrEqual, Greater, GreaterOrEqual };
    struct Piece {
        Kind kind = Kind::Number;
        double number = 0;
        int a = -1, b = -1;
        Comparison comparison = Comparison::None;  ///< Choose: of `c` with `d`
        int c = -1, d = -1;
    };
    friend class TypedExpressionReader;

    [[nodiscard]] const Piece& at(int index) const { return m_pieces[static_cast<std::size_t>(index)]; }

    /// Small whole powers are multiplied out, as muParser and people do.
    template <class N>
    [[nodiscard]] N powerOf(const Piece& piece, const N& x) const {
        const N base = value<N>(piece.a, x);
        const Piece& exponent = at(piece.b);
        constexpr int kMultiplied = 4;
        const double number = exponent.kind == Kind::Number ? exponent.number : 0;
        for (int n = 2; n <= kMultiplied; ++n) {
            if (number != n) continue;
            N product = base;
            for (int i = 1; i < n; ++i) product = product * base;
            return product;
        }
        return pow(base, value<N>(piece.b, x));
    }

    template <class N>
    [[nodiscard]] N chosen(const Piece& piece, const N& x) const {
        const N left = value<N>(piece.c, x), right = value<N>(piece.d, x);
        const auto first = [&] { return value<N>(piece.a, x); };
        const auto second = [&] { return value<N>(piece.b, x); };
        switch (piece.comparison) {
            case Comparison::Less:
                return choose(left < right, first, second);
            case Comparison::LessOrEqual:
                return choose(left <= right, first, second);
            case Comparison::Greater:
                return choose(right < left, first, second);
            default:
                return choose(right <= left, first, second);
        }
    }

    template <class N>
    [[nodiscard]] N value(int index, const N& x) const {
        const Piece& piece = at(index);
        const auto a = [&] { return value<N>(piece.a, x); };
        const auto b = [&] { return value<N>(piece.b, x); };
        switch (piece.kind) {
            case Kind::Number:
                return constant<N>(piece.number, "");
            case Kind::Argument:
                return x;
            case Kind::Negate:
                return -a();
            case Kind::Add:
                return a() + b();
            case Kind::Subtract:
                return a() - b();
            case Kind::Multiply:
                return a() * b();
            case Kind::Divide:
                return a() / b();
            case Kind::Power:
                return powerOf(piece, x);
            case Kind::Sqrt:
                return sqrt(a());
            case Kind::Exp:
                return exp(a());
            case Kind::Log:
                return log(a());
            case Kind::Log10:
                return log(a()) / constant<N>(2.302585092994045684, "", "ln 10");
            case Kind::Log2:
                return log(a()) / constant<N>(0.693147180559945309, "", "ln 2");
            case Kind::Abs: {
                const N of = a();
                return choose(
                    of < constant<N>(0, ""), [&] { return -of; }, [&] { return of; });
            }
            case Kind::Min:
                return least(a(), b());
            case Kind::Max:
                return most(a(), b());
            case Kind::Sinh:
                return sinh(a());
            case Kind::Asinh:
                return asinh(a());
            case Kind::Choose:
                return chosen(piece, x);
        }
        return x;
    }

    std::vector<Piece> m_pieces;
    int m_root = -1;
};

}  // namespace fg
