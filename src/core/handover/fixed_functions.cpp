// Functions in fixed point: a value is brought to between two powers of two by shifts, and a short series does the
// rest.

#include "handover/fixed_arithmetic.h"

#include <cmath>
#include <numbers>

namespace fg {
namespace {

Fixed numberOf(double value) { return {-1, 0, {}, value}; }

}  // namespace

Fixed FixedArithmetic::known(Fixed x, double low, double high) const {
    if (x.constant) return x;
    x.whole.low = std::max(x.whole.low, std::floor(std::ldexp(low, x.fraction)));
    x.whole.high = std::min(x.whole.high, std::ceil(std::ldexp(high, x.fraction)));
    return x;
}

Fixed FixedArithmetic::shiftedDown(const Fixed& x, const Fixed& count) {
    return made(Op::ShiftRight, x.node, count.node, {std::min(x.whole.low, 0.0), x.whole.high}, x.fraction);
}

/// Leading zeros are shifted out, by halves of the width: what is above 0 ends in its upper bits.
FixedArithmetic::Normal FixedArithmetic::normal(const Fixed& x, int smallest) {
    int room = capacity() - 1 - bitsOf(x.whole);
    // An even power of two has a whole root.
    if (smallest == 2 && (capacity() - 1 - (x.fraction + room)) % 2 != 0) --room;
    Fixed m = withFraction(x, x.fraction + room);
    Fixed count = formOf(0, 0);
    for (int shift = m_width / 2; shift >= smallest; shift /= 2) {
        const double threshold = std::ldexp(1.0, capacity() - 1 - shift);
        if (m.whole.low >= threshold) continue;
        const std::int32_t isSmall = condition(Op::Less, m.node, number(static_cast<std::int64_t>(threshold)));
        const Bounds moved{std::ldexp(m.whole.low, shift), std::ldexp(threshold - 1, shift)};
        const Fixed up = made(Op::ShiftLeft, m.node, number(shift), moved, m.fraction);
        const Bounds low = m.whole.high < threshold ? moved : Bounds::hull(moved, {threshold, m.whole.high});
        m = selected(isSmall, up, m);
        m.whole = low;
        const int step = shift / smallest;
        const Bounds more{count.whole.low + step, count.whole.high + step};
        const Fixed counted = count.whole.high < 1 ? formOf(step, 0) : made(Op::Add, count.node, number(step), more, 0);
        count = selected(isSmall, counted, count);
    }
    const int power = capacity() - 1 - m.fraction;
    m.fraction = capacity() - 1;
    return {m, count, power};
}

/// e^x = 2^k e^r with k whole and |r| ≤ ln 2/2, by its series (Abramowitz, Stegun: Handbook of Mathematical Functions,
/// 4.2.1).
Fixed FixedArithmetic::exponential(const Fixed& x) {
    if (x.constant) return numberOf(std::exp(*x.constant));
    const Fixed power = multiplied(x, numberOf(std::numbers::log2e));
    const Fixed k = floored(added(power, numberOf(0.5)));
    const Fixed r = multiplied(known(subtracted(power, k), -0.51, 0.51), numberOf(std::numbers::ln2));
    const double least = std::ldexp(1.0, -m_width / 2 - 2), largest = std::numbers::ln2 / 2;
    int terms = 1;
    for (double term = largest; term > least; term *= largest / terms) ++terms;
    Fixed sum = numberOf(1);
    for (int i = terms; i >= 1; --i) sum = added(multiplied(multiplied(sum, r), numberOf(1.0 / i)), numberOf(1));
    sum = known(sum, 0.65, 1.5);  // with room for what is lost by rounding
    // The largest power fills the width, smaller ones are shifted down from there.
    const int room = capacity() - 1 - bitsOf(sum.whole);
    sum = withFraction(sum, sum.fraction + room);
    const double most = k.constant.value_or(k.whole.high), last = m_width - 1;
    Fixed result = sum;
    if (!k.constant) {
        Fixed count = made(Op::Subtract, number(static_cast<std::int64_t>(most)), k.node, {0, most - k.whole.low}, 0);
        if (count.whole.high > last) count = lesser(count, formOf(last, 0));
        result = shiftedDown(sum, count);
        result.whole.low = 0;
    }
    result.fraction -= static_cast<int>(most);
    return result;
}

/// ln x = 2 artanh z − k ln 2 with z = (m − √½)/(m + √½) for a mantissa m of ½ … 1 (Abramowitz, Stegun, 4.1.27). `x`
/// is above 0.
Fixed FixedArithmetic::logarithm(const Fixed& x) {
    if (x.constant) return numberOf(std::log(*x.constant));
    const auto [m, count, power] = normal(x, 1);
    const Fixed mantissa = known(m, 0.5, 1);
    const double middle = std::numbers::sqrt2 / 2, largest = (1 - middle) / (1 + middle);
    constexpr double kRoom = 1.1;  // for what is lost by rounding
    const Fixed quotient = *divided(subtracted(mantissa, numberOf(middle)), added(mantissa, numberOf(middle)));
    const Fixed z = known(quotient, -kRoom * largest, kRoom * largest);
    const Fixed square = known(multiplied(z, z), 0, kRoom * kRoom * largest * largest);
    const double least = std::ldexp(1.0, -m_width / 2 - 2);
    int last = 1;
    while (std::pow(largest, last) / last > least) last += 2;
    Fixed sum = numberOf(1.0 / last);
    for (int i = last - 2; i >= 1; i -= 2) sum = added(multiplied(sum, square), numberOf(1.0 / i));
    const Fixed shifts = multiplied(count, numberOf(-std::numbers::ln2));
    const double rest = std::log(middle) + power * std::numbers::ln2;
    return added(added(multiplied(multiplied(z, sum), numberOf(2)), shifts), numberOf(rest));
}

/// The root of a mantissa of ¼ … 1 by Heron's rule, from a line that is right to 4 %. `x` is not below 0.
Fixed FixedArithmetic::root(const Fixed& x) {
    if (x.constant) return numberOf(std::sqrt(*x.constant));
    const auto [m, count, power] = normal(x, 2);
    const Fixed mantissa = known(m, 0, 1);
    Fixed y = added(multiplied(mantissa, numberOf(0.64)), numberOf(0.36));
    // 4 % leave 0.08 %, those 3e-7, those 5e-14; of 0 an eighth of 0.36 is left, which the shift takes away.
    constexpr int kRounds = 3;
    for (int i = 0; i < kRounds; ++i) y = known(multiplied(added(y, *divided(mantissa, y)), numberOf(0.5)), 0.04, 1.1);
    Fixed result = shiftedDown(y, count);
    result.fraction -= power / 2;
    result.whole.low = 0;
    return result;
}

}  // namespace fg
