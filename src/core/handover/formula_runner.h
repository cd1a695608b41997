#pragma once

#include "handover/formula_code.h"

#include <cmath>

namespace fg {

/// Runs an expression in a number type as the written code does, operation by operation: float tells what single
/// precision costs. NaN where the code would return a status.
template <class Real>
class FormulaRunner {
  public:
    explicit FormulaRunner(const FormulaCode& code)
        : m_code(code), m_values(code.recording().size()), m_stamps(code.recording().size()) {}

    [[nodiscard]] double operator()(double input) {
        m_input = static_cast<Real>(input);
        m_outer = ++m_stamp;
        m_isRefused = false;
        const Real value = valueOf(m_code.root());
        return m_isRefused ? std::nan("") : static_cast<double>(value);
    }

  private:
    [[nodiscard]] Real valueOf(std::int32_t index) {
        if (index < 0) return Real(0);
        const auto i = static_cast<std::size_t>(index);
        const std::uint64_t now = m_code.isInside(index) ? m_inner : m_outer;
        if (m_stamps[i] == now) return m_values[i];
        const Real value = compute(index, m_code.at(index));
        m_stamps[i] = m_code.isInside(index) ? m_inner : m_outer;
        return m_values[i] = value;
    }

    [[nodiscard]] Real compute(std::int32_t index, const Node& node) {
        const std::int32_t a = node.operands[0], b = node.operands[1], c = node.operands[2];
        const auto x = [&] { return valueOf(a); };
        const auto y = [&] { return valueOf(b); };
        switch (node.op) {
            case Op::Constant:
            case Op::Parameter:
                return static_cast<Real>(node.value);
            case Op::Input:
                return m_input;
            case Op::Unknown:
                return m_unknown;
            case Op::Step:
            case Op::Aside:
            case Op::Convert:
                return x();
            case Op::Negate:
                return -x();
            case Op::Add:
                return x() + y();
            case Op::Subtract:
                return x() - y();
            case Op::Multiply:
                return x() * y();
            case Op::Divide:
                return x() / y();
            case Op::Power:
                return std::pow(x(), y());
            case Op::Exp:
                return std::exp(x());
            case Op::Log:
                return std::log(x());
            case Op::Sqrt:
                return std::sqrt(x());
            case Op::Sinh:
                return std::sinh(x());
            case Op::Asinh:
                return std::asinh(x());
            case Op::Floor:
                return std::floor(x());
            case Op::Round:
                return std::floor(x() + Real(0.5));
            case Op::Min:
                return std::fmin(x(), y());
            case Op::Max:
                return std::fmax(x(), y());
            case Op::Select:
                return valueOf(valueOf(c) != 0 ? a : b);
            case Op::Refuse:
                if (valueOf(c) != 0) return x();
                m_isRefused = true;
                return std::numeric_limits<Real>::quiet_NaN();
            case Op::Less:
                return Real(x() < y());
            case Op::LessEqual:
                return Real(x() <= y());
            case Op::And:
                return Real(x() != 0 && y() != 0);
            case Op::IsInfinite:
                return Real(std::isinf(x()));
            case Op::Table:
                return inTable(m_code.recording().tableAt(node.table), x());
            case Op::Solve:
                return solved(index, node);
            case Op::Call:
                return inside(b, x());
            case Op::ShiftLeft:
            case Op::ShiftRight:
                break;
        }
        return std::numeric_limits<Real>::quiet_NaN();
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
        m_unknown = unknown, m_inner = inner, m_isRefused = isRefused;
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

    [[nodiscard]] static Real inTable(const Recording::TablePoints& points, Real x) {
        if (!(x >= static_cast<Real>(points.front()[0]) && x <= static_cast<Real>(points.back()[0])))
            return std::numeric_limits<Real>::quiet_NaN();
        std::size_t i = 0;
        while (i + 2 < points.size() && x >= static_cast<Real>(points[i + 1][0])) ++i;
        const auto x0 = static_cast<Real>(points[i][0]), y0 = static_cast<Real>(points[i][1]),
                   x1 = static_cast<Real>(points[i + 1][0]), y1 = static_cast<Real>(points[i + 1][1]);
        return y0 + (x - x0) * ((y1 - y0) / (x1 - x0));
    }

    const FormulaCode& m_code;
    std::vector<Real> m_values;
    std::vector<std::uint64_t> m_stamps;
    std::uint64_t m_stamp = 0, m_outer = 0, m_inner = 0;
    Real m_input = 0, m_unknown = 0;
    bool m_isRefused = false;
};

}  // namespace fg
