#pragma once

#include "formula/bounds.h"
#include "formula/dual.h"
#include "formula/expression.h"

#include <span>
#include <type_traits>
#include <vector>

namespace fg {

/// Runs a recorded expression again in another number type: Dual for the slope to an input, Bounds for everything the
/// result can be while inputs lie within theirs. Of expressions without Solve and Call: a decoder's.
///
/// Integer operations keep their meaning as far as the number type can say it. Of a Dual the value is cut as the
/// routine cuts it, and the slope is that of the routine without its rounding (of a shift by n: of 2^n). Bounds are cut
/// outwards; a result that may not fit its width can be anything of that width, and is told (mayWrap()). What is
/// refused for some of the values counts for the others.
template <class Number>
class ExpressionEvaluator {
  public:
    static constexpr bool kIsBounds = std::is_same_v<Number, Bounds>;

    explicit ExpressionEvaluator(const Recording& recording) : m_in(recording) {}

    /// `inputs` by node, as many as the recording has; only those of Input nodes are looked at. NaN where the
    /// expression has no value.
    [[nodiscard]] Number operator()(std::int32_t root, std::span<const Number> inputs) {
        m_inputs = inputs;
        m_values.assign(m_in.size(), Number());
        m_isKnown.assign(m_in.size(), false);
        m_mayWrap = false;
        return valueOf(root);
    }
    /// Could a signed integer of the last run not fit its width?
    [[nodiscard]] bool mayWrap() const { return m_mayWrap; }

  private:
    [[nodiscard]] const Number& valueOf(std::int32_t index) {
        const auto i = static_cast<std::size_t>(index);
        if (!m_isKnown[i]) {
            const Node& node = m_in.at(index);
            const Number value = node.bits == 0 ? realOf(index, node) : wholeOf(index, node);
            m_values[i] = value;
            m_isKnown[i] = true;
        }
        return m_values[i];
    }
    [[nodiscard]] Number x(const Node& node) { return valueOf(node.operands[0]); }
    [[nodiscard]] Number y(const Node& node) { return valueOf(node.operands[1]); }

    // Conditions.

    [[nodiscard]] static Holds asHolds(bool holds) { return holds ? Holds::Yes : Holds::No; }
    [[nodiscard]] static Holds asHolds(Holds holds) { return holds; }
    [[nodiscard]] static Holds differing(const Bounds& a, const Bounds& b) {
        if (a.high < b.low || b.high < a.low) return Holds::Yes;
        return a.low == a.high && b.low == b.high ? Holds::No : Holds::Sometimes;
    }
    [[nodiscard]] static Holds differing(const Dual& a, const Dual& b) { return asHolds(a < b || b < a); }
    [[nodiscard]] Holds holds(std::int32_t index) {
        const Node& node = m_in.at(index);
        switch (node.op) {
            case Op::Less:
                return asHolds(x(node) < y(node));
            case Op::LessEqual:
                return asHolds(x(node) <= y(node));
            case Op::Differs:
                return differing(x(node), y(node));
            case Op::IsInfinite:
                return asHolds(isInfinite(x(node)));
            case Op::And: {
                const Holds first = holds(node.operands[0]);
                return first == Holds::No ? first : first && holds(node.operands[1]);
            }
            default:
                return Holds::Yes;
        }
    }
    [[nodiscard]] Number selected(const Node& node) {
        const Holds which = holds(node.operands[2]);
        if constexpr (kIsBounds)
            if (which == Holds::Sometimes) return Bounds::hull(x(node), y(node));
        return which == Holds::No ? y(node) : x(node);
    }

    [[nodiscard]] static Number none() {
        if constexpr (kIsBounds) return Bounds::none();
        return Number(std::numeric_limits<double>::quiet_NaN());
    }

    // Real numbers.

    [[nodiscard]] Number realOf(std::int32_t index, const Node& node) {
        switch (node.op) {
            case Op::Constant:
            case Op::Parameter:
                return node.value;
            case Op::Input:
                return m_inputs[static_cast<std::size_t>(index)];
            case Op::Step:
            case Op::Aside:
            case Op::Convert:
                return x(node);
            case Op::Negate:
                return -x(node);
            case Op::Add:
                return x(node) + y(node);
            case Op::Subtract:
                return x(node) - y(node);
            case Op::Multiply:
                return x(node) * y(node);
            case Op::Divide:
                return x(node) / y(node);
            case Op::Power:
                return pow(x(node), y(node));
            case Op::Exp:
                return exp(x(node));
            case Op::Log:
                return log(x(node));
            case Op::Sqrt:
                return sqrt(x(node));
            case Op::Sinh:
                return sinh(x(node));
            case Op::Asinh:
                return asinh(x(node));
            case Op::Floor:
                return floor(x(node));
            case Op::Round:
                return round(x(node));
            case Op::Min:
                return least(x(node), y(node));
            case Op::Max:
                return most(x(node), y(node));
            case Op::Select:
                return selected(node);
            case Op::Refuse:
                return holds(node.operands[2]) == Holds::No ? none() : x(node);
            default:
                return none();  // Solve, Call, Table and conditions are no part of a decoder's numbers
        }
    }

