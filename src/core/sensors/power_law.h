#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

/// What the formula below knows besides numbers.
struct PowerLawFixed {
    Interval range_lx;
};

/// Photoresistor: R = R10 · (E/10 lx)^(−γ).
///
/// Units: E in lx (> 0), R and R10 in Ω; γ without unit, 0.4 … 1.2 for cadmium cells. NaN for E or R not above 0. The
/// law holds over two or three decades around 10 lx; parts scatter by a factor of two, so without a calibration the
/// result is an order of magnitude, not a measurement. Source: photocell data sheets, definition of gamma: γ =
/// log(R10/R100)/log(100/10).
template <class N>
struct PowerLawFormula {
    N r10{}, gamma{};
    PowerLawFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"r10_ohm", "R10", "ohm"}, self.r10);
        visit(Symbol{"gamma", "γ", ""}, self.gamma);
    }

    [[nodiscard]] N forward(const N& e) const {
        return require(e > 0, [&] { return step("R", "ohm", kSource, r10 * pow(e / tenLux(), -gamma)); });
    }
    [[nodiscard]] N inverse(const N& r) const {
        return require(r > 0, [&] { return step("E", "lx", kSource, tenLux() * pow(r / r10, -(1 / gamma))); });
    }

    [[nodiscard]] Interval range() const { return fixed.range_lx; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Power law, R10 and γ"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Illuminance); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }

  private:
    static constexpr std::string_view kSource = "photocell data sheets: γ = log(R10/R100)/log(100/10)";
    [[nodiscard]] static N tenLux() { return constant<N>(10, "lx"); }
};

using PowerLaw = PowerLawFormula<double>;

/// Errors: Range at r10_ohm or gamma when they are not above 0.
[[nodiscard]] Expected<PowerLaw> powerLaw(double r10_ohm, double gamma, Interval range_lx);

/// γ and R10 from two measured points (lx, Ω).
[[nodiscard]] Expected<PowerLaw> powerLawThrough(double first_lx, double first_ohm, double second_lx, double second_ohm,
                                                 Interval range_lx);

}  // namespace fg
