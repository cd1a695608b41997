// Room `numeric`: functions of one variable that can be run both ways, roots, least squares, statistics. Thin over
// Boost.Math and Eigen.
#pragma once

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

/// One line of a trace: how one intermediate value came about.
struct TraceLine {
    std::string name;     ///< symbol of the result: "R", "t_fine"
    std::string formula;  ///< with the numbers put in: "2200 × 1.7366/(3.3 − 1.7366)"
    double value = 0;     ///< in `unit`
    std::string unit;     ///< unit id or symbol of `value`; "" for a pure number
    std::string source;   ///< where the formula or the number comes from
};

/// The inverse of a straight line, (y − offset)/factor: what a bulk loop needs to know to run several stages in one
/// pass.
struct StraightInverse {
    double offset = 0;
    double factor = 1;
    [[nodiscard]] bool isIdentity() const { return offset == 0 && factor == 1; }
};

/// A transfer function between two physical quantities, strictly monotonic over its range, usable in both directions.
///
/// Contract of every implementation:
/// - forward() and inverse() take and return canonical units (units/unit.h);
/// - outside the mathematical domain they return NaN, never a clamped or made-up value; infinities are allowed where
/// they are the limit;
/// - outside range() but inside the domain they extrapolate; the caller compares with range();
/// - inverse(forward(x)) = x within 1e-9 of the width of range().
class Transfer {
  public:
    virtual ~Transfer() = default;

    [[nodiscard]] virtual double forward(double x) const = 0;
    [[nodiscard]] virtual double inverse(double y) const = 0;

    /// inverse() over a whole batch in place: the bulk path. Bit-equal to calling inverse() on each element.
    virtual void inverseAll(std::span<double> values) const = 0;

    /// The same as two numbers, where inverse() is computed as (y − offset)/factor in just these two steps.
    [[nodiscard]] virtual std::optional<StraightInverse> straightInverse() const = 0;

    /// Where the source states the function to hold, on the forward side.
    [[nodiscard]] virtual Interval range() const = 0;

    /// The steps of the inverse for the trace, numbers put in.
    [[nodiscard]] virtual std::vector<TraceLine> explainInverse(double y) const = 0;

    /// The steps of the forward direction.
    [[nodiscard]] virtual std::vector<TraceLine> explainForward(double x) const = 0;

    /// What the stage's formula is called on the screen: "Beta equation", "Divider, sensor to ground".
    [[nodiscard]] virtual std::string title() const = 0;

    /// Rising (true) or falling over its range.
    [[nodiscard]] virtual bool isRising() const = 0;

    /// Why inverse(y) has no value, where the function knows more than that there is none: "2.00 mA: the loop is open".
    /// Else empty.
    [[nodiscard]] virtual std::string refusal(double y) const = 0;
};

/// Makes a Transfer out of a plain struct that has the formulas as inline functions, so that the bulk loops are
/// compiled around them. `Model` has forward, inverse, range, explainInverse, explainForward, title and isRising with
/// the meaning they have above, and straightInverse where it is a straight line, refusal where it can say why there is
/// no value.
template <class Model>
class TransferOf final : public Transfer {
  public:
    explicit TransferOf(Model model) : m_model(std::move(model)) {}
    [[nodiscard]] double forward(double x) const override { return m_model.forward(x); }
    [[nodiscard]] double inverse(double y) const override { return m_model.inverse(y); }
    void inverseAll(std::span<double> values) const override {
        const Model model = m_model;  // a local copy keeps the coefficients in registers
        for (double& value : values) value = model.inverse(value);
    }
    [[nodiscard]] std::optional<StraightInverse> straightInverse() const override {
        if constexpr (requires { m_model.straightInverse(); }) return m_model.straightInverse();
        return std::nullopt;
    }
    [[nodiscard]] Interval range() const override { return m_model.range(); }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double y) const override { return m_model.explainInverse(y); }
    [[nodiscard]] std::vector<TraceLine> explainForward(double x) const override { return m_model.explainForward(x); }
    [[nodiscard]] std::string title() const override { return m_model.title(); }
    [[nodiscard]] bool isRising() const override { return m_model.isRising(); }
    [[nodiscard]] std::string refusal(double y) const override {
        if constexpr (requires { m_model.refusal(y); }) return m_model.refusal(y);
        return {};
    }

  private:
    Model m_model;
};

template <class Model>
[[nodiscard]] std::unique_ptr<Transfer> makeTransfer(Model model) {
    return std::make_unique<TransferOf<Model>>(std::move(model));
}

}  // namespace fg
