#pragma once

#include "formula/recorded.h"

#include <concepts>
#include <limits>
#include <utility>

namespace fg {

/// An integer of stated width as data sheets' routines count with: it wraps at the ends of its width, divides towards
/// zero and shifts arithmetically, on every machine alike. It keeps how it came about when it belongs to a recording,
/// as Recorded does. `Rep`: std::int32_t, std::uint32_t or std::int64_t.
template <std::integral Rep>
class Whole {
  public:
    Whole() = default;
    template <std::integral Number>
    Whole(Number value) : m_value(static_cast<Rep>(value)) {}  // numbers of the formula stand as they are written
    Whole(Rep value, Recording* in, std::int32_t index) : m_value(value), m_in(in), m_index(index) {}

    [[nodiscard]] Rep value() const { return m_value; }
    [[nodiscard]] Recording* in() const { return m_in; }
    [[nodiscard]] std::int32_t indexIn(Recording& in) const {
        return m_in ? m_index : in.add(node(Op::Constant, m_value, false));
    }

    /// The same as a real number.
    [[nodiscard]] Recorded real() const {
        return m_in ? Recorded(*m_in, m_index) : Recorded(static_cast<double>(m_value));
    }
    /// The same in another width; wraps where it does not fit.
    template <std::integral Other>
    [[nodiscard]] Whole<Other> as() const {
        const auto other = static_cast<Other>(m_value);
        if (!m_in) return other;
        const bool wraps = !std::in_range<Other>(m_value);
        Node node = Whole<Other>::node(Op::Convert, other, wraps);
        node.operands[0] = m_index;
        return {other, m_in, m_in->add(node)};
    }

    friend Whole operator-(const Whole& a) { return Whole(0) - a; }
    friend Whole operator+(const Whole& a, const Whole& b) {
        Rep sum{};
        const bool wraps = __builtin_add_overflow(a.m_value, b.m_value, &sum);
        return made(Op::Add, a, b, sum, wraps);
    }
    friend Whole operator-(const Whole& a, const Whole& b) {
        Rep difference{};
        const bool wraps = __builtin_sub_overflow(a.m_value, b.m_value, &difference);
        return made(Op::Subtract, a, b, difference, wraps);
    }
    friend Whole operator*(const Whole& a, const Whole& b) {
        Rep product{};
        const bool wraps = __builtin_mul_overflow(a.m_value, b.m_value, &product);
        return made(Op::Multiply, a, b, product, wraps);
    }
    /// `b` is not 0: a routine looks before it divides.
    friend Whole operator/(const Whole& a, const Whole& b) {
        if constexpr (std::is_signed_v<Rep>)  // the one quotient that does not fit
            if (b.m_value == -1) return Whole(0) - a;
        return made(Op::Divide, a, b, a.m_value / b.m_value, false);
    }
    friend Whole operator>>(const Whole& a, const Whole& count) {
        return made(Op::ShiftRight, a, count, a.m_value >> count.m_value, false);
    }
    friend Whole operator<<(const Whole& a, const Whole& count) {
        const auto moved = static_cast<Rep>(static_cast<std::make_unsigned_t<Rep>>(a.m_value) << count.m_value);
        return made(Op::ShiftLeft, a, count, moved, moved >> count.m_value != a.m_value);
    }

    friend RecordedCondition operator<(const Whole& a, const Whole& b) {
        const bool holds = a.m_value < b.m_value;
        return {holds, Recorded::binary(Op::Less, a.real(), b.real(), holds)};
    }
    friend RecordedCondition operator>(const Whole& a, const Whole& b) { return b < a; }

    static Node node(Op op, Rep value, bool wraps) {
        constexpr int bits = std::numeric_limits<std::make_unsigned_t<Rep>>::digits;
        return {.op = op,
                .value = static_cast<double>(value),
                .bits = static_cast<std::int8_t>(std::is_signed_v<Rep> ? bits : -bits),
                .wraps = wraps,
                .whole = static_cast<std::int64_t>(value)};
    }

  private:
    static Whole made(Op op, const Whole& a, const Whole& b, Rep value, bool wraps) {
        Recording* in = a.m_in ? a.m_in : b.m_in;
        if (!in) return value;
        Node result = node(op, value, wraps);
        result.operands = {a.indexIn(*in), b.indexIn(*in), -1};
        return {value, in, in->add(result)};
    }

    Rep m_value = 0;
    Recording* m_in = nullptr;
    std::int32_t m_index = -1;
};

/// A whole number that was read, as an integer of a width that holds it.
template <std::integral Rep>
[[nodiscard]] Whole<Rep> wholeOf(const Recorded& x) {
    const auto value = static_cast<Rep>(static_cast<std::int64_t>(x.value()));
    return x.in() ? Whole<Rep>(value, x.in(), x.indexIn(*x.in())) : Whole<Rep>(value);
}
template <std::integral Rep>
[[nodiscard]] Whole<Rep> wholeOf(std::integral auto x) {
    return static_cast<Rep>(x);
}

/// A line of the trace.
template <std::integral Rep>
[[nodiscard]] Whole<Rep> step(std::string_view name, std::string_view unit, std::string_view source,
                              const Whole<Rep>& x) {
    if (!x.in()) return x;
    Recording& in = *x.in();
    Node node = Whole<Rep>::node(Op::Step, x.value(), false);
    node.operands[0] = x.indexIn(in);
    node.name = in.keep(name);
    node.unit = in.keep(unit);
    node.source = in.keep(source);
    return {x.value(), &in, in.add(node)};
}

/// A branch; both sides are recorded.
template <std::integral Rep>
[[nodiscard]] Whole<Rep> select(const RecordedCondition& condition, const Whole<Rep>& a, const Whole<Rep>& b) {
    const Whole<Rep>& taken = condition.holds ? a : b;
    Recording* in = condition.node.in() ? condition.node.in() : (a.in() ? a.in() : b.in());
    if (!in) return taken;
    Node node = Whole<Rep>::node(Op::Select, taken.value(), false);
    node.operands = {a.indexIn(*in), b.indexIn(*in), condition.node.indexIn(*in)};
    node.isTaken = condition.holds;
    return {taken.value(), in, in->add(node)};
}

}  // namespace fg
