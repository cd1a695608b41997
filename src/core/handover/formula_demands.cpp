#include "handover/formula_demands.h"

#include <algorithm>
#include <utility>

namespace fg {

FormulaDemands::FormulaDemands(const FormulaCode& formula)
    : m_formula(formula), m_isOnWay(formula.recording().size()), m_isCovered(formula.recording().size()) {
    reach(formula.root());
    for (const std::int32_t condition : m_conditions) take(condition);
}

const Demand* FormulaDemands::on(std::int32_t node) const {
    const auto found = m_demands.find(node);
    return found == m_demands.end() ? nullptr : &found->second;
}

/// What is computed whatever comes: not the sides of a branch.
void FormulaDemands::reach(std::int32_t index) {
    if (index < 0 || m_isOnWay[static_cast<std::size_t>(index)]) return;
    m_isOnWay[static_cast<std::size_t>(index)] = true;
    const Node& node = m_formula.at(index);
    if (node.op == Op::Select) return;
    reach(node.operands[0]);
    if (node.op == Op::Refuse)
        m_conditions.push_back(node.operands[2]);
    else
        reach(node.operands[1]);
}

void FormulaDemands::take(std::int32_t condition) {
    const Node& node = m_formula.at(condition);
    const auto [a, b, c] = node.operands;
    if (node.op == Op::And) {
        take(a);
        take(b);
        return;
    }
    if (node.op != Op::Less && node.op != Op::LessEqual) return;
    const auto isNumber = [&](std::int32_t side) { return m_formula.at(side).op == Op::Constant; };
    const bool isOpen = node.op == Op::Less;
    if (isNumber(a) && !isNumber(b)) demand(condition, b, {.low = m_formula.at(a).value, .isLowOpen = isOpen});
    if (isNumber(b) && !isNumber(a)) demand(condition, a, {.high = m_formula.at(b).value, .isHighOpen = isOpen});
}

void FormulaDemands::demand(std::int32_t comparison, std::int32_t index, Demand one) {
    const Node& node = m_formula.at(index);
    const auto numberAt = [&](std::size_t k) -> const double* {
        const Node& side = m_formula.at(node.operands[k]);
        return side.op == Op::Constant || side.op == Op::Parameter ? &side.value : nullptr;
    };
    const auto onOperand = [&](std::size_t k, auto inverse, bool isTurned) {
        Demand of{inverse(one.low), inverse(one.high), one.isLowOpen, one.isHighOpen};
        if (isTurned) {
            std::swap(of.low, of.high);
            std::swap(of.isLowOpen, of.isHighOpen);
        }
        demand(comparison, node.operands[k], of);
    };
    switch (node.op) {
        case Op::Step:
        case Op::Aside:
            return demand(comparison, node.operands[0], one);
        case Op::Add:
        case Op::Multiply:
            for (const std::size_t k : {0U, 1U}) {
                const double* number = numberAt(k);
                if (!number) continue;
                if (node.op == Op::Add)
                    return onOperand(
                        1 - k, [&](double y) { return y - *number; }, false);
                if (*number != 0)
                    return onOperand(
                        1 - k, [&](double y) { return y / *number; }, *number < 0);
            }
            break;
        case Op::Subtract:
            if (const double* number = numberAt(1))
                return onOperand(
                    0, [&](double y) { return y + *number; }, false);
            break;
        case Op::Divide:
            if (const double* number = numberAt(1); number && *number != 0)
                return onOperand(
                    0, [&](double y) { return y * *number; }, *number < 0);
            break;
        default:
            break;
    }
    if (!m_isOnWay[static_cast<std::size_t>(index)]) return;
    m_isCovered[static_cast<std::size_t>(comparison)] = true;
    Demand& known = m_demands[index];
    if (one.low > known.low) {
        known.low = one.low;
        known.isLowOpen = one.isLowOpen;
    }
    if (one.high < known.high) {
        known.high = one.high;
        known.isHighOpen = one.isHighOpen;
    }
}

}  // namespace fg
