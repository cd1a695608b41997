#pragma once

#include "handover/formula_block.h"

#include <cmath>

namespace fg {

/// Runs an expression in a number type as the written code does, operation by operation: float tells what single
/// precision costs. NaN where the code would return a status.
template <class Real>
class FormulaRunner {
  public:
    explicit FormulaRunner(const FormulaCode& code)
        : m_code(code),
          m_values(code.recording().size()),
          m_wholes(code.recording().size()),
          m_stamps(code.recording().size()),
          m_wholeStamps(code.recording().size()) {}

    /// Every input is this value: the raw code.
    [[nodiscard]] double operator()(double input) {
        m_input = static_cast<Real>(input);
        m_inputs = {};
        return run();
    }
    /// Inputs by node, as many as the recording has nodes.
    [[nodiscard]] double operator()(std::span<const double> inputs) {
        m_inputs = inputs;
        return run();
    }
    /// What a real number of the formula was in the last run; NaN where it was not asked for.
    [[nodiscard]] double valueAt(std::int32_t index) const {
        const auto i = static_cast<std::size_t>(index);
        return m_stamps[i] == m_outer ? static_cast<double>(m_values[i]) : std::nan("");
    }
    /// Did an integer of the last run not fit its width? Then the written code would not be defined.
    [[nodiscard]] bool hasWrapped() const { return m_hasWrapped; }

  private:
    [[nodiscard]] double run() {
        m_hasWrapped = false;
        m_outer = ++m_stamp;
        m_isRefused = false;
        const Real value = valueOf(m_code.root());
        return m_isRefused ? std::nan("") : static_cast<double>(value);
    }

    [[nodiscard]] Real valueOf(std::int32_t index) {
        if (index < 0) return Real(0);
        const auto i = static_cast<std::size_t>(index);
        const std::uint64_t now = m_code.isInside(index) ? m_inner : m_outer;
        if (m_stamps[i] == now) return m_values[i];
        const Real value = compute(index, m_code.at(index));
        m_stamps[i] = m_code.isInside(index) ? m_inner : m_outer;
        return m_values[i] = value;
    }

    /// An integer, in 64 bits.
    [[nodiscard]] std::int64_t wholeOf(std::int32_t index) {
        const auto i = static_cast<std::size_t>(index);
        const std::uint64_t now = m_code.isInside(index) ? m_inner : m_outer;
        if (m_wholeStamps[i] == now) return m_wholes[i];
        const std::int64_t whole = computeWhole(index, m_code.at(index));
        m_wholeStamps[i] = m_code.isInside(index) ? m_inner : m_outer;
        return m_wholes[i] = whole;
    }
    /// What does not fit its own width wraps and is told.
    [[nodiscard]] std::int64_t computeWhole(std::int32_t index, const Node& node) {
        const std::int32_t a = node.operands[0], b = node.operands[1];
        if (node.bits == 0) return static_cast<std::int64_t>(valueOf(index));
        std::int64_t value = 0;
        switch (node.op) {
            case Op::Constant:
                return node.whole;
            case Op::Input:
                return static_cast<std::int64_t>(m_inputs.empty() ? static_cast<double>(m_input)
                                                                  : m_inputs[static_cast<std::size_t>(index)]);
            case Op::Select:
                return wholeOf(valueOf(node.operands[2]) != 0 ? a : b);
            case Op::Refuse:
                if (valueOf(node.operands[2]) == 0) m_isRefused = true;
                return wholeOf(a);
            case Op::Step:
            case Op::Aside:
                return wholeOf(a);
            default:
                break;
        }
        // The left side first, as the written code does: what is refused there ends it.
        const std::int64_t left = wholeOf(a), right = b < 0 ? 0 : wholeOf(b);
        bool wraps = false;
        switch (node.op) {
            case Op::Add:
                wraps = __builtin_add_overflow(left, right, &value);
                break;
            case Op::Subtract:
                wraps = __builtin_sub_overflow(left, right, &value);
                break;
            case Op::Multiply:
                wraps = __builtin_mul_overflow(left, right, &value);
                break;
            case Op::Divide:
                if (right == 0) m_isRefused = true;
                value = right == 0 ? 0 : left / right;
                break;
            case Op::ShiftLeft:
                wraps = __builtin_mul_overflow(left, std::int64_t{1} << (right & 63), &value);
                break;
            case Op::ShiftRight:
                value = left >> (right & 63);
                break;
            default:
                value = left;
                break;
        }
        if (wraps && !m_isRefused) m_hasWrapped = true;
        return narrowed(value, node.bits, node.op == Op::Convert);
    }
    /// Unsigned numbers wrap by the language's rule, and a conversion does what all compilers do.
    [[nodiscard]] std::int64_t narrowed(std::int64_t value, int bits, bool isConversion) {
        if (bits == 64) return value;
        const int width = std::abs(bits);
        const std::int64_t one = 1, low = bits < 0 ? 0 : -(one << (width - 1)),
                           high = bits < 0 ? (one << width) - 1 : (one << (width - 1)) - 1;
        if (value >= low && value <= high) return value;
        if (bits > 0 && !isConversion && !m_isRefused) m_hasWrapped = true;
        return bits < 0 ? value & high : static_cast<std::int64_t>(static_cast<std::int32_t>(value));
    }

