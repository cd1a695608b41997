#pragma once

#include "path/correction.h"
#include "path/signal_path.h"

namespace fg {

/// The stages of a path whose formula's value is known already, corrected as it is. Wiring and Converter are left
/// without a value, for the caller. `problem`: why `formula` is NaN.
[[nodiscard]] Evaluation readyEvaluation(const Entry& entry, Quantity quantity, double formula, Clip clip,
                                         const std::string& problem, const Correction& correction);

}  // namespace fg
