#pragma once

#include "handover/formula_code.h"

#include <map>
#include <vector>

namespace fg {

/// Between which ends a value has to lie for the formula to have a result.
struct Demand {
    double low = -HUGE_VAL, high = HUGE_VAL;
    bool isLowOpen = false, isHighOpen = false;
};

/// What the conditions of a formula demand of values that it always computes on its way: a temperature of −60 … 120 °C
/// before a pressure is compensated by it. A demand on a value that is a sum or a product with numbers of the formula
/// is one on what it is made of.
class FormulaDemands {
  public:
    explicit FormulaDemands(const FormulaCode& formula);
    /// Of a value on the way; null: none.
    [[nodiscard]] const Demand* on(std::int32_t node) const;
    /// Does a comparison say no more than the demands do?
    [[nodiscard]] bool isCovered(std::int32_t comparison) const {
        return m_isCovered[static_cast<std::size_t>(comparison)];
    }

  private:
    void reach(std::int32_t node);
    void take(std::int32_t condition);
    void demand(std::int32_t comparison, std::int32_t node, Demand demand);

    const FormulaCode& m_formula;
    std::vector<bool> m_isOnWay, m_isCovered;
    std::vector<std::int32_t> m_conditions;
    std::map<std::int32_t, Demand> m_demands;
};

}  // namespace fg
