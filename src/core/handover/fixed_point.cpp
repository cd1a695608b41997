#include "handover/fixed_point.h"

#include "handover/fixed_arithmetic.h"
#include "handover/formula_demands.h"
#include "handover/real_operation.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Goes through a formula in real numbers and does the same in fixed point.
class FixedPointMaker {
  public:
    FixedPointMaker(const FormulaCode& formula, std::span<const Interval> seen, int width)
        : m_formula(formula),
          m_seen(seen),
          m_width(width),
          m_demands(formula),
          m_in(std::make_shared<Recording>()),
          m_by(*m_in, width),
          m_values(formula.recording().size()) {}

    Expected<FixedPoint> run(std::span<const FixedInput> inputs, std::int64_t scale) {
        FixedPoint made;
        for (const FixedInput& one : inputs) {
            const std::string_view name = m_formula.at(one.node).name;
            const Fixed steps = m_by.input(name, one.least, one.most);
            if (!m_by.fits(steps.whole)) refuse(fmt::format("its number “{}” does not fit", name));
            made.inputs.push_back({one.node, steps.node, one.step});
            keep(one.node, m_by.multiplied(steps, {-1, 0, {}, one.step}));
        }
        const Fixed reading = valueOf(m_formula.root());
        const Fixed result =
            m_by.formed(m_by.rounded(m_by.multiplied(reading, {-1, 0, {}, static_cast<double>(scale)})));
        if (!m_by.fits(result.whole)) refuse("its result does not fit");
        if (!m_refused.empty())
            return fail(ErrorCode::Unsupported, "arithmetic", fmt::format("int{}", m_width),
                        widerThan(m_width) + "float or double: " + m_refused);
        const Recorded over = Recorded(*m_in, result.node) / Recorded(static_cast<double>(scale));
        made.formula = std::make_shared<FormulaCode>(FormulaCode::ofExpression(m_in, over.indexIn(*m_in)));
        return made;
    }

  private:
    /// Integers that may hold it, as the beginning of a list.
    [[nodiscard]] static std::string widerThan(int width) {
        return width < 32 ? "int32, int64, " : width < 64 ? "int64, " : "";
    }
    static constexpr double kBeyondSeen = 4;

    void refuse(const std::string& why) {
        if (m_refused.empty()) m_refused = why;
    }
    Fixed refused(const std::string& why) {
        refuse(why);
        return {-1, 0, {}, 1.0};
    }

    /// A value as it goes on from here: within what is demanded of it.
    Fixed keep(std::int32_t index, Fixed value) {
        if (const Demand* demand = m_demands.on(index))
            value = m_by.kept(value, demand->low, demand->isLowOpen, demand->high, demand->isHighOpen, "");
        return *(m_values[static_cast<std::size_t>(index)] = value);
    }

    Fixed valueOf(std::int32_t index) {
        if (const auto& known = m_values[static_cast<std::size_t>(index)]) return *known;
        return keep(index, compute(index, m_formula.at(index)));
    }

    Fixed compute(std::int32_t index, const Node& node) {
        const auto x = [&] { return valueOf(node.operands[0]); };
        const auto y = [&] { return valueOf(node.operands[1]); };
        if (node.bits != 0 && node.op != Op::Step && node.op != Op::Refuse) return wholeOf(node);
        switch (node.op) {
            case Op::Constant:
            case Op::Parameter:
                if (!std::isfinite(node.value)) return refused("its formula has a side without a value");
                return {-1, 0, {}, node.value};
            case Op::Step:
            case Op::Aside: {
                const Fixed value = x();
                std::string unit(node.unit == "1" ? "" : node.unit);
                if (value.fraction != 0) unit = fmt::format("2^{}{}{}", -value.fraction, unit.empty() ? "" : " ", unit);
                return m_by.named(value, node.name, unit, node.source);
            }
            case Op::Negate:
                return m_by.negated(x());
            case Op::Add:
            case Op::Subtract:
            case Op::Multiply: {
                const Fixed a = x(), b = y();
                return node.op == Op::Add        ? m_by.added(a, b)
                       : node.op == Op::Subtract ? m_by.subtracted(a, b)
                                                 : m_by.multiplied(a, b);
            }
            case Op::Divide:
                return quotientOf(index, x(), y());
            case Op::Floor:
                return m_by.floored(x());
            case Op::Round: {
                const Fixed value = x();
                return value.fraction <= 0 && !value.constant ? value : m_by.rounded(value);
            }
            case Op::Min:
            case Op::Max: {
                const Fixed a = x(), b = y();
                return node.op == Op::Min ? m_by.lesser(a, b) : m_by.greater(a, b);
            }
            case Op::Power:
                return powerOf(x(), m_formula.at(node.operands[1]));
            case Op::Select: {
                const auto condition = conditionOf(node.operands[2]);
                const Fixed a = sideOf(node.operands[0], node.operands[2], true);
                if (!condition) return a;
                return m_by.selected(*condition, a, sideOf(node.operands[1], node.operands[2], false));
            }
            case Op::Refuse: {
                const auto condition = conditionOf(node.operands[2]);
                const Fixed value = x();
                return condition ? m_by.refusedUnless(*condition, value, node.name) : value;
            }
            case Op::Table:
                return between(m_formula.recording().tableAt(node.table), x());
            case Op::Exp:
                return m_by.exponential(x());
            case Op::Log:
                return logarithmOf(x());
            case Op::Sqrt:
                return m_by.root(m_by.kept(x(), 0, false, HUGE_VAL, false, ""));
            default:
                return refused("its formula is more than sums, products and quotients");
        }
    }

