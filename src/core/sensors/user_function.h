#pragma once

#include "sensors/family.h"
#include "units/error.h"

namespace fg {

/// A formula of the user's own for a part nobody has heard of: the sensor's output in V as an expression in x, the
/// measurand, such as `0.5 + 0.01*x` or `2.5*exp(-x/40)` (muParser syntax; functions sin … log10, sqrt, abs; constants
/// _pi, _e). A syntax error is told with its position.
///
/// Units: x in the measurand's canonical unit, the result in V. Must be finite and monotonic over `range`, which must
/// be finite; the inverse is found by bracketing (numeric/bracketed.h). Outside the range it still runs forwards; the
/// inverse is NaN. Where every function in it is one of the number types' own (typed_expression.h) it is recorded, with
/// exact slopes; else it is known by its values alone: its slope is found by differences. Its bounds by its ends.
[[nodiscard]] MadeSensor userExpression(const std::string& text, Quantity measurand, Interval range);

}  // namespace fg
