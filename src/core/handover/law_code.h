#pragma once

#include "handover/formula_code.h"
#include "handover/gauge_code.h"

namespace fg {

/// What the code of a derived gauge takes: a reading of another gauge, in the canonical unit of its quantity.
struct LawParameter {
    std::int32_t node = -1;
    std::string name;  ///< "temperature"
    std::string unit;  ///< "degC"; empty for a plain number
    Interval range{};  ///< where the formula holds
};

/// The reading of a derived gauge as an expression over the readings of others.
struct LawCode {
    std::shared_ptr<FormulaCode> formula;
    std::vector<LawParameter> parameters;
    CodeError error;       ///< of the arithmetic, in the unit; `checked` are the sets of readings with a value
    std::string atInputs;  ///< the worst: "temperature 20.1, humidity 3"
};

/// Inputs that are linked to other gauges are parameters, those that were typed are constants; where none is linked all
/// are parameters. Run over 100,000 sets of readings within the law's ranges. Errors: Unsupported for a running value,
/// which needs what came before, for whole-number arithmetic, and for a law that is solved for.
[[nodiscard]] Expected<LawCode> lawCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit,
                                          CodeArithmetic arithmetic);

}  // namespace fg
