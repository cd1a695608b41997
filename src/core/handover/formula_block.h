#pragma once

#include "handover/real_operation.h"

#include <algorithm>
#include <array>
#include <optional>
#include <span>
#include <vector>

namespace fg {

/// What FormulaRunner does, over many values of one input at once: a proof over all codes of 24 bits is then a matter
/// of a second. Of straight formulas in real numbers: without sides of which only one is computed, without what is
/// solved for, looked up or called. Whole numbers that were read are taken in double, which tells them all apart.
template <class Real>
class FormulaBlock {
  public:
    /// `moving`: the node of the input that has many values, the others have theirs in `inputs`, by node; every input
    /// where it is negative. Nothing where the formula is not a straight one.
    [[nodiscard]] static std::optional<FormulaBlock> of(const FormulaCode& code, std::int32_t moving = -1,
                                                        std::span<const double> inputs = {}) {
        FormulaBlock block;
        return block.build(code, moving, inputs) ? std::optional(std::move(block)) : std::nullopt;
    }

    /// The results of values, NaN where the written code would return a status.
    void operator()(std::span<const double> codes, std::span<double> results) {
        for (std::size_t begin = 0; begin < codes.size(); begin += kLanes) {
            const std::size_t count = std::min(kLanes, codes.size() - begin);
            run(codes.subspan(begin, count), results.subspan(begin, count));
        }
    }

  private:
    static constexpr std::size_t kLanes = 256;
    using Lanes = std::array<Real, kLanes>;
    struct Operation {
        Op op;
        std::size_t to, x, y;  // of m_lanes; what has one operand has it twice
    };

    [[nodiscard]] static bool isStraight(Op op) {
        constexpr std::array kOthers{Op::Unknown, Op::Select,    Op::Table,     Op::Solve,
                                     Op::Call,    Op::ShiftLeft, Op::ShiftRight};
        return std::find(kOthers.begin(), kOthers.end(), op) == kOthers.end();
    }

    /// Nodes come before those that rest on them.
    [[nodiscard]] bool build(const FormulaCode& code, std::int32_t moving, std::span<const double> inputs) {
        constexpr bool isDouble = sizeof(Real) == sizeof(double);
        std::vector<bool> isReached(static_cast<std::size_t>(code.root()) + 1), isRefusable = isReached;
        isReached.back() = isRefusable.back() = true;
        for (std::int32_t index = code.root(); index >= 0; --index) {
            const auto i = static_cast<std::size_t>(index);
            if (!isReached[i]) continue;
            const Node& node = code.at(index);
            // What the second half of a condition refuses counts only where the first holds.
            const bool isRead = node.op == Op::Input && isDouble, isReal = node.bits == 0 || isRead;
            if (!isReal || !isStraight(node.op) || (node.op == Op::Refuse && !isRefusable[i])) return false;
            for (const std::int32_t operand : node.operands) {
                if (operand < 0) continue;
                isReached[static_cast<std::size_t>(operand)] = true;
                if (node.op != Op::And && isRefusable[i]) isRefusable[static_cast<std::size_t>(operand)] = true;
            }
        }
        std::vector<std::size_t> lanesOf(isReached.size());
        for (std::size_t i = 0; i < isReached.size(); ++i) {
            if (!isReached[i]) continue;
            const Node& node = code.at(static_cast<std::int32_t>(i));
            const bool isSet = node.op == Op::Input && moving >= 0 && i != static_cast<std::size_t>(moving);
            lanesOf[i] = isSet ? fixed(inputs[i]) : place(node, lanesOf);
        }
        m_result = lanesOf.back();
        return true;
    }

    [[nodiscard]] std::size_t fixed(double value) {
        m_lanes.emplace_back().fill(static_cast<Real>(value));
        m_isFixed.push_back(true);
        return m_lanes.size() - 1;
    }

    [[nodiscard]] std::size_t place(const Node& node, const std::vector<std::size_t>& lanesOf) {
        const auto of = [&](std::size_t k) {
            return lanesOf[static_cast<std::size_t>(std::max(node.operands[k], std::int32_t{0}))];
        };
        switch (node.op) {
            case Op::Input:
                m_inputs.push_back(m_lanes.size());
                m_lanes.emplace_back();
                m_isFixed.push_back(false);
                return m_lanes.size() - 1;
            case Op::Constant:
            case Op::Parameter:
                return fixed(node.value);
            case Op::Step:
            case Op::Aside:
            case Op::Convert:
                return of(0);
            case Op::Refuse:
                m_conditions.push_back(of(2));
                return of(0);
            default:
                const Operation one{node.op, m_lanes.size(), of(0), node.operands[1] < 0 ? of(0) : of(1)};
                m_lanes.emplace_back();
                m_isFixed.push_back(m_isFixed[one.x] && m_isFixed[one.y]);
                if (m_isFixed.back())
                    run(one, kLanes);
                else
                    m_operations.push_back(one);
                return one.to;
        }
    }

    [[nodiscard]] static Real operation(Op op, Real x, Real y) {
        switch (op) {
            case Op::Less:
                return Real(x < y);
            case Op::LessEqual:
                return Real(x <= y);
            case Op::Differs:
                return Real(x < y || y < x);
            case Op::And:
                return Real(x != 0 && y != 0);
            case Op::IsInfinite:
                return Real(std::isinf(x));
            default:
                return realOperation(op, x, y);
        }
    }

    void run(const Operation& one, std::size_t count) {
        const Lanes &x = m_lanes[one.x], &y = m_lanes[one.y];
        Lanes& to = m_lanes[one.to];
        for (std::size_t i = 0; i < count; ++i) to[i] = operation(one.op, x[i], y[i]);
    }

    void run(std::span<const double> codes, std::span<double> results) {
        for (const std::size_t input : m_inputs)
            std::transform(codes.begin(), codes.end(), m_lanes[input].begin(),
                           [](double code) { return static_cast<Real>(code); });
        for (const Operation& one : m_operations) run(one, codes.size());
        const Lanes& values = m_lanes[m_result];
        for (std::size_t i = 0; i < codes.size(); ++i) results[i] = static_cast<double>(values[i]);
        for (const std::size_t condition : m_conditions)
            for (std::size_t i = 0; i < codes.size(); ++i)
                if (m_lanes[condition][i] == 0) results[i] = std::numeric_limits<double>::quiet_NaN();
    }

    std::vector<Lanes> m_lanes;
    std::vector<bool> m_isFixed;  // as m_lanes: the same whatever the code is
    std::vector<Operation> m_operations;
    std::vector<std::size_t> m_inputs, m_conditions;
    std::size_t m_result = 0;
};

}  // namespace fg
