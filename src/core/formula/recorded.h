#pragma once

#include "formula/expression.h"
#include "formula/number.h"

#include <type_traits>

namespace fg {

/// A number that keeps how it came about. Computes as a double does, operation by operation, so that its value is that
/// of the double to the last bit. A number of the formula itself belongs to no recording until it meets one that does.
class Recorded {
  public:
    Recorded() = default;
    Recorded(double constant) : m_value(constant) {}  // numbers of the formula stand as they are written
    Recorded(double constant, std::string_view unit, std::string_view written)
        : m_value(constant), m_unit(unit), m_written(written) {}
    Recorded(Recording& in, std::int32_t index) : m_in(&in), m_index(index), m_value(in.at(index).value) {}

    [[nodiscard]] double value() const { return m_value; }
    [[nodiscard]] Recording* in() const { return m_in; }
    /// Its node in `in`, made there for a number of the formula.
    [[nodiscard]] std::int32_t indexIn(Recording& in) const {
        return m_in ? m_index : in.add({.op = Op::Constant, .value = m_value, .name = m_written, .unit = m_unit});
    }

    static Recorded leaf(Recording& in, Op op, std::string_view name, std::string_view unit, double value) {
        return {in, in.add({.op = op, .value = value, .name = name, .unit = unit})};
    }

    friend Recorded operator-(const Recorded& a) { return unary(Op::Negate, a, -a.m_value); }
    friend Recorded operator+(const Recorded& a, const Recorded& b) {
        return binary(Op::Add, a, b, a.m_value + b.m_value);
    }
    friend Recorded operator-(const Recorded& a, const Recorded& b) {
        return binary(Op::Subtract, a, b, a.m_value - b.m_value);
    }
    friend Recorded operator*(const Recorded& a, const Recorded& b) {
        return binary(Op::Multiply, a, b, a.m_value * b.m_value);
    }
    friend Recorded operator/(const Recorded& a, const Recorded& b) {
        return binary(Op::Divide, a, b, a.m_value / b.m_value);
    }

    static Recorded unary(Op op, const Recorded& a, double value) {
        if (!a.m_in) return value;
        return {*a.m_in, a.m_in->add({.op = op, .operands = {a.m_index, -1, -1}, .value = value})};
    }
    static Recorded binary(Op op, const Recorded& a, const Recorded& b, double value) {
        Recording* in = a.m_in ? a.m_in : b.m_in;
        if (!in) return value;
        const std::int32_t left = a.indexIn(*in), right = b.indexIn(*in);
        return {*in, in->add({.op = op, .operands = {left, right, -1}, .value = value})};
    }

