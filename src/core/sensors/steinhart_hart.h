#pragma once

#include "numeric/formula_transfer.h"
#include "sensors/ntc_beta.h"
#include "sensors/parameters.h"
#include "units/error.h"

namespace fg {

/// What the formula below knows besides numbers.
struct SteinhartHartFixed {
    Interval range_degC;
};

/// NTC thermistor by the three-coefficient equation:  1/T = a + b·ln R + c·(ln R)³,  T in kelvin, R in Ω.
///
/// Units: a in 1/K, b and c in 1/K with ln of the resistance in Ω; temperatures in °C. Domain: R > 0 and 1/T > 0;
/// elsewhere NaN. The resistance for a temperature is the closed solution of the cubic in ln R, which exists
/// and is unique for b > 0, c > 0; with c = 0 it is the Beta equation. Error over 200 °C of span is typically below
/// 0.02 °C with coefficients of the same part. Source: J. S. Steinhart, S. R. Hart, "Calibration curves for
/// thermistors", Deep-Sea Research 15 (1968), 497–503.
template <class N>
struct SteinhartHartFormula {
    N a{}, b{}, c{};
    SteinhartHartFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"a", "a", "1/K"}, self.a);
        visit(Symbol{"b", "b", "1/K"}, self.b);
        visit(Symbol{"c", "c", "1/K"}, self.c);
    }

    [[nodiscard]] N forward(const N& t) const {
        const N T = step("T", "K", kCelsius, t + constant<N>(kKelvinAt0degC, "K"));
        return require(T > 0, [&] {
            const N y = step("y", "1/K", kSource, a - 1 / T);
            const N lnR = choose(
                c > 0,
                [&] {
                    // Depressed cubic L³ + pL + q = 0 with p > 0 has one real root. The hyperbolic form loses no digits
                    // where Cardano's difference of cube roots would: L = −2·√(p/3)·sinh(asinh(3q/(2p)·√(3/p))/3).
                    const N p = step("p", "", kCubic, b / c), q = step("q", "", kCubic, y / c);
                    const N root = step("w", "", kCubic, sqrt(p / 3));
                    return step("ln_R", "", kCubic, -2 * root * sinh(asinh(1.5 * q / (p * root)) / 3));
                },
                [&] { return step("ln_R", "", kSource, -y / b); });
            return step("R", "ohm", kSource, exp(lnR));
        });
    }

    [[nodiscard]] N inverse(const N& r) const {
        const N lnR = step("ln_R", "", kSource, log(r));
        const N inverse_T = step("y", "1/K", kSource, a + lnR * (b + c * lnR * lnR));
        return require(inverse_T > 0, [&] {
            const N T = step("T", "K", kSource, 1 / inverse_T);
            return step("t", "degC", kCelsius, T - constant<N>(kKelvinAt0degC, "K"));
        });
    }

    [[nodiscard]] Interval range() const { return fixed.range_degC; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return "Steinhart–Hart equation"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }

  private:
    static constexpr std::string_view kSource = "Steinhart–Hart equation, Deep-Sea Research 15 (1968) 497",
                                      kCubic = "real root of the cubic in ln R, hyperbolic form",
                                      kCelsius = "Celsius scale, NIST SP 811 B.8";
};

using SteinhartHart = SteinhartHartFormula<double>;

/// Errors: Range at a (finite), b (above 0) or c (0 or above).
[[nodiscard]] Expected<SteinhartHart> steinhartHart(double a, double b, double c, Interval range_degC);

/// Through three pairs (t in °C, R in Ω), in any order, solved exactly. Error when two temperatures or two
/// resistances are equal, when resistance does not fall with temperature, or when the points give coefficients that
/// are not monotonic.
[[nodiscard]] Expected<SteinhartHart> steinhartHartThrough(const std::vector<Point>& points_degC_ohm,
                                                           Interval range_degC);

}  // namespace fg
