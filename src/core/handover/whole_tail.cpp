#include "handover/whole_tail.h"

#include "handover/real_operation.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fg {

bool WholeTail::find(std::int32_t index) {
    const Node& node = m_formula->at(index);
    if (node.bits != 0 && node.op != Op::Constant) {
        if (m_node >= 0 && m_node != index) return false;
        m_node = index;
        return true;
    }
    switch (node.op) {
        case Op::Constant:
        case Op::Parameter:
            return true;
        case Op::Step:
        case Op::Aside:
        case Op::Convert:
        case Op::Negate:
        case Op::Refuse:
        case Op::Table:
            return find(node.operands[0]);
        case Op::Add:
        case Op::Subtract:
        case Op::Multiply:
        case Op::Divide:
        case Op::Min:
        case Op::Max:
            return find(node.operands[0]) && find(node.operands[1]);
        default:
            return false;
    }
}

std::optional<WholeTail> WholeTail::of(const FormulaCode& formula, std::int32_t index) {
    WholeTail tail(formula, index);
    const bool isTail = tail.find(index) && tail.m_node >= 0;
    return isTail ? std::optional(tail) : std::nullopt;
}

double WholeTail::valueOf(std::int32_t index, double whole) const {
    if (index < 0) return 0;
    if (index == m_node) return whole;
    const Node& node = m_formula->at(index);
    const auto x = [&] { return valueOf(node.operands[0], whole); };
    switch (node.op) {
        case Op::Constant:
        case Op::Parameter:
            return node.value;
        case Op::Step:
        case Op::Aside:
        case Op::Convert:
        case Op::Refuse:
            return x();
        case Op::Table:
            return betweenPoints(m_formula->recording().tableAt(node.table), x());
        default:
            return realOperation(node.op, x(), valueOf(node.operands[1], whole));
    }
}

std::int64_t WholeTail::least() const {
    constexpr int kExact = 53;
    return bits() < 0 ? 0 : -(std::int64_t{1} << std::min(bits() - 1, kExact));
}

std::int64_t WholeTail::most() const {
    constexpr int kExact = 53;
    const int size = bits() < 0 ? -bits() : bits() - 1;
    return (std::int64_t{1} << std::min(size, kExact)) - 1;
}

// Between the ends a sum of products with constants does not turn; a correction by a polynomial may, far outside of
// what anything reads: nine places tell as much as matters.
std::optional<bool> WholeTail::isRising() const {
    constexpr int kPlaces = 9;
    bool rises = true, falls = true;
    double before = (*this)(least());
    for (int i = 1; i < kPlaces; ++i) {
        const double share = static_cast<double>(i) / (kPlaces - 1);
        const auto at = static_cast<std::int64_t>(
            std::llround(static_cast<double>(least()) * (1 - share) + static_cast<double>(most()) * share));
        const double value = (*this)(at);
        rises = rises && value >= before;
        falls = falls && value <= before;
        before = value;
    }
    return rises == falls ? std::nullopt : std::optional(rises);
}

std::int64_t WholeTail::firstPast(double bound, bool isStrict) const {
    const bool rises = isRising().value_or(true);
    const auto isPast = [&](std::int64_t at) {
        const double value = (*this)(at);
        return rises ? (isStrict ? value > bound : value >= bound) : (isStrict ? value < bound : value <= bound);
    };
    std::int64_t low = least() - 1, high = most() + 1;  // not past, past
    while (high - low > 1) {
        const std::int64_t middle = low + (high - low) / 2;
        (isPast(middle) ? high : low) = middle;
    }
    return high;
}

std::optional<std::int64_t> WholeTail::divisor() const {
    const double one = (*this)(1);
    constexpr double kMost = 1e12;
    if (!(one > 0 && one <= 1)) return std::nullopt;
    const double by = std::round(1 / one);
    if (!(by <= kMost)) return std::nullopt;
    for (const std::int64_t at : {std::int64_t{0}, std::int64_t{1}, std::int64_t{12345}, most() / 3, least(), most()}) {
        const double wanted = static_cast<double>(at) / by;
        if (std::abs((*this)(at)-wanted) > 4e-16 * std::abs(wanted)) return std::nullopt;
    }
    return static_cast<std::int64_t>(by);
}

int widestWhole(const FormulaCode& formula, std::int32_t index) {
    std::vector<bool> isReached(static_cast<std::size_t>(index) + 1);
    isReached[static_cast<std::size_t>(index)] = true;
    int widest = 0;
    for (std::int32_t i = index; i >= 0; --i) {
        if (!isReached[static_cast<std::size_t>(i)]) continue;
        const Node& node = formula.at(i);
        if (node.op != Op::Constant && node.op != Op::Input) widest = std::max(widest, std::abs(node.bits));
        for (const std::int32_t operand : node.operands)
            if (operand >= 0) isReached[static_cast<std::size_t>(operand)] = true;
    }
    return widest;
}

}  // namespace fg
