#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

inline constexpr double kKelvinAt0degC = 273.15;

/// What the formula below knows besides numbers.
struct NtcBetaFixed {
    Interval range_degC;
};

/// NTC thermistor by the two-parameter (Beta) equation:  R(T) = R0 · exp(B · (1/T − 1/T0)),  T in kelvin.
///
/// Units: temperatures in °C, R0 in Ω at T0 (25 °C unless the data sheet says otherwise), B in K. Domain: T > −273.15
/// °C, R > 0; elsewhere NaN. The equation is an approximation: a B taken between 25 °C and 85 °C is typically good to
/// 0.1 … 1 °C in between and worse beyond; use SteinhartHart or a table where that matters. Source: IEC 60539-1, 3.12
/// (B-value) and the R–T relation given there.
template <class N>
struct NtcBetaFormula {
    N r0{}, beta{}, t0{};
    NtcBetaFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"r25_ohm", nominal(self.t0) == 25 ? "R25" : "R0", "ohm"}, self.r0);
        visit(Symbol{"beta_K", "B", "K"}, self.beta);
        visit(Symbol{"t0_degC", "t0", "degC"}, self.t0);
    }

    [[nodiscard]] N forward(const N& t) const {
        const N T = step("T", "K", kCelsius, t + constant<N>(kKelvinAt0degC, "K"));
        return require(T > 0, [&] { return step("R", "ohm", kSource, r0 * exp(beta * (1 / T - 1 / T0()))); });
    }

    [[nodiscard]] N inverse(const N& r) const {
        // log of a negative resistance is NaN by itself; 0 Ω and ∞ Ω leave the domain through 1/T <= 0.
        const N lnR = step("ln_R", "", kSource, log(r / r0));
        const N inverse_T = 1 / T0() + lnR / beta;
        return require(inverse_T > 0, [&] {
            const N T = step("T", "K", kSource, 1 / inverse_T);
            return step("t", "degC", kCelsius, T - constant<N>(kKelvinAt0degC, "K"));
        });
    }

    [[nodiscard]] Interval range() const { return fixed.range_degC; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Beta equation"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }

  private:
    static constexpr std::string_view kSource = "Beta equation, IEC 60539-1",
                                      kCelsius = "Celsius scale, NIST SP 811 B.8";
    [[nodiscard]] N T0() const { return aside("T0", "K", t0 + constant<N>(kKelvinAt0degC, "K")); }
};

using NtcBeta = NtcBetaFormula<double>;

/// Errors: Range at r25_ohm, beta_K (both above 0) or t0_degC (above −273.15 °C).
[[nodiscard]] Expected<NtcBeta> ntcBeta(double r0_ohm, double beta_K, double t0_degC, Interval range_degC);

}  // namespace fg