    /// An integer of the formula's own: exactly that, where it never leaves its own width.
    Fixed wholeOf(const Node& node) {
        if (node.op == Op::Constant) return m_by.formed({-1, 0, {}, static_cast<double>(node.whole)});
        const auto condition = node.op == Op::Select ? conditionOf(node.operands[2]) : std::nullopt;
        const Fixed a = m_by.formed(valueOf(node.operands[0]));
        const Fixed b = node.operands[1] < 0 ? Fixed() : m_by.formed(valueOf(node.operands[1]));
        Fixed result = a;
        switch (node.op) {
            case Op::Add:
                result = m_by.added(a, b);
                break;
            case Op::Subtract:
                result = m_by.subtracted(a, b);
                break;
            case Op::Multiply:
                result = m_by.multiplied(a, b);
                break;
            case Op::ShiftLeft:
            case Op::ShiftRight:
                result = m_by.shifted(node.op, a, b);
                break;
            case Op::Select:
                if (condition) result = m_by.selected(*condition, a, b);
                break;
            case Op::Convert:
                break;
            default:
                return refused("its formula counts in integers of its own");
        }
        const int width = std::abs(node.bits);
        const double least = node.bits < 0 ? 0 : -std::exp2(width - 1),
                     most = std::exp2(node.bits < 0 ? width : width - 1) - 1;
        const bool isExact =
            result.fraction == 0 && m_by.fits(result.whole) && result.whole.low >= least && result.whole.high <= most;
        return isExact ? result : refused("an integer of its formula may not fit");
    }

    /// What a divisor near 0 could give is far more than what a quotient is: beyond what was seen it is refused.
    Fixed quotientOf(std::int32_t index, const Fixed& x, const Fixed& y) {
        const auto quotient = m_by.divided(x, y);
        if (!quotient) return refused("its formula divides by 0");
        const bool isBounded = y.constant || !y.whole.contains(0);
        const Interval& seen = m_seen[static_cast<std::size_t>(index)];
        const double most = kBeyondSeen * std::max(std::abs(seen.low), std::abs(seen.high));
        if (isBounded || !std::isfinite(most)) return *quotient;
        return m_by.kept(*quotient, -most, false, most, false, kBeyondFixedPoint);
    }

    /// A straight line for each piece; what lies outside of all is refused.
    Fixed between(const Recording::TablePoints& points, Fixed x) {
        if (x.constant) return {-1, 0, {}, betweenPoints(points, *x.constant)};
        const double low = points.front()[0], high = points.back()[0];
        // An argument that is held within the points may be off by a digit of its own.
        const double slack = 1e-3 * (high - low) / static_cast<double>(points.size());
        if (std::ldexp(x.whole.low, -x.fraction) < low - slack || std::ldexp(x.whole.high, -x.fraction) > high + slack)
            x = m_by.kept(x, low, false, high, false, "");
        Fixed value;
        double least = HUGE_VAL, most = -HUGE_VAL, steepest = 0;
        for (std::size_t i = points.size() - 1; i-- > 0;) {
            const auto [x0, y0] = points[i];
            const auto [x1, y1] = points[i + 1];
            const auto number = [](double constant) { return Fixed{-1, 0, {}, constant}; };
            const Fixed part = m_by.multiplied(m_by.subtracted(x, number(x0)), number((y1 - y0) / (x1 - x0)));
            const Fixed piece = m_by.formed(m_by.added(part, number(y0)));
            steepest = std::max(steepest, std::abs((y1 - y0) / (x1 - x0)));
            least = std::min({least, y0, y1});
            most = std::max({most, y0, y1});
            if (i + 2 == points.size()) {
                value = piece;
                continue;
            }
            const auto isBefore = m_by.compared(Op::Less, x, number(x1));
            value = isBefore ? m_by.selected(*isBefore, piece, value) : piece;
        }
        // Room for what is lost by rounding.
        const double room =
            steepest * slack + std::ldexp(most - least + std::max(std::abs(least), std::abs(most)), 3 - m_width / 2);
        return m_by.known(value, least - room, most + room);
    }