  private:
    Recording* m_in = nullptr;
    std::int32_t m_index = -1;
    double m_value = 0;
    std::string_view m_unit{}, m_written{};  // of a number of the formula: texts that live as long as the program
};

/// A comparison that keeps how it came about.
struct RecordedCondition {
    bool holds = false;
    Recorded node{};
    friend RecordedCondition operator&&(const RecordedCondition& a, const RecordedCondition& b) {
        const bool both = a.holds && b.holds;
        return {both, Recorded::binary(Op::And, a.node, b.node, both)};
    }
};

[[nodiscard]] inline RecordedCondition operator<(const Recorded& a, const Recorded& b) {
    const bool holds = a.value() < b.value();
    return {holds, Recorded::binary(Op::Less, a, b, holds)};
}
[[nodiscard]] inline RecordedCondition operator<=(const Recorded& a, const Recorded& b) {
    const bool holds = a.value() <= b.value();
    return {holds, Recorded::binary(Op::LessEqual, a, b, holds)};
}
[[nodiscard]] inline RecordedCondition differs(const Recorded& a, const Recorded& b) {
    const bool holds = a.value() < b.value() || b.value() < a.value();
    return {holds, Recorded::binary(Op::Differs, a, b, holds)};
}
[[nodiscard]] inline RecordedCondition operator>(const Recorded& a, const Recorded& b) { return b < a; }
[[nodiscard]] inline RecordedCondition operator>=(const Recorded& a, const Recorded& b) { return b <= a; }

[[nodiscard]] inline Recorded exp(const Recorded& x) { return Recorded::unary(Op::Exp, x, std::exp(x.value())); }
[[nodiscard]] inline Recorded log(const Recorded& x) { return Recorded::unary(Op::Log, x, std::log(x.value())); }
[[nodiscard]] inline Recorded sqrt(const Recorded& x) { return Recorded::unary(Op::Sqrt, x, std::sqrt(x.value())); }
[[nodiscard]] inline Recorded sinh(const Recorded& x) { return Recorded::unary(Op::Sinh, x, std::sinh(x.value())); }
[[nodiscard]] inline Recorded asinh(const Recorded& x) { return Recorded::unary(Op::Asinh, x, std::asinh(x.value())); }
[[nodiscard]] inline Recorded floor(const Recorded& x) { return Recorded::unary(Op::Floor, x, std::floor(x.value())); }
[[nodiscard]] inline Recorded round(const Recorded& x) { return Recorded::unary(Op::Round, x, round(x.value())); }
[[nodiscard]] inline Recorded least(const Recorded& x, const Recorded& y) {
    return Recorded::binary(Op::Min, x, y, least(x.value(), y.value()));
}
[[nodiscard]] inline Recorded most(const Recorded& x, const Recorded& y) {
    return Recorded::binary(Op::Max, x, y, most(x.value(), y.value()));
}
[[nodiscard]] inline Recorded pow(const Recorded& x, const Recorded& y) {
    return Recorded::binary(Op::Power, x, y, std::pow(x.value(), y.value()));
}
[[nodiscard]] inline RecordedCondition isInfinite(const Recorded& x) {
    const bool holds = std::isinf(x.value());
    return {holds, Recorded::unary(Op::IsInfinite, x, holds)};
}
[[nodiscard]] inline double nominal(const Recorded& x) { return x.value(); }

namespace detail {
[[nodiscard]] inline Recorded named(Op op, std::string_view name, std::string_view unit, std::string_view source,
                                    const Recorded& x) {
    if (!x.in()) return x;
    Recording& in = *x.in();
    return {in, in.add({.op = op,
                        .operands = {x.indexIn(in), -1, -1},
                        .value = x.value(),
                        .name = in.keep(name),
                        .unit = in.keep(unit),
                        .source = in.keep(source)})};
}
[[nodiscard]] inline Recorded branch(Op op, const RecordedCondition& condition, const Recorded& a, const Recorded& b) {
    Recording* in = condition.node.in() ? condition.node.in() : (a.in() ? a.in() : b.in());
    const Recorded& taken = condition.holds ? a : b;
    if (!in) return taken;
    return {*in, in->add({.op = op,
                          .operands = {a.indexIn(*in), b.indexIn(*in), condition.node.indexIn(*in)},
                          .value = taken.value(),
                          .isTaken = condition.holds})};
}
}  // namespace detail

[[nodiscard]] inline Recorded step(std::string_view name, std::string_view unit, std::string_view source,
                                   const Recorded& x) {
    return detail::named(Op::Step, name, unit, source, x);
}
[[nodiscard]] inline Recorded aside(std::string_view name, std::string_view unit, const Recorded& x) {
    return detail::named(Op::Aside, name, unit, "", x);
}
template <>
[[nodiscard]] inline Recorded constant<Recorded>(double value, std::string_view unit, std::string_view written) {
    return {value, unit, written};
}

template <class A, class B>
[[nodiscard]] Recorded choose(const RecordedCondition& condition, A a, B b) {
    return detail::branch(Op::Select, condition, a(), b());
}
template <class A>
[[nodiscard]] Recorded require(const RecordedCondition& condition, A a) {
    return detail::branch(Op::Refuse, condition, a(), std::numeric_limits<double>::quiet_NaN());
}

/// `unknown` and `unit` are how the value looked for stands in the printed equation.
template <class Inverse, class Function>
[[nodiscard]] Recorded solve(std::string_view unknown, std::string_view unit, const Recorded& y, Inverse inverse,
                             Function function) {
    if (!y.in()) return inverse(y.value());
    Recording& in = *y.in();
    const double root = inverse(y.value());
    const Recorded x = Recorded::leaf(in, Op::Unknown, in.keep(unknown), in.keep(unit), root);
    const Recorded left = function(x);
    return {in, in.add({.op = Op::Solve, .operands = {left.indexIn(in), y.indexIn(in), x.indexIn(in)}, .value = root})};
}

template <class Function>
[[nodiscard]] Recorded call(std::string_view name, const Recorded& x, Function function) {
    if (!x.in()) return function(nominal(x));
    Recording& in = *x.in();
    const Recorded argument = Recorded::leaf(in, Op::Unknown, "x", "", x.value());
    const Recorded body = function(argument);
    return {in, in.add({.op = Op::Call,
                        .operands = {x.indexIn(in), body.indexIn(in), -1},
                        .value = body.value(),
                        .name = in.keep(name)})};
}

}  // namespace fg
