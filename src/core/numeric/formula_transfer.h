#pragma once

#include "numeric/transfer.h"

#include <array>

namespace fg {

/// What a value is called inside a formula.
struct Symbol {
    std::string_view id;    ///< of a parameter as in files: "r25_ohm"; empty for one nobody gives directly
    std::string_view name;  ///< in the formula: "R25"
    std::string_view unit;  ///< id of its unit, or a compound: "V/°C"
};

/// The letter and the canonical unit of a quantity.
[[nodiscard]] Symbol symbolOf(Quantity quantity);

/// The name of a parameter that holds a unit: "slope_V_per_" and temperature give "slope_V_per_degC".
[[nodiscard]] std::string_view idWithUnit(std::string_view stem, Quantity quantity);

/// "V/°C", the unit of a slope.
[[nodiscard]] std::string_view slopeUnit(Quantity output, Quantity input);

/// For formulas that know nothing besides numbers.
struct NothingFixed {};

/// The same formula over another number type, every parameter through `lift(symbol, value)`.
template <class N, template <class> class Formula, class Lift>
[[nodiscard]] Formula<N> lifted(const Formula<double>& from, Lift lift) {
    constexpr std::size_t kMost = 16;
    std::array<N, kMost> values{};
    std::size_t count = 0;
    from.each(from, [&](const Symbol& symbol, double value) { values.at(count++) = lift(symbol, value); });
    Formula<N> to;
    to.fixed = from.fixed;
    std::size_t next = 0;
    to.each(to, [&](const Symbol&, N& value) { value = values[next++]; });
    return to;
}

/// The formula with every parameter's value as a double.
template <template <class> class Formula, class N>
[[nodiscard]] Formula<double> nominalOf(const Formula<N>& formula) {
    constexpr std::size_t kMost = 16;
    std::array<double, kMost> values{};
    std::size_t count = 0, next = 0;
    formula.each(formula, [&](const Symbol&, const N& value) { values.at(count++) = nominal(value); });
    Formula<double> plain;
    plain.fixed = formula.fixed;
    plain.each(plain, [&](const Symbol&, double& value) { value = values[next++]; });
    return plain;
}

/// Makes a Transfer out of a formula that is written once for every number type.
///
/// `Formula<N>` has: members of type N for its parameters, listed by `each(self, visit(symbol, member))`; `forward(x)`
/// and `inverse(y)` in the vocabulary of formula/number.h; `fixed`, a struct of what is no number (the range, a table);
/// `argument()` and `result()`, the symbols of x and y; `range()`, `isRising()`, `title()`; where it is a straight line
/// `straightInverse()`, where it can say why there is no value `refusal(y)`.
template <template <class> class Formula>
class FormulaTransfer final : public Transfer {
  public:
    explicit FormulaTransfer(Formula<double> formula) : m_formula(std::move(formula)) {}

    [[nodiscard]] double forward(double x) const override { return m_formula.forward(x); }
    [[nodiscard]] double inverse(double y) const override { return m_formula.inverse(y); }
    void inverseAll(std::span<double> values) const override {
        const Formula<double> formula = m_formula;  // a local copy keeps the parameters in registers
        for (double& value : values) value = formula.inverse(value);
    }
    [[nodiscard]] std::optional<StraightInverse> straightInverse() const override {
        if constexpr (requires { m_formula.straightInverse(); }) return m_formula.straightInverse();
        return std::nullopt;
    }

    [[nodiscard]] std::vector<FormulaParameter> parameters() const override {
        std::vector<FormulaParameter> all;
        m_formula.each(m_formula, [&](const Symbol& symbol, double value) { all.push_back({symbol.id, value}); });
        return all;
    }
    [[nodiscard]] double forwardWith(std::span<const double> parameters, double x) const override {
        Formula<double> moved = m_formula;
        std::size_t next = 0;
        moved.each(moved, [&](const Symbol&, double& value) { value = parameters[next++]; });
        return moved.forward(x);
    }
    void forwardAllWith(std::span<const double* const> columns, std::span<double> values) const override {
        Formula<double> moved = m_formula;
        for (std::size_t row = 0; row < values.size(); ++row) {
            std::size_t next = 0;
            moved.each(moved, [&](const Symbol&, double& value) {
                if (const double* column = columns[next++]) value = column[row];
            });
            values[row] = moved.forward(values[row]);
        }
    }
    [[nodiscard]] Dual forwardWith(std::span<const Dual> parameters, const Dual& x) const override {
        return with<Dual>(parameters).forward(x);
    }
    [[nodiscard]] Dual inverseWith(std::span<const Dual> parameters, const Dual& y) const override {
        return with<Dual>(parameters).inverse(y);
    }
    [[nodiscard]] Bounds forwardWith(std::span<const Bounds> parameters, const Bounds& x) const override {
        return with<Bounds>(parameters).forward(x);
    }
    [[nodiscard]] Bounds inverseWith(std::span<const Bounds> parameters, const Bounds& y) const override {
        return with<Bounds>(parameters).inverse(y);
    }

    [[nodiscard]] Recorded recordForward(Recording& in, double x) const override {
        return recorded(in).forward(input(in, m_formula.argument(), x));
    }
    [[nodiscard]] Recorded recordInverse(Recording& in, double y) const override {
        return recordInverse(in, input(in, m_formula.result(), y));
    }
    [[nodiscard]] Recorded recordInverse(Recording& in, const Recorded& y) const override {
        return recorded(in).inverse(y);
    }

    [[nodiscard]] Interval range() const override { return m_formula.range(); }
    [[nodiscard]] std::string title() const override { return m_formula.title(); }
    [[nodiscard]] bool isRising() const override { return m_formula.isRising(); }
    [[nodiscard]] std::string refusal(double y) const override {
        if constexpr (requires { m_formula.refusal(y); }) return m_formula.refusal(y);
        return {};
    }

  private:
    template <class N>
    [[nodiscard]] Formula<N> with(std::span<const N> parameters) const {
        std::size_t next = 0;
        return lifted<N, Formula>(m_formula, [&](const Symbol&, double) { return parameters[next++]; });
    }
    [[nodiscard]] Formula<Recorded> recorded(Recording& in) const {
        return lifted<Recorded, Formula>(m_formula, [&](const Symbol& symbol, double value) {
            return Recorded::leaf(in, Op::Parameter, symbol.name, symbol.unit, value);
        });
    }
    [[nodiscard]] static Recorded input(Recording& in, const Symbol& symbol, double value) {
        return Recorded::leaf(in, Op::Input, symbol.name, symbol.unit, value);
    }

    Formula<double> m_formula;
};

/// Works from the concrete type: makeTransfer<NtcBetaFormula>(formula).
template <template <class> class Formula>
[[nodiscard]] std::unique_ptr<Transfer> makeTransfer(Formula<double> formula) {
    return std::make_unique<FormulaTransfer<Formula>>(std::move(formula));
}

}  // namespace fg
