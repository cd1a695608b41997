#pragma once

#include <string>

namespace fg {

/// One line of a trace: how one intermediate value came about.
struct TraceLine {
    std::string name;          ///< symbol of the result: "R", "t_fine"
    std::string formula;       ///< with the numbers put in: "2200 Ω × 1.7366 V/(3.3 V − 1.7366 V)"
    double value = 0;          ///< in `unit`
    std::string unit;          ///< unit id or symbol of `value`; "" for a pure number
    std::string source;        ///< where the formula or the number comes from
    std::string symbols = {};  ///< the same formula in symbols: "Rf × U/(Us − U)"; empty where it is not recorded
};

}  // namespace fg
