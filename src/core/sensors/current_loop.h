#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

/// The currents of a 4–20 mA loop and those that say that it has failed. Sources: IEC 60381-1; NAMUR NE 43.
namespace current_loop {
inline constexpr double kSpanLow_A = 0.004, kSpanHigh_A = 0.020;
inline constexpr double kFaultLow_A = 0.0036, kFaultHigh_A = 0.021;
[[nodiscard]] inline bool isFault(double current_A) { return !(current_A > kFaultLow_A && current_A < kFaultHigh_A); }
}  // namespace current_loop

/// What the formula below knows besides numbers.
struct CurrentLoopFixed {
    Symbol argument;
    std::string_view lowId, highId, slopeUnit;
    Interval range;
    bool isRising = true;
};

/// A two-wire transmitter, 4 mA at the low end of its span and 20 mA at the high end (IEC 60381-1).
///
/// forward: measurand (canonical) to current in A, straight on beyond the span. inverse: NaN at kFaultLow_A and below,
/// and at kFaultHigh_A and above: such currents are no values but say that the transmitter or its loop has failed
/// (NAMUR NE 43).
template <class N>
struct CurrentLoopFormula {
    N low{}, high{};
    CurrentLoopFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{self.fixed.lowId, "x4", self.fixed.argument.unit}, self.low);
        visit(Symbol{self.fixed.highId, "x20", self.fixed.argument.unit}, self.high);
    }

    [[nodiscard]] N forward(const N& x) const { return step("I", "A", kSource, offset() + slope() * x); }
    [[nodiscard]] N inverse(const N& current) const {
        return require(current > current_loop::kFaultLow_A && current < current_loop::kFaultHigh_A, [&] {
            const auto [id, name, unit] = fixed.argument;
            return step(name, unit, kSource, (current - offset()) / slope());
        });
    }
    [[nodiscard]] std::string refusal(double current_A) const;
    [[nodiscard]] Interval range() const { return fixed.range; }
    [[nodiscard]] bool isRising() const { return fixed.isRising; }
    [[nodiscard]] std::string title() const { return "4–20 mA loop"; }
    [[nodiscard]] Symbol argument() const { return fixed.argument; }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Current); }

  private:
    static constexpr std::string_view kSource = "4 mA at the low end, 20 mA at the high end, IEC 60381-1";
    [[nodiscard]] static N bottom() { return constant<N>(current_loop::kSpanLow_A, "A"); }
    [[nodiscard]] N slope() const {
        return step("s", fixed.slopeUnit, kSource,
                    (constant<N>(current_loop::kSpanHigh_A, "A") - bottom()) / (high - low));
    }
    [[nodiscard]] N offset() const { return aside("I0", "A", bottom() - slope() * low); }
};

}  // namespace fg
