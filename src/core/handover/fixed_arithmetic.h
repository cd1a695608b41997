#pragma once

#include "formula/bounds.h"
#include "formula/expression.h"

#include <map>
#include <optional>
#include <tuple>

namespace fg {

/// A value in fixed point: a whole number times 2^−fraction, or a number of the formula that has no form yet.
struct Fixed {
    std::int32_t node = -1;  ///< the whole number; none for a number of the formula
    int fraction = 0;
    Bounds whole{};  ///< what the whole number can be
    std::optional<double> constant{};
};

/// Arithmetic in fixed point that records what it does. Every result fits signed integers of the width, for everything
/// that its operands can be; where it would not, operands lose their last digits first, rounded to nearest.
class FixedArithmetic {
  public:
    FixedArithmetic(Recording& in, int width) : m_in(in), m_width(width) {}

    [[nodiscard]] Fixed input(std::string_view name, std::int64_t least, std::int64_t most);
    [[nodiscard]] bool fits(const Bounds& whole) const { return sizeOf(whole) <= limit(); }

    [[nodiscard]] Fixed negated(const Fixed& x);
    [[nodiscard]] Fixed added(const Fixed& x, const Fixed& y) { return sum(Op::Add, x, y); }
    [[nodiscard]] Fixed subtracted(const Fixed& x, const Fixed& y) { return sum(Op::Subtract, x, y); }
    [[nodiscard]] Fixed multiplied(const Fixed& x, const Fixed& y);
    /// Nothing where the divisor is always 0.
    [[nodiscard]] std::optional<Fixed> divided(const Fixed& x, const Fixed& y);
    /// A whole number moved by as many digits as another says, downwards rounded down; its bounds may not fit.
    [[nodiscard]] Fixed shifted(Op op, const Fixed& x, const Fixed& count);
    [[nodiscard]] Fixed lesser(const Fixed& x, const Fixed& y) { return chosen(Op::Min, x, y); }
    [[nodiscard]] Fixed greater(const Fixed& x, const Fixed& y) { return chosen(Op::Max, x, y); }
    [[nodiscard]] Fixed selected(std::int32_t condition, const Fixed& x, const Fixed& y);
    /// Down to the next whole value.
    [[nodiscard]] Fixed floored(const Fixed& x);
    /// To the nearest whole value, with no digits behind the point.
    [[nodiscard]] Fixed rounded(const Fixed& x);
    [[nodiscard]] Fixed exponential(const Fixed& x);
    /// Of a value above 0.
    [[nodiscard]] Fixed logarithm(const Fixed& x);
    /// Of a value not below 0.
    [[nodiscard]] Fixed root(const Fixed& x);
    [[nodiscard]] Fixed named(const Fixed& x, std::string_view name, std::string_view unit, std::string_view source);

    /// A comparison; no node where it always holds.
    [[nodiscard]] std::optional<std::int32_t> compared(Op op, const Fixed& x, const Fixed& y);
    [[nodiscard]] std::int32_t both(std::int32_t a, std::int32_t b);
    /// The value while the condition holds.
    [[nodiscard]] Fixed refusedUnless(std::int32_t condition, const Fixed& x, std::string_view name);
    /// The value while it lies between two ends, refused otherwise; as it is where it always does, or nearly.
    [[nodiscard]] Fixed kept(const Fixed& x, double low, bool isLowOpen, double high, bool isHighOpen,
                             std::string_view name);

    /// A value of which more is known than its steps say.
    [[nodiscard]] Fixed known(Fixed x, double low, double high) const;
    /// A number of the formula given a form; others as they are.
    [[nodiscard]] Fixed formed(const Fixed& x);

  private:
    /// Bits that a whole number may have beside its sign.
    [[nodiscard]] int capacity() const { return m_width - 1; }
    /// Whole numbers stay a little below what fits: their bounds are doubles.
    [[nodiscard]] double limit() const { return std::ldexp(1.0 - 0x1p-40, capacity()); }
    [[nodiscard]] static double sizeOf(const Bounds& whole) { return std::max(-whole.low, whole.high); }
    [[nodiscard]] static int bitsOf(const Bounds& whole) {
        const double size = sizeOf(whole);
        return size < 1 ? 0 : std::ilogb(size) + 1;
    }
    [[nodiscard]] Fixed made(Op op, std::int32_t a, std::int32_t b, const Bounds& whole, int fraction);
    [[nodiscard]] std::int32_t number(std::int64_t whole);
    [[nodiscard]] Fixed formOf(double constant, int fraction);
    [[nodiscard]] Fixed withFraction(const Fixed& x, int fraction);
    [[nodiscard]] static Bounds scaled(const Bounds& whole, int from, int to);
    struct Pair {
        Fixed x, y;
    };
    /// Both with the same fraction, as long a one as leaves room for what `of` makes of their bounds.
    template <class Of>
    [[nodiscard]] Pair aligned(const Fixed& x, const Fixed& y, const Of& of);
    [[nodiscard]] Fixed sum(Op op, const Fixed& x, const Fixed& y);
    [[nodiscard]] Fixed chosen(Op op, const Fixed& x, const Fixed& y);
    [[nodiscard]] Fixed timesConstant(const Fixed& x, double constant);
    [[nodiscard]] Fixed shiftedDown(const Fixed& x, const Fixed& count);
    /// A value with its leading zeros shifted out, and how many shifts that took, each by `smallest` digits.
    struct Normal {
        Fixed mantissa;  ///< 0 … 1
        Fixed count;
        int power = 0;  ///< of two: the mantissa times that, down again by the shifts, is the value
    };
    [[nodiscard]] Normal normal(const Fixed& x, int smallest);
    [[nodiscard]] std::int32_t condition(Op op, std::int32_t a, std::int32_t b);

    Recording& m_in;
    int m_width;
    /// Whole number, digits up, is it rounded: the node.
    std::map<std::tuple<std::int32_t, int, bool>, std::int32_t> m_shifted;
    std::map<std::int64_t, std::int32_t> m_numbers;
};

}  // namespace fg