    [[nodiscard]] Real compute(std::int32_t index, const Node& node) {
        if (node.bits != 0) return static_cast<Real>(wholeOf(index));
        const std::int32_t a = node.operands[0], b = node.operands[1], c = node.operands[2];
        const auto x = [&] { return valueOf(a); };
        const auto y = [&] { return valueOf(b); };
        switch (node.op) {
            case Op::Constant:
            case Op::Parameter:
                return static_cast<Real>(node.value);
            case Op::Input:
                return m_inputs.empty() ? m_input : static_cast<Real>(m_inputs[static_cast<std::size_t>(index)]);
            case Op::Unknown:
                return m_unknown;
            case Op::Step:
            case Op::Aside:
            case Op::Convert:
                return x();
            case Op::Select:
                return valueOf(valueOf(c) != 0 ? a : b);
            case Op::Refuse:
                if (valueOf(c) != 0) return x();
                m_isRefused = true;
                return std::numeric_limits<Real>::quiet_NaN();
            case Op::Less:
            case Op::LessEqual:
            case Op::Differs:
                // Whole numbers are compared as what they are, also with a number of the formula.
                if (m_code.at(a).bits != 0 && m_code.at(b).bits != 0)
                    return Real(compared(node.op, wholeOf(a), wholeOf(b)));
                if (isExact(a) && isExact(b)) return Real(compared(node.op, exactOf(a), exactOf(b)));
                return Real(compared(node.op, x(), y()));
            case Op::And:
                return Real(x() != 0 && y() != 0);
            case Op::IsInfinite:
                return Real(std::isinf(x()));
            case Op::Table:
                return betweenPoints(m_code.recording().tableAt(node.table), x());
            case Op::Solve:
                return solved(index, node);
            case Op::Call:
                return inside(b, x());
            default:
                return realOperation(node.op, x(), y());
        }
    }

    [[nodiscard]] bool isExact(std::int32_t index) const {
        return m_code.at(index).bits != 0 || m_code.at(index).op == Op::Constant;
    }
    [[nodiscard]] double exactOf(std::int32_t index) {
        return m_code.at(index).bits != 0 ? static_cast<double>(wholeOf(index)) : m_code.at(index).value;
    }
    template <class Number>
    [[nodiscard]] static bool compared(Op op, Number left, Number right) {
        if (op == Op::Differs) return left < right || right < left;
        return op == Op::Less ? left < right : left <= right;
    }

    /// A body with its own argument.
    [[nodiscard]] Real inside(std::int32_t body, Real argument) {
        const Real unknown = m_unknown;
        const std::uint64_t inner = m_inner;
        const bool isRefused = m_isRefused;
        m_unknown = argument;
        m_inner = ++m_stamp;
        m_isRefused = false;
        Real value = valueOf(body);
        // A refusal in there is a value that is none, not the end of the conversion.
        if (m_isRefused) value = std::numeric_limits<Real>::quiet_NaN();
        m_unknown = unknown;
        m_inner = inner;
        m_isRefused = isRefused;
        return value;
    }

    [[nodiscard]] Real solved(std::int32_t index, const Node& node) {
        const SolveBracket& bracket = m_code.bracketOf(index);
        const Real wanted = valueOf(node.operands[1]);
        const auto isBelow = [&](Real x) { return (inside(node.operands[0], x) < wanted) == bracket.isRising; };
        Real low = static_cast<Real>(bracket.low), high = static_cast<Real>(bracket.high);
        if (!isBelow(low) || isBelow(high)) return std::numeric_limits<Real>::quiet_NaN();
        for (int i = 0; i < kHalvings<Real>; ++i) {
            const Real middle = (low + high) / 2;
            (isBelow(middle) ? low : high) = middle;
        }
        return (low + high) / 2;
    }

    const FormulaCode& m_code;
    std::vector<Real> m_values;
    std::vector<std::int64_t> m_wholes;
    std::vector<std::uint64_t> m_stamps, m_wholeStamps;
    std::uint64_t m_stamp = 0, m_outer = 0, m_inner = 0;
    Real m_input = 0, m_unknown = 0;
    std::span<const double> m_inputs;
    bool m_isRefused = false, m_hasWrapped = false;
};

/// A formula over many values of one input: many at once where it is a straight one, one after the other otherwise.
template <class Real>
class FormulaOver {
  public:
    /// `moving` and `inputs` as FormulaBlock takes them.
    explicit FormulaOver(const FormulaCode& code, std::int32_t moving = -1, std::vector<double> inputs = {})
        : m_moving(moving),
          m_inputs(std::move(inputs)),
          m_runner(code),
          m_block(FormulaBlock<Real>::of(code, moving, m_inputs)) {}

    void operator()(std::span<const double> values, std::span<double> results) {
        if (m_block) return (*m_block)(values, results);
        std::transform(values.begin(), values.end(), results.begin(), [this](double value) {
            if (m_moving < 0) return m_runner(value);
            m_inputs[static_cast<std::size_t>(m_moving)] = value;
            return m_runner(m_inputs);
        });
    }

  private:
    std::int32_t m_moving;
    std::vector<double> m_inputs;
    FormulaRunner<Real> m_runner;
    std::optional<FormulaBlock<Real>> m_block;
};

}  // namespace fg
