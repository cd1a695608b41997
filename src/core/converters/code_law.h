#pragma once

#include "numeric/formula_transfer.h"
#include "numeric/polyline.h"

#include <fmt/format.h>
#include <cmath>
#include <memory>

namespace fg {

/// 2^n as it is written; exact up to n = 1023.
template <class N>
[[nodiscard]] N powerOfTwo(int n) {
    return constant<N>(std::ldexp(1.0, n), "", interned(fmt::format("2^{}", n)));
}
template <>
[[nodiscard]] inline double powerOfTwo<double>(int n) {
    return std::ldexp(1.0, n);
}

/// What a converter's step is made of.
enum class StepKind {
    Adc,    ///< reference · fraction/gain, over the steps of the law
    Gate,   ///< 1/gate: one count of a frequency
    Clock,  ///< 1/(clock · periods): one tick of a timer
    One     ///< one pulse
};

struct StepFixed {
    StepKind kind = StepKind::Adc;
    int exponent = 0;              ///< Adc: 2^exponent steps
    bool isMinusOne = false;       ///< Adc: one step less, the law 2^n − 1
    std::string_view referenceId;  ///< which of the parameters the reference is
};

/// The size of one code step, in the unit of the converter's input: V, Hz, s or 1. Source: see Converter.
template <class N>
struct StepFormula {
    N reference{}, fraction{}, gain{};  ///< Adc
    N gate{}, clock{}, periods{};       ///< Gate: s; Clock: Hz and a whole number
    StepFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{self.fixed.referenceId, "Uref", "V"}, self.reference);
        visit(Symbol{"full_scale_of_reference", "k", ""}, self.fraction);
        visit(Symbol{"gain", "G", ""}, self.gain);
        visit(Symbol{"gate_s", "T_gate", "s"}, self.gate);
        visit(Symbol{"clock_Hz", "f_clock", "Hz"}, self.clock);
        visit(Symbol{"periods", "m", ""}, self.periods);
    }

    /// Where the law ends, in V.
    [[nodiscard]] N fullScale() const {
        const N used = nominal(fraction) == 1 ? reference : reference * fraction;
        return nominal(gain) == 1 && !isMoved() ? used : used / gain;
    }
    [[nodiscard]] N size() const {
        switch (fixed.kind) {
            case StepKind::Adc:
                return step("LSB", "V", fixed.isMinusOne ? "code law 2^n − 1" : "code law 2^n", fullScale() / steps());
            case StepKind::Gate:
                return step("count", "Hz", "one count in the gate time", 1 / gate);
            case StepKind::Clock:
                return step("tick", "s", "one tick of the timer's clock", 1 / (clock * periods));
            case StepKind::One:
                return constant<N>(1, "");
        }
        return N(0);
    }

  private:
    /// A slope to the gain needs the gain, though it is 1.
    [[nodiscard]] static constexpr bool isMoved() { return std::is_same_v<N, Dual> || std::is_same_v<N, Bounds>; }
    [[nodiscard]] N steps() const {
        const N all = powerOfTwo<N>(fixed.exponent);
        if (!fixed.isMinusOne) return all;
        return constant<N>(std::ldexp(1.0, fixed.exponent) - 1, "",
                           interned(fmt::format("(2^{} − 1)", fixed.exponent)));
    }
};

/// A known integral non-linearity: the error at codes, straight between, constant beyond. Over codes, and over the
/// straight scale that the codes would have without it.
struct Nonlinearity {
    std::array<double, 2> firstPoint{}, lastPoint{};                ///< code, LSB it reads too much
    std::shared_ptr<const Polyline> errorOverCode, codeOverLinear;  ///< null for a single point
};

struct CodeLawFixed {
    double codeOffset = 0;  ///< ½ for a converter that truncates: its cell is k … k + 1
    std::shared_ptr<const Nonlinearity> nonlinearity;
    Symbol input;
    std::string_view source;
};

/// Between what arrives at the converter and its code: code = input/step − offset, bent by the known non-linearity.
template <class N>
struct CodeLawFormula {
    N size{};  ///< of one step, from StepFormula
    CodeLawFixed fixed{};

    /// The exact code, neither rounded nor limited.
    [[nodiscard]] N codeOf(const N& input) const {
        N linear = input / size;
        if (fixed.codeOffset != 0) linear = linear - half();
        return fixed.nonlinearity ? bent(step("linear", "", fixed.source, linear)) : linear;
    }
    /// The best estimate of the input; also for the mean of several codes.
    [[nodiscard]] N inputOf(const N& code) const {
        const N straight = fixed.nonlinearity ? step("straight", "", kKnown, straightened(code)) : code;
        return step(fixed.input.name, fixed.input.unit, fixed.source,
                    fixed.codeOffset == 0 ? straight * size : (straight + half()) * size);
    }

  private:
    static constexpr std::string_view kKnown = "the converter's known non-linearity";
    [[nodiscard]] static N half() { return constant<N>(0.5, "", "½"); }
    [[nodiscard]] N straightened(const N& code) const {
        const Nonlinearity& known = *fixed.nonlinearity;
        const auto &first = known.firstPoint, &last = known.lastPoint;
        return choose(
            code <= first[0], [&] { return code - first[1]; },
            [&] {
                return choose(
                    code < last[0], [&] { return code - lookup(*known.errorOverCode, code, "", ""); },
                    [&] { return code - last[1]; });
            });
    }
    [[nodiscard]] N bent(const N& linear) const {
        const Nonlinearity& known = *fixed.nonlinearity;
        const auto &first = known.firstPoint, &last = known.lastPoint;
        return choose(
            linear <= first[0] - first[1], [&] { return linear + first[1]; },
            [&] {
                return choose(
                    linear < last[0] - last[1], [&] { return lookup(*known.codeOverLinear, linear, "", ""); },
                    [&] { return linear + last[1]; });
            });
    }
};

/// How a code lies in the word that was read.
struct Unpacking {
    int shift = 0;           ///< the word is the code times 2^shift
    bool isFloored = false;  ///< what is below the code's bits repeats its upper ones
    bool isScaled = false;   ///< a mean of words spread over 16 bits: word · most/65535
    double most = 0;
    int wrap = 0;  ///< bits of the two's complement whose sign was read as a high bit; 0: none
};

template <class N>
[[nodiscard]] N unpacked(const N& word, const Unpacking& how) {
    if (how.isScaled) return word * constant<N>(how.most, "") / constant<N>(65535, "");
    N code = how.shift == 0 ? word : word / powerOfTwo<N>(how.shift);
    if (how.isFloored) code = floor(code);
    return how.wrap == 0 ? code : code - powerOfTwo<N>(how.wrap);
}

}  // namespace fg