    /// A side of a branch, where more is known of what its condition compares with a number.
    Fixed sideOf(std::int32_t side, std::int32_t condition, bool holds) {
        const auto outside = m_values;
        narrow(condition, holds);
        const Fixed value = valueOf(side);
        // What was made on one side is made again on the other, and behind them.
        m_values = outside;
        return value;
    }

    void narrow(std::int32_t condition, bool holds) {
        const Node& node = m_formula.at(condition);
        const auto [a, b, c] = node.operands;
        if (node.op == Op::And && holds) {
            narrow(a, holds);
            narrow(b, holds);
        }
        if (node.op != Op::Less && node.op != Op::LessEqual) return;
        const Node &left = m_formula.at(a), &right = m_formula.at(b);
        const bool isBelow = right.op == Op::Constant;  // x < c; otherwise c < x
        if (isBelow == (left.op == Op::Constant)) return;
        const std::int32_t compared = isBelow ? a : b;
        Fixed value = valueOf(compared);
        if (value.constant) return;
        // An end of the comparison was rounded: a step to either side belongs to both.
        const double number = isBelow ? right.value : left.value, step = std::ldexp(1.0, 1 - value.fraction);
        value =
            isBelow == holds ? m_by.known(value, -HUGE_VAL, number + step) : m_by.known(value, number - step, HUGE_VAL);
        if (value.whole.low > value.whole.high) return;
        // What rests on it is made anew.
        std::vector<bool> rests(m_values.size());
        rests[static_cast<std::size_t>(compared)] = true;
        for (std::size_t i = static_cast<std::size_t>(compared) + 1; i < m_values.size(); ++i) {
            for (const std::int32_t operand : m_formula.at(static_cast<std::int32_t>(i)).operands)
                rests[i] = rests[i] || (operand >= 0 && rests[static_cast<std::size_t>(operand)]);
            if (rests[i]) m_values[i].reset();
        }
        m_values[static_cast<std::size_t>(compared)] = value;
    }

    Fixed logarithmOf(const Fixed& x) {
        if (x.constant && !(*x.constant > 0)) return refused("its formula has a logarithm of what is not above 0");
        return m_by.logarithm(m_by.kept(x, 0, true, HUGE_VAL, false, ""));
    }

    Fixed anyPowerOf(const Fixed& base, double power) {
        const auto number = [](double constant) { return Fixed{-1, 0, {}, constant}; };
        if (base.constant) return number(std::pow(*base.constant, power));
        if (base.whole.low > 0 || power < 0) return m_by.exponential(m_by.multiplied(logarithmOf(base), number(power)));
        // 0 has no logarithm, and is 0 in any power.
        const Fixed held = m_by.kept(base, 0, false, HUGE_VAL, false, "");
        const double step = std::ldexp(1.0, -held.fraction);
        const Fixed above = m_by.known(m_by.greater(held, number(step)), step, HUGE_VAL);
        const Fixed result = m_by.exponential(m_by.multiplied(m_by.logarithm(above), number(power)));
        return m_by.selected(*m_by.compared(Op::Less, number(0), held), result, number(0));
    }

    Fixed powerOf(const Fixed& base, const Node& exponent) {
        constexpr double kMostFactors = 8;
        const double power = exponent.value;
        if (exponent.op != Op::Constant && exponent.op != Op::Parameter)
            return refused("its formula has a power that is no number of its own");
        if (!(power >= 1 && power <= kMostFactors && std::floor(power) == power)) return anyPowerOf(base, power);
        Fixed product = base;
        for (int i = 1; i < static_cast<int>(power); ++i) product = m_by.multiplied(product, base);
        return product;
    }

    /// Nothing where it always holds, or is demanded already.
    std::optional<std::int32_t> conditionOf(std::int32_t index) {
        const Node& node = m_formula.at(index);
        const auto [a, b, c] = node.operands;
        switch (node.op) {
            case Op::And: {
                const auto first = conditionOf(a), second = conditionOf(b);
                return first && second ? m_by.both(*first, *second) : first ? first : second;
            }
            case Op::Less:
            case Op::LessEqual:
            case Op::Differs: {
                if (m_demands.isCovered(index)) return std::nullopt;
                const Fixed x = valueOf(a), y = valueOf(b);
                return m_by.compared(node.op, x, y);
            }
            default:
                refuse("its formula asks whether a value is infinite");
                return std::nullopt;
        }
    }

    const FormulaCode& m_formula;
    std::span<const Interval> m_seen;
    int m_width;
    FormulaDemands m_demands;
    std::shared_ptr<Recording> m_in;
    FixedArithmetic m_by;
    std::vector<std::optional<Fixed>> m_values;
    std::string m_refused;
};

}  // namespace

Expected<FixedPoint> fixedPointOf(const FormulaCode& formula, std::span<const FixedInput> inputs,
                                  std::span<const Interval> seen, int width, std::int64_t scale) {
    return FixedPointMaker(formula, seen, width).run(inputs, scale);
}

}  // namespace fg
