#include "handover/fixed_arithmetic.h"

#include <algorithm>
#include <climits>
#include <cmath>

namespace fg {
namespace {

/// A number as an odd whole one times a power of two.
struct OddNumber {
    int bits = 0;      ///< of the odd one
    int exponent = 0;  ///< of the power
};

OddNumber oddOf(double value) {
    constexpr int kMantissa = 53;
    int exponent = 0;
    auto whole = static_cast<std::int64_t>(std::ldexp(std::abs(std::frexp(value, &exponent)), kMantissa));
    exponent -= kMantissa;
    OddNumber odd{kMantissa, exponent};
    for (; whole % 2 == 0; whole /= 2) {
        --odd.bits;
        ++odd.exponent;
    }
    return odd;
}

}  // namespace

Fixed FixedArithmetic::made(Op op, std::int32_t a, std::int32_t b, const Bounds& whole, int fraction) {
    const std::int32_t node = m_in.add({.op = op, .operands = {a, b, -1}, .bits = static_cast<std::int8_t>(m_width)});
    return {node, fraction, whole, {}};
}

std::int32_t FixedArithmetic::number(std::int64_t whole) {
    const auto known = m_numbers.find(whole);
    if (known != m_numbers.end()) return known->second;
    return m_numbers[whole] = m_in.add({.op = Op::Constant,
                                        .value = static_cast<double>(whole),
                                        .bits = static_cast<std::int8_t>(m_width),
                                        .whole = whole});
}

Fixed FixedArithmetic::input(std::string_view name, std::int64_t least, std::int64_t most) {
    const std::int32_t node =
        m_in.add({.op = Op::Input, .name = m_in.keep(name), .bits = static_cast<std::int8_t>(m_width)});
    return {node, 0, {static_cast<double>(least), static_cast<double>(most)}, {}};
}

Fixed FixedArithmetic::formOf(double constant, int fraction) {
    const double whole = std::nearbyint(std::ldexp(constant, fraction));
    return {number(static_cast<std::int64_t>(whole)), fraction, whole, {}};
}

Fixed FixedArithmetic::formed(const Fixed& x) {
    if (!x.constant) return x;
    if (*x.constant == 0) return formOf(0, 0);
    const OddNumber odd = oddOf(*x.constant);
    const int lost = std::max(0, odd.bits - capacity() + 1);
    return formOf(*x.constant, -(odd.exponent + lost));
}

/// Bounds of a whole number when its fraction changes; half a digit more where digits are lost.
Bounds FixedArithmetic::scaled(const Bounds& whole, int from, int to) {
    const double low = std::ldexp(whole.low, to - from), high = std::ldexp(whole.high, to - from);
    return {std::floor(low), std::ceil(high)};
}

Fixed FixedArithmetic::withFraction(const Fixed& x, int fraction) {
    if (x.constant) return formOf(*x.constant, fraction);
    if (x.fraction == fraction) return x;
    const int up = fraction - x.fraction;
    const Bounds whole = scaled(x.whole, x.fraction, fraction);
    // All of its digits are lost: what is left of it is 0, or 1 and −1 by rounding.
    if (-up >= capacity()) return formOf(0, fraction);
    const double half = up < 0 ? std::ldexp(1.0, -up - 1) : 0;
    const Bounds raised{x.whole.low + half, x.whole.high + half};
    // The same whole number may stand for several values, their points at other places; on a side of a branch it has
    // room to be rounded that it has not elsewhere.
    const auto key = std::tuple(x.node, up, fits(raised));
    if (const auto known = m_shifted.find(key); known != m_shifted.end()) return {known->second, fraction, whole, {}};
    if (up > 0) {
        const Fixed longer = made(Op::ShiftLeft, x.node, number(up), whole, fraction);
        m_shifted[key] = longer.node;
        return longer;
    }
    const std::int32_t before =
        fits(raised) ? made(Op::Add, x.node, number(std::int64_t{1} << (-up - 1)), raised, x.fraction).node : x.node;
    const Fixed shorter = made(Op::ShiftRight, before, number(-up), whole, fraction);
    m_shifted[key] = shorter.node;
    return shorter;
}

template <class Of>
FixedArithmetic::Pair FixedArithmetic::aligned(const Fixed& x, const Fixed& y, const Of& of) {
    const auto fractionOf = [](const Fixed& one) {
        return one.constant ? (*one.constant == 0 ? INT_MIN / 2 : -oddOf(*one.constant).exponent) : one.fraction;
    };
    const auto boundsAt = [](const Fixed& one, int fraction) {
        return one.constant ? Bounds(std::nearbyint(std::ldexp(*one.constant, fraction)))
                            : scaled(one.whole, one.fraction, fraction);
    };
    int fraction = std::max(fractionOf(x), fractionOf(y));
    for (;; --fraction) {
        const Bounds a = boundsAt(x, fraction), b = boundsAt(y, fraction);
        if (fits(a) && fits(b) && fits(of(a, b))) break;
    }
    return {withFraction(x, fraction), withFraction(y, fraction)};
}

Fixed FixedArithmetic::sum(Op op, const Fixed& x, const Fixed& y) {
    const auto of = [&](const Bounds& a, const Bounds& b) {
        return op == Op::Add ? Bounds{a.low + b.low, a.high + b.high} : Bounds{a.low - b.high, a.high - b.low};
    };
    if (x.constant && y.constant)
        return {-1, 0, {}, op == Op::Add ? *x.constant + *y.constant : *x.constant - *y.constant};
    if (y.constant && *y.constant == 0) return x;
    if (op == Op::Add && x.constant && *x.constant == 0) return y;
    const Pair pair = aligned(x, y, of);
    return made(op, pair.x.node, pair.y.node, of(pair.x.whole, pair.y.whole), pair.x.fraction);
}

Fixed FixedArithmetic::negated(const Fixed& x) { return subtracted({-1, 0, {}, 0.0}, x); }

Fixed FixedArithmetic::timesConstant(const Fixed& x, double constant) {
    if (constant == 0) return {-1, 0, {}, 0.0};
    const OddNumber odd = oddOf(constant);
    // A power of two moves the point alone.
    if (odd.bits == 1) {
        Fixed moved = x;
        moved.fraction -= odd.exponent;
        return constant < 0 ? negated(moved) : moved;
    }
    const int bits = bitsOf(x.whole);
    const int taken = std::min(odd.bits, std::max(capacity() - bits, capacity() / 2));
    const Fixed factor = formOf(constant, taken - 1 - std::ilogb(constant));
    for (int lost = std::max(0, bits + taken - capacity() - 1);; ++lost) {
        const Bounds left = lost == 0 ? x.whole : scaled(x.whole, lost, 0);
        if (!fits(left * factor.whole)) continue;
        const Fixed shorter = withFraction(x, x.fraction - lost);
        return made(Op::Multiply, shorter.node, factor.node, shorter.whole * factor.whole,
                    shorter.fraction + factor.fraction);
    }
}

Fixed FixedArithmetic::multiplied(const Fixed& x, const Fixed& y) {
    if (x.constant && y.constant) return {-1, 0, {}, *x.constant * *y.constant};
    if (y.constant) return timesConstant(x, *y.constant);
    if (x.constant) return timesConstant(y, *x.constant);
    const bool isSquare = x.node == y.node;
    const auto productOf = [&](const Bounds& a, const Bounds& b) {
        if (!isSquare) return a * b;
        const double size = sizeOf(a);
        return Bounds{0, size * size};
    };
    int lostX = 0, lostY = 0;
    const auto shorter = [](const Fixed& one, int lost) { return lost == 0 ? one.whole : scaled(one.whole, lost, 0); };
    // The longer one loses a digit first: then neither is worse off than the other.
    while (!fits(productOf(shorter(x, lostX), shorter(y, lostY)))) {
        if (isSquare) {
            ++lostX;
            ++lostY;
        } else
            ++(bitsOf(shorter(x, lostX)) >= bitsOf(shorter(y, lostY)) ? lostX : lostY);
    }
    const Fixed a = withFraction(x, x.fraction - lostX), b = withFraction(y, y.fraction - lostY);
    return made(Op::Multiply, a.node, b.node, productOf(a.whole, b.whole), a.fraction + b.fraction);
}

std::optional<Fixed> FixedArithmetic::divided(const Fixed& x, const Fixed& y) {
    if (y.constant && *y.constant == 0) return std::nullopt;
    if (y.constant) return multiplied(x, {-1, 0, {}, 1 / *y.constant});
    // A divisor of half the width leaves the quotient as many digits as it has itself.
    const int lost = std::max(0, bitsOf(y.whole) - (capacity() + 1) / 2);
    const Fixed divisor = withFraction(y, y.fraction - lost);
    Fixed dividend = formed(x);
    const int room = capacity() - bitsOf(dividend.whole) - 1;
    if (room > 0) dividend = withFraction(dividend, dividend.fraction + room);
    const double size = sizeOf(dividend.whole);
    const Bounds whole = divisor.whole.contains(0) ? Bounds{-size, size} : Bounds(dividend.whole / divisor.whole);
    return made(Op::Divide, dividend.node, divisor.node, {std::floor(whole.low), std::ceil(whole.high)},
                dividend.fraction - divisor.fraction);
}

Fixed FixedArithmetic::shifted(Op op, const Fixed& x, const Fixed& count) {
    const auto moved = [&](double whole, double digits) {
        const double exact = std::ldexp(whole, static_cast<int>(op == Op::ShiftLeft ? digits : -digits));
        return std::floor(exact);
    };
    const auto ends = std::minmax({moved(x.whole.low, count.whole.low), moved(x.whole.low, count.whole.high),
                                   moved(x.whole.high, count.whole.low), moved(x.whole.high, count.whole.high)});
    // More digits than there are would be no shift at all.
    const bool isShift = count.whole.low >= 0 && count.whole.high < m_width;
    const Bounds whole = isShift ? Bounds{ends.first, ends.second} : Bounds{-HUGE_VAL, HUGE_VAL};
    return made(op, x.node, count.node, whole, x.fraction);
}

Fixed FixedArithmetic::chosen(Op op, const Fixed& x, const Fixed& y) {
    if (x.constant && y.constant)
        return {-1, 0, {}, op == Op::Min ? std::min(*x.constant, *y.constant) : std::max(*x.constant, *y.constant)};
    const Pair pair = aligned(x, y, [](const Bounds& a, const Bounds&) { return a; });
    const std::int32_t isLess = condition(Op::Less, pair.x.node, pair.y.node);
    Fixed result = op == Op::Min ? selected(isLess, pair.x, pair.y) : selected(isLess, pair.y, pair.x);
    result.whole = op == Op::Min ? least(pair.x.whole, pair.y.whole) : most(pair.x.whole, pair.y.whole);
    return result;
}

Fixed FixedArithmetic::selected(std::int32_t condition, const Fixed& x, const Fixed& y) {
    const Pair pair = aligned(x, y, [](const Bounds& a, const Bounds&) { return a; });
    const std::int32_t node = m_in.add({.op = Op::Select,
                                        .operands = {pair.x.node, pair.y.node, condition},
                                        .bits = static_cast<std::int8_t>(m_width)});
    return {node, pair.x.fraction, Bounds::hull(pair.x.whole, pair.y.whole), {}};
}

Fixed FixedArithmetic::floored(const Fixed& x) {
    if (x.constant) return {-1, 0, {}, std::floor(*x.constant)};
    if (x.fraction <= 0) return x;
    if (x.fraction >= capacity()) return floored(withFraction(x, capacity() - 1));
    const Bounds whole{std::floor(std::ldexp(x.whole.low, -x.fraction)),
                       std::floor(std::ldexp(x.whole.high, -x.fraction))};
    if (whole.low >= whole.high) return {-1, 0, {}, whole.low};
    return made(Op::ShiftRight, x.node, number(x.fraction), whole, 0);
}

Fixed FixedArithmetic::rounded(const Fixed& x) { return withFraction(x, 0); }

Fixed FixedArithmetic::named(const Fixed& x, std::string_view name, std::string_view unit, std::string_view source) {
    if (x.constant) return x;
    const std::int32_t node = m_in.add({.op = Op::Step,
                                        .operands = {x.node, -1, -1},
                                        .name = m_in.keep(name),
                                        .unit = m_in.keep(unit),
                                        .source = m_in.keep(source),
                                        .bits = static_cast<std::int8_t>(m_width)});
    return {node, x.fraction, x.whole, {}};
}

std::int32_t FixedArithmetic::condition(Op op, std::int32_t a, std::int32_t b) {
    return m_in.add({.op = op, .operands = {a, b, -1}});
}

std::int32_t FixedArithmetic::both(std::int32_t a, std::int32_t b) { return condition(Op::And, a, b); }

std::optional<std::int32_t> FixedArithmetic::compared(Op op, const Fixed& x, const Fixed& y) {
    // A number of the formula that lies between two whole ones is told by the one beside it.
    const auto beside = [&](const Fixed& constant, const Fixed& other, bool isUp) {
        const double exact = std::ldexp(*constant.constant, other.fraction);
        return number(static_cast<std::int64_t>(
            std::clamp(isUp ? std::ceil(exact) : std::floor(exact), std::ceil(-limit()), std::floor(limit()))));
    };
    if (op == Op::Differs && (x.constant || y.constant) && !(x.constant && y.constant)) {
        const Fixed &number = x.constant ? x : y, &other = x.constant ? y : x;
        const double exact = std::ldexp(*number.constant, other.fraction);
        if (std::floor(exact) != exact || !other.whole.contains(exact)) return std::nullopt;
        return condition(op, other.node, this->number(static_cast<std::int64_t>(exact)));
    }
    if (x.constant && !y.constant)  // c < n from the number after the one below c on; c ≤ n from the one above c on
        return condition(op, beside(x, y, op == Op::LessEqual), y.node);
    if (y.constant && !x.constant)  // n < c up to the number before the one above c; n ≤ c up to the one below c
        return condition(op, x.node, beside(y, x, op == Op::Less));
    const Pair pair = aligned(x, y, [](const Bounds& a, const Bounds&) { return a; });
    return condition(op, pair.x.node, pair.y.node);
}

Fixed FixedArithmetic::refusedUnless(std::int32_t condition, const Fixed& x, std::string_view name) {
    const Fixed value = formed(x);
    const std::int32_t node = m_in.add({.op = Op::Refuse,
                                        .operands = {value.node, -1, condition},
                                        .name = m_in.keep(name),
                                        .bits = static_cast<std::int8_t>(m_width)});
    return {node, value.fraction, value.whole, {}};
}

Fixed FixedArithmetic::kept(const Fixed& x, double low, bool isLowOpen, double high, bool isHighOpen,
                            std::string_view name) {
    if (x.constant) return x;
    const double exactLow = std::ldexp(low, x.fraction), exactHigh = std::ldexp(high, x.fraction);
    const double least = isLowOpen ? std::floor(exactLow) + 1 : std::ceil(exactLow),
                 most = isHighOpen ? std::ceil(exactHigh) - 1 : std::floor(exactHigh);
    std::optional<std::int32_t> within;
    Fixed result = x;
    if (least > x.whole.low) {
        within = condition(Op::LessEqual, number(static_cast<std::int64_t>(least)), x.node);
        result.whole.low = least;
    }
    if (most < x.whole.high) {
        const std::int32_t isBelow = condition(Op::LessEqual, x.node, number(static_cast<std::int64_t>(most)));
        within = within ? both(*within, isBelow) : isBelow;
        result.whole.high = most;
    }
    if (!within) return x;
    result.node = refusedUnless(*within, x, name).node;
    return result;
}

}  // namespace fg
