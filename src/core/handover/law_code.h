#pragma once

#include "handover/formula_code.h"
#include "handover/gauge_code.h"
#include "handover/whole_tail.h"

namespace fg {

/// What the code of a derived gauge takes: a reading of another gauge, in the canonical unit of its quantity.
struct LawParameter {
    std::int32_t node = -1;
    std::string name;  ///< "temperature"
    std::string unit;  ///< "degC"; empty for a plain number
    Interval range{};  ///< where the formula holds
    /// In whole numbers: the code takes the reading times this, up to the ends of the range.
    std::int64_t scale = 0;
    std::int64_t least = 0, most = 0;
};

/// The reading of a derived gauge as an expression over the readings of others.
struct LawCode {
    std::shared_ptr<FormulaCode> formula;
    std::vector<LawParameter> parameters;
    std::optional<WholeTail> tail;  ///< in whole numbers: where `formula`, in fixed point, ends
    CodeError error;                ///< of the arithmetic, in the unit; `checked` are the sets of readings with a value
    std::string atInputs;           ///< the worst: "temperature 20.1, humidity 3"
};

/// Lets a parameter be taken in whole numbers of so many bits: so fine that a step changes the result by less than half
/// of `wanted`, where the result changes by `slope` times the parameter. Error: Unsupported where the bits do not hold
/// the ends of its range.
Expected<void> takeInSteps(LawParameter& parameter, double slope, double wanted, int width);

/// What a law in whole numbers is to come to.
struct WholeLaw {
    double wanted = 0;       ///< error, in the unit
    std::int64_t scale = 1;  ///< of the result
};

/// Inputs that are linked to other gauges are parameters, those that were typed are constants; where none is linked all
/// are parameters. Run over 100,000 sets of readings within the law's ranges; in whole numbers over those whose value
/// lies in the span. A reading in whole numbers has so many decimals that a step changes the result by less than half
/// of the wanted error, for nine sets of readings in ten. Of a running value: what stands behind its window, which see
/// runningCodeOf(). Errors: Unsupported for a table, for a law that is solved for, and those of fixedPointOf().
[[nodiscard]] Expected<LawCode> lawCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit,
                                          CodeArithmetic arithmetic, const WholeLaw& whole);

}  // namespace fg
