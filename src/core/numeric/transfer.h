// Room `numeric`: functions of one variable that can be run both ways, roots, least squares, statistics. Thin over
// Boost.Math and Eigen.
#pragma once

#include "formula/bounds.h"
#include "formula/dual.h"
#include "formula/recorded.h"
#include "formula/trace_line.h"
#include "units/quantity.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// A closed interval in the canonical unit of whatever it bounds; low <= high.
struct Interval {
    double low = 0;
    double high = 0;
    [[nodiscard]] bool contains(double x) const { return x >= low && x <= high; }
    [[nodiscard]] double width() const { return high - low; }
};

/// The inverse of a straight line, (y − offset)/factor: what a bulk loop needs to know to run several stages in one
/// pass.
struct StraightInverse {
    double offset = 0;
    double factor = 1;
    [[nodiscard]] bool isIdentity() const { return offset == 0 && factor == 1; }
};

/// A parameter of a formula, as it stands in it.
struct FormulaParameter {
    std::string_view id;  ///< as in files ("r25_ohm"); empty for one that nobody gives directly
    double value = 0;
};

/// A transfer function between two physical quantities, strictly monotonic over its range, usable in both directions.
///
/// Contract of every implementation:
/// - forward() and inverse() take and return canonical units (units/unit.h);
/// - outside the mathematical domain they return NaN, never a clamped or made-up value; infinities are allowed where
/// they are the limit;
/// - outside range() but inside the domain they extrapolate; the caller compares with range();
/// - inverse(forward(x)) = x within 1e-9 of the width of range().
/// Every direction and number type is the same formula: see numeric/formula_transfer.h.
class Transfer {
  public:
    virtual ~Transfer() = default;

    [[nodiscard]] virtual double forward(double x) const = 0;
    [[nodiscard]] virtual double inverse(double y) const = 0;

    /// inverse() over a whole batch in place: the bulk path. Bit-equal to calling inverse() on each element.
    virtual void inverseAll(std::span<double> values) const = 0;

    /// The same as two numbers, where inverse() is computed as (y − offset)/factor in just these two steps.
    [[nodiscard]] virtual std::optional<StraightInverse> straightInverse() const = 0;

    /// The parameters that may be moved, in the order in which the functions below take them.
    [[nodiscard]] virtual std::vector<FormulaParameter> parameters() const = 0;

    /// The formula with other parameters, as many as parameters(): forwards, and its inverse where that is closed.
    [[nodiscard]] virtual double forwardWith(std::span<const double> parameters, double x) const = 0;
    /// The same over a whole batch in place; each parameter a column of its own, null where it stays as it is.
    virtual void forwardAllWith(std::span<const double* const> columns, std::span<double> values) const = 0;
    [[nodiscard]] virtual Dual forwardWith(std::span<const Dual> parameters, const Dual& x) const = 0;
    [[nodiscard]] virtual Dual inverseWith(std::span<const Dual> parameters, const Dual& y) const = 0;
    [[nodiscard]] virtual Bounds forwardWith(std::span<const Bounds> parameters, const Bounds& x) const = 0;
    [[nodiscard]] virtual Bounds inverseWith(std::span<const Bounds> parameters, const Bounds& y) const = 0;

    /// The formula recorded, with `x` or `y` as its input.
    [[nodiscard]] virtual Recorded recordForward(Recording& in, double x) const = 0;
    [[nodiscard]] virtual Recorded recordInverse(Recording& in, double y) const = 0;
    /// The same behind what was recorded before it.
    [[nodiscard]] virtual Recorded recordInverse(Recording& in, const Recorded& y) const = 0;

    /// Where the source states the function to hold, on the forward side.
    [[nodiscard]] virtual Interval range() const = 0;

    /// What the stage's formula is called on the screen: "Beta equation", "Divider, sensor to ground".
    [[nodiscard]] virtual std::string title() const = 0;

    /// Rising (true) or falling over its range.
    [[nodiscard]] virtual bool isRising() const = 0;

    /// Why inverse(y) has no value, where the function knows more than that there is none: "2.00 mA: the loop is open".
    /// Else empty.
    [[nodiscard]] virtual std::string refusal(double y) const = 0;

    /// The steps of either direction for the trace, numbers put in.
    [[nodiscard]] std::vector<TraceLine> explainForward(double x) const;
    [[nodiscard]] std::vector<TraceLine> explainInverse(double y) const;

    /// The parameters' nominal values in a number type, to be moved one by one.
    template <class N>
    [[nodiscard]] std::vector<N> nominalParameters() const {
        std::vector<N> values;
        for (const FormulaParameter& one : parameters()) values.push_back(N(one.value));
        return values;
    }
};

}  // namespace fg
