#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

/// The d nearest to 0 with s·d + q·d² = r:  d = r/(h + √(h² + qr)), h = s/2, with the root's sign that of s: no
/// cancellation for small q, and the branch through d = 0.
template <class N>
[[nodiscard]] N parabolaRoot(const N& r, const N& slope, const N& curvature) {
    const N half = aside("h", "", slope / 2);
    const N root = step("w", "", "half the discriminant's root", sqrt(half * half + curvature * r));
    return choose(
        slope > 0, [&] { return r / (half + root); }, [&] { return r / (half - root); });
}

/// What the formula below knows besides numbers.
struct QuadraticFixed {
    Interval range_degC;
};

/// A sensor whose output is a parabola around a reference temperature: y = y0 + s·d + q·d², d = t − t0.
///
/// Units: t and t0 in °C; y, y0 in V; s in V/°C, q in V/°C². Monotonic over `range` (checked); the inverse is the root
/// on that branch, NaN where the parabola does not reach. Curved analog parts give the parabola of their transfer
/// table. Source: named in the part file. Accuracy of the inverse: rounding only, the stable form of the quadratic
/// formula is used.
template <class N>
struct QuadraticFormula {
    N y0{}, slope{}, curvature{}, t0{};
    QuadraticFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"v0_V", "U0", "V"}, self.y0);
        visit(Symbol{"slope_V_per_degC", "s", "V/°C"}, self.slope);
        visit(Symbol{"curvature_V_per_degC2", "q", "V/°C²"}, self.curvature);
        visit(Symbol{"t0_degC", "t0", "degC"}, self.t0);
    }

    [[nodiscard]] N forward(const N& t) const {
        const N d = step("d", "degC", kSource, t - t0);
        return step("U", "V", kSource, y0 + d * (slope + d * curvature));
    }
    [[nodiscard]] N inverse(const N& y) const {
        const N r = step("r", "V", kSource, y - y0);
        return step("t", "degC", kRoot, t0 + parabolaRoot(r, slope, curvature));
    }

    [[nodiscard]] Interval range() const { return fixed.range_degC; }
    [[nodiscard]] bool isRising() const { return nominal(slope) > 0; }
    [[nodiscard]] std::string title() const { return "Parabola"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Voltage); }

  private:
    static constexpr std::string_view kSource = "part's parabola: y = y0 + s·d + q·d²",
                                      kRoot = "root on the branch of the range";
};

using Quadratic = QuadraticFormula<double>;

/// Errors: Range at y0, slope (not 0) or curvature (a parabola that turns back within the range).
[[nodiscard]] Expected<Quadratic> quadratic(double y0, double slope, double curvature, double t0_degC,
                                            Interval range_degC);

/// Refuses a parabola that is flat at its reference temperature or turns back within the range.
[[nodiscard]] Expected<void> checkParabola(double slope, double curvature, double t0_degC, Interval range_degC);

}  // namespace fg
