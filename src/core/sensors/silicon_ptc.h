#pragma once

#include "sensors/quadratic.h"

namespace fg {

/// What the formula below knows besides numbers.
struct SiliconPtcFixed {
    Interval range_degC;
};

/// Silicon PTC: R = R0·(1 + α·d + β·d²), d = t − t0, less R0·C·(t − t1)^D above a knee t1.
///
/// Units: °C, Ω; α in 1/K, β in 1/K², C in 1/K^D. Monotonic over `range` (checked at its end). Inverse above the knee
/// by Newton's method from the parabola's root, to the last bits of a double; NaN where there is none. Source: KTY81
/// series data sheet, "resistance versus temperature"; without a knee (C = 0) the parabola alone.
template <class N>
struct SiliconPtcFormula {
    N r0{}, alpha{}, beta{}, t0{}, knee{}, factor{}, power{};
    SiliconPtcFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"r25_ohm", nominal(self.t0) == 25 ? "R25" : "R0", "ohm"}, self.r0);
        visit(Symbol{"alpha_per_K", "α", "1/K"}, self.alpha);
        visit(Symbol{"beta_per_K2", "β", "1/K²"}, self.beta);
        visit(Symbol{"t0_degC", "t0", "degC"}, self.t0);
        visit(Symbol{"knee_degC", "t1", "degC"}, self.knee);
        visit(Symbol{"knee_factor", "C", ""}, self.factor);
        visit(Symbol{"knee_power", "D", ""}, self.power);
    }

    [[nodiscard]] N forward(const N& t) const { return curve(t); }

    [[nodiscard]] N inverse(const N& r) const {
        return choose(
            factor > 0 && r > atKnee(),
            [&] {
                return step("t", "degC", "above the knee, by Newton's method",
                            solve(
                                "t", "degC", r, [&](double ohm) { return refined(nominalOf(*this), ohm); },
                                [&](const N& t) { return curve(t); }));
            },
            [&] { return rootBelowKnee(r); });
    }

    [[nodiscard]] Interval range() const { return fixed.range_degC; }
    [[nodiscard]] bool isRising() const { return nominal(alpha) > 0; }
    [[nodiscard]] std::string title() const { return "Silicon PTC"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }

    /// Over any number type, so that its own slope comes with it.
    template <class X>
    [[nodiscard]] X curve(const X& t) const {
        const X below = parabola(t);
        return choose(
            factor > 0 && t > knee,
            [&] { return step("R", "ohm", "less above the knee", below - r0 * factor * pow(t - knee, X(power))); },
            [&] { return step("R", "ohm", kSource, below); });
    }

  private:
    static constexpr std::string_view kSource = "R = R25·(1 + α·d + β·d²)";

    template <class X>
    [[nodiscard]] X parabola(const X& t) const {
        const X d = step("d", "degC", kSource, t - t0);
        return r0 + d * (r0 * alpha + d * (r0 * beta));
    }
    [[nodiscard]] N atKnee() const { return parabola(knee); }
    [[nodiscard]] N rootBelowKnee(const N& r) const {
        const N over = step("r", "ohm", kSource, r - r0);
        return step("t", "degC", "root on the branch of the range", t0 + parabolaRoot<N>(over, r0 * alpha, r0 * beta));
    }
    [[nodiscard]] static double refined(const SiliconPtcFormula<double>& plain, double ohm) {
        double t = plain.rootBelowKnee(ohm);
        constexpr int kMostSteps = 50;
        for (int i = 0; i < kMostSteps; ++i) {
            const Dual there = plain.curve(Dual(t, 1));
            if (!(there.slope > 0)) return std::nan("");  // beyond the top of the curve: no temperature gives it
            const double step = (ohm - there.value) / there.slope;
            t += step;
            if (std::abs(step) <= 1e-13 * (1 + std::abs(t))) return t;
        }
        return std::nan("");
    }
    template <class>
    friend struct SiliconPtcFormula;
};

}  // namespace fg
