#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

/// What the formula below knows besides numbers.
struct PlatinumFixed {
    Interval range_degC;
};

/// Industrial platinum resistance thermometer (Pt100, Pt1000 …), α = 0.00385:
///   t >= 0 °C:  R = R0 · (1 + A·t + B·t²)          t < 0 °C:  R = R0 · (1 + A·t + B·t² + C·(t − 100)·t³)
/// with A = 3.9083e-3 /°C, B = −5.775e-7 /°C², C = −4.183e-12 /°C⁴.
///
/// Units: t in °C (−200 … 850), R0 and R in Ω. The inverse is closed above 0 °C; below it Newton's method on the same
/// polynomial, to the last digits. NaN outside −250 … 1000 °C. Source: IEC 60751:2008, 4.2 (reference function) and
/// table 1.
template <class N>
struct PlatinumFormula {
    static constexpr double kA = 3.9083e-3;
    static constexpr double kB = -5.775e-7;
    static constexpr double kC = -4.183e-12;

    N r0{};
    PlatinumFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"r0_ohm", "R0", "ohm"}, self.r0);
    }

    [[nodiscard]] N forward(const N& t) const {
        return require(t >= -250 && t <= 1000, [&] {
            const N hot = 1 + t * (kA + t * kB);
            const N ratio = choose(
                t < 0, [&] { return step("w", "", kCold, hot + kC * (t - 100) * t * t * t); },
                [&] { return step("w", "", kHot, hot); });
            return step("R", "ohm", kSource, r0 * ratio);
        });
    }

    [[nodiscard]] N inverse(const N& r) const {
        const N ratio = step("w", "", kSource, r / r0);
        return choose(
            ratio < 1,
            [&] {
                const auto below0 = [](const auto& t) { return 1 + t * (kA + t * kB) + kC * (t - 100) * t * t * t; };
                return step("t", "degC", kColdSolved, solve("t", "degC", ratio, coldInverse, below0));
            },
            [&] {
                const N t = step("t", "degC", kHot, hotInverse(ratio));
                return require(t <= 1000, [&] { return t; });
            });
    }

    [[nodiscard]] Interval range() const { return fixed.range_degC; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return "Platinum, IEC 60751"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }

  private:
    static constexpr std::string_view kSource = "IEC 60751:2008, 4.2",
                                      kHot = "IEC 60751, t >= 0 °C: A 3.9083e-3, B −5.775e-7",
                                      kCold = "IEC 60751, t < 0 °C: A, B, C −4.183e-12",
                                      kColdSolved = "IEC 60751, t < 0 °C: C −4.183e-12; Newton";

    /// The root of the parabola; below 0 °C a start for Newton's method.
    template <class M>
    [[nodiscard]] static M hotInverse(const M& ratio) {
        return (sqrt(kA * kA - 4 * kB * (1 - ratio)) - kA) * (1 / (2 * kB));
    }
    [[nodiscard]] static double coldInverse(double ratio) {
        // The parabola's root is within 2.5 °C of the solution down to −200 °C; convergence is quadratic from there.
        double t = hotInverse(ratio);
        for (int i = 0; i < 8; ++i) {
            const double value = 1 + t * (kA + t * kB) + kC * (t - 100) * t * t * t - ratio;
            const double slope = kA + 2 * kB * t + kC * (4 * t - 300) * t * t;
            const double next = t - value / slope;
            if (next == t) break;
            t = next;
        }
        return t >= -250 ? t : std::nan("");
    }
};

using Platinum = PlatinumFormula<double>;

/// Error: Range at r0_ohm when it is not above 0.
[[nodiscard]] Expected<Platinum> platinum(double r0_ohm, Interval range_degC);

}  // namespace fg