    // Integers.

    /// Towards 0. The quotient of two whole numbers below 2^53 is told from the next whole one by a long double.
    [[nodiscard]] static Bounds quotient(const Bounds& a, const Bounds& b) {
        constexpr double infinite = std::numeric_limits<double>::infinity();
        if (std::isnan(a.low) || std::isnan(b.low)) return Bounds::none();
        if (b.contains(0)) return {-infinite, infinite};
        const auto cut = [](double x, double by) {
            return static_cast<double>(std::trunc(static_cast<long double>(x) / static_cast<long double>(by)));
        };
        const auto ends = std::minmax({cut(a.low, b.low), cut(a.low, b.high), cut(a.high, b.low), cut(a.high, b.high)});
        return {ends.first, ends.second};
    }
    [[nodiscard]] static Dual quotient(const Dual& a, const Dual& b) {
        const Dual exact = a / b;
        return {std::trunc(exact.value), exact.slope};
    }
    /// Over a power of two, downwards: a power of two moves no digit.
    [[nodiscard]] static Bounds shifted(const Bounds& a, const Bounds& power) {
        const auto ends = std::minmax({std::floor(a.low / power.low), std::floor(a.low / power.high),
                                       std::floor(a.high / power.low), std::floor(a.high / power.high)});
        return std::isnan(a.low) ? Bounds::none() : Bounds{ends.first, ends.second};
    }
    [[nodiscard]] static Dual shifted(const Dual& a, const Dual& power) {
        const Dual exact = a / power;
        return {std::floor(exact.value), exact.slope};
    }
    [[nodiscard]] static Bounds powerOfTwo(const Bounds& count) {
        return {std::exp2(count.low), std::exp2(count.high)};
    }
    [[nodiscard]] static Dual powerOfTwo(const Dual& count) { return pow(Dual(2), count); }

    [[nodiscard]] Number wholeOf(std::int32_t index, const Node& node) {
        switch (node.op) {
            case Op::Constant:
                return static_cast<double>(node.whole);
            case Op::Input:
                return m_inputs[static_cast<std::size_t>(index)];
            case Op::Add:
                return fitted(x(node) + y(node), node);
            case Op::Subtract:
                return fitted(x(node) - y(node), node);
            case Op::Multiply:
                return fitted(x(node) * y(node), node);
            case Op::Divide:
                return fitted(quotient(x(node), y(node)), node);
            case Op::ShiftLeft:
                return fitted(x(node) * powerOfTwo(y(node)), node);
            case Op::ShiftRight:
                return fitted(shifted(x(node), powerOfTwo(y(node))), node);
            case Op::Select:
                return fitted(selected(node), node);
            case Op::Convert:
                return fitted(x(node), node);
            default:
                return x(node);
        }
    }
    /// Within the width of an integer. A sum was widened by a place on the way: the whole numbers inside are its own.
    [[nodiscard]] Number fitted(const Number& value, const Node& node) {
        const int width = std::abs(node.bits);
        const double low = node.bits < 0 ? 0 : -std::exp2(width - 1),
                     high = std::exp2(node.bits < 0 ? width : width - 1) - 1;
        if constexpr (kIsBounds) {
            if (std::isnan(value.low)) return value;
            const Bounds inside{std::ceil(value.low), std::floor(value.high)};
            if (inside.low >= low && inside.high <= high) return inside;
            m_mayWrap = m_mayWrap || (node.bits > 0 && node.op != Op::Convert);
            return {low, high};
        } else {
            if (value.value >= low && value.value <= high) return value;
            const double all = std::exp2(width);
            return {value.value - all * std::floor((value.value - low) / all), value.slope};
        }
    }

    const Recording& m_in;
    std::span<const Number> m_inputs;
    std::vector<Number> m_values;
    std::vector<bool> m_isKnown;
    bool m_mayWrap = false;
};

}  // namespace fg
