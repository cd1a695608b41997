#pragma once

#include "handover/formula_code.h"

#include <span>

namespace fg {

/// A number that a formula takes, as whole steps of its own size.
struct FixedInput {
    std::int32_t node = -1;  ///< of the formula in real numbers
    double step = 1;
    std::int64_t least = 0, most = 0;  ///< in steps
};

/// A formula of real numbers in fixed point: every value is a whole number times a power of two of its own, 2^−fraction
/// (ISO/IEC TR 18037, 4.1, fixed-point data types: a stated fraction of a word of stated width). The fractions are as
/// long as the width allows for everything that the inputs can be, by interval arithmetic, so that nothing wraps. What
/// a condition of the formula demands of a value on the way is demanded where the value is made: behind it, less room
/// for whole digits is needed.
struct FixedPoint {
    struct Input {
        std::int32_t real = -1, whole = -1;  ///< node in the formula in real numbers, and in `formula`
        double step = 1;
    };
    std::shared_ptr<FormulaCode> formula;  ///< its result is a whole number over `scale`
    std::vector<Input> inputs;
};

/// `seen`: of each node of `formula`, between which ends it was seen to be: a quotient whose divisor could be 0 is
/// refused beyond four times that (as FG_BEYOND). The result is the reading times `scale`, in integers of `width` bits.
/// Errors: Unsupported, with what of the formula does not go into such integers.
[[nodiscard]] Expected<FixedPoint> fixedPointOf(const FormulaCode& formula, std::span<const FixedInput> inputs,
                                                std::span<const Interval> seen, int width, std::int64_t scale);

/// Name of a Refuse node of what fixed point was not made for.
inline constexpr std::string_view kBeyondFixedPoint = "beyond";

}  // namespace fg
