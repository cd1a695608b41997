#pragma once

#include "handover/formula_code.h"

#include <optional>
#include <string>

namespace fg {

/// The real steps behind a routine in whole numbers: from its last whole number to a reading in the unit of the result
/// ("T in 0.01 °C", and T/100). Lives no longer than its formula.
class WholeTail {
  public:
    /// Of the value at a node. Nothing where it rests on several whole numbers or on none, or on more than sums,
    /// products and quotients. What the steps refuse is left out: it is looked at by itself.
    [[nodiscard]] static std::optional<WholeTail> of(const FormulaCode& formula, std::int32_t index);

    /// The whole number, and its width in bits, negative for an unsigned one.
    [[nodiscard]] std::int32_t node() const { return m_node; }
    [[nodiscard]] int bits() const { return m_formula->at(m_node).bits; }
    /// Is it a number that was read, with no routine before it?
    [[nodiscard]] bool isInput() const { return m_formula->at(m_node).op == Op::Input; }
    /// The value that a whole number comes to.
    [[nodiscard]] double operator()(std::int64_t whole) const { return valueOf(m_root, static_cast<double>(whole)); }
    /// Does the value rise with the number? Nothing where it does neither all the way.
    [[nodiscard]] std::optional<bool> isRising() const;

    /// The least and the largest number that there is: of its width, or what a double tells apart.
    [[nodiscard]] std::int64_t least() const;
    [[nodiscard]] std::int64_t most() const;
    /// The first number, upwards, whose value is at least `bound` (or above it), where the value rises; where it falls,
    /// at most (or below). One beyond most() where there is none.
    [[nodiscard]] std::int64_t firstPast(double bound, bool isStrict) const;

    /// The whole number that the value is a quotient by, and nothing else; nothing where there is more to it.
    [[nodiscard]] std::optional<std::int64_t> divisor() const;

  private:
    WholeTail(const FormulaCode& formula, std::int32_t root) : m_formula(&formula), m_root(root) {}
    [[nodiscard]] bool find(std::int32_t index);
    [[nodiscard]] double valueOf(std::int32_t index, double whole) const;

    const FormulaCode* m_formula;
    std::int32_t m_root, m_node = -1;
};

/// A routine in whole numbers, as a formula and where it ends.
struct WholeRoutine {
    std::shared_ptr<FormulaCode> formula;
    std::optional<WholeTail> tail;
    std::string title;          ///< "Formula in fixed point"
    bool isFixedPoint = false;  ///< found here; otherwise it is that of the part's document, or a number as it is given
};

/// Widest integer, in bits, of the operations that a value comes of, their conditions among them. Numbers that are read
/// are as wide as they are.
[[nodiscard]] int widestWhole(const FormulaCode& formula, std::int32_t index);

}  // namespace fg
