// Room `converters`: models of what turns a signal into a whole number: analog-to-digital converters, counters, timers.
// Bits, reference, gain, code law, polarity, clipping; the words in which the codes arrive.
#pragma once

#include "converters/code_law.h"
#include "converters/word_format.h"
#include "sensors/parameters.h"
#include "units/error.h"

#include <cmath>
#include <cstdint>
#include <memory>
#include <optional>

namespace fg {

/// What one code step is worth. Data sheets and programs use both; a converter's data file says which one holds.
enum class CodeLaw {
    PowerOfTwo,         ///< "2^n":   LSB = Vref/2^n; full-scale code is one LSB below Vref. Default: how
                        ///< successive-approximation and ΔΣ converters are specified.
    PowerOfTwoMinusOne  ///< "2^n-1": LSB = Vref/(2^n − 1); full-scale code is Vref
};

/// How a voltage between two codes is assigned.
enum class Rounding {
    Nearest,  ///< the cell of code k is k ± ½ LSB, its best estimate k·LSB
    Down      ///< the converter truncates: the cell is k … k + 1 LSB, its best estimate (k + ½)·LSB
};

/// Which codes there are.
enum class Polarity {
    Unipolar,  ///< 0 … 2^n − 1
    Bipolar    ///< −2^(n−1) … 2^(n−1) − 1, for differential inputs
};

/// Whether a value is itself or only a limit.
enum class Clip {
    None,
    AtLeast,  ///< the true value is this or above
    AtMost    ///< the true value is this or below
};

/// A limit seen through a falling function turns round.
[[nodiscard]] Clip flipped(Clip clip);

/// "at least", "at most" or nothing.
[[nodiscard]] std::string_view clipText(Clip clip);

/// A code as the hardware would give it, with the exact value before rounding beside it.
struct Code {
    double exact = 0;  ///< input in LSB, not rounded, not limited
    std::int64_t value = 0;
    Clip clip = Clip::None;
};

/// Everything that makes an analog-to-digital converter.
struct AdcDesign {
    int bits = 0;            ///< 1 … 32
    double reference_V = 0;  ///< as it really is, above 0
    CodeLaw law = CodeLaw::PowerOfTwo;
    Rounding rounding = Rounding::Nearest;
    Polarity polarity = Polarity::Unipolar;
    double gain = 1;               ///< of the programmable amplifier before it, above 0
    double referenceFraction = 1;  ///< full scale over reference at gain 1: ½ for a bridge converter of ± ½ Vref, 2 for
                                   ///< a reference input that takes half of full scale
    WordFormat word = WordFormat::RightJustified;
    std::vector<Point> nonlinearity =
        {};  ///< known error [code, LSB it reads too much], ascending; straight between, constant beyond
    bool isMeasured = false;  ///< reference_V is the measured one
};

/// What a counter counts, and in which steps.
struct CounterDesign {
    int bits = 0;
    StepKind kind = StepKind::One;
    double gate_s = 0;    ///< Gate
    double clock_Hz = 0;  ///< Clock
    double periods = 1;   ///< Clock: periods timed together
};

/// An n-bit converter of a voltage, or a counter of something else, with equal steps.
///
/// Input in the canonical unit of input(). Unipolar: LSB = FS/2^n or FS/(2^n − 1); bipolar, two's complement:
/// FS/2^(n−1) or FS/(2^(n−1) − 1); FS = reference · fraction/gain. The reference is the one really there (the measured
/// one when there is one). A code at either end of the range is a limit, not a value: the input was there or beyond.
/// Source: IEEE Std 1241-2010, 4.1 (code transition levels); for the two laws, gains and polarities, the "transfer
/// function" section of converter data sheets.
class Converter {
  public:
    /// Errors: Range, naming converter.bits (1 … 32), converter.reference_V, converter.gain,
    /// converter.full_scale_of_reference or converter.nonlinearity_code_LSB.
    [[nodiscard]] static Expected<Converter> makeAdc(const AdcDesign& design);

    /// The usual case: unipolar, gain 1.
    [[nodiscard]] static Expected<Converter> make(int bits, double reference_V, CodeLaw law, Rounding rounding);

    /// A counter of a frequency, a time or pulses. Errors: Range at converter.bits, gate_s or clock_Hz.
    [[nodiscard]] static Expected<Converter> makeCounter(const CounterDesign& design);

    [[nodiscard]] Quantity input() const { return m_input; }
    [[nodiscard]] bool isAdc() const { return m_input == Quantity::Voltage; }
    [[nodiscard]] int bits() const { return m_design.bits; }
    [[nodiscard]] double reference_V() const { return m_design.reference_V; }  ///< 0 for counters
    [[nodiscard]] double gain() const { return m_design.gain; }
    [[nodiscard]] CodeLaw law() const { return m_design.law; }
    [[nodiscard]] Rounding rounding() const { return m_design.rounding; }
    [[nodiscard]] Polarity polarity() const { return m_design.polarity; }
    [[nodiscard]] WordFormat word() const { return m_design.word; }
    [[nodiscard]] std::int64_t minCode() const { return m_minCode; }
    [[nodiscard]] std::int64_t maxCode() const { return m_maxCode; }
    [[nodiscard]] double codeCount() const { return static_cast<double>(m_maxCode - m_minCode) + 1; }
    [[nodiscard]] double lsb() const { return m_law.size; }
    [[nodiscard]] double fullScale() const { return m_fullScale; }  ///< where the law ends, in the input's unit

    /// Input to code; inputs beyond the range give the end code, marked.
    [[nodiscard]] Code quantise(double input) const;

    /// Exact code for an input, in steps of one LSB on the scale on which inputOf() is the inverse.
    [[nodiscard]] double exactCode(double input) const { return m_law.codeOf(input); }

    /// Best estimate of the input for a code; also for the mean of several codes, which need not be whole.
    [[nodiscard]] double inputOf(double code) const { return m_law.inputOf(code); }

    /// The parameters of the step that may be moved, in the order in which the functions below take them.
    [[nodiscard]] std::vector<FormulaParameter> parameters() const;
    /// exactCode() with other parameters, as many as parameters().
    [[nodiscard]] double exactCodeWith(std::span<const double> parameters, double input) const;
    /// The same over a whole batch in place; each parameter a column of its own, null where it stays as it is.
    void exactCodesWith(std::span<const double* const> columns, std::span<double> values) const;
    [[nodiscard]] Dual exactCodeWith(std::span<const Dual> parameters, const Dual& input) const;
    /// inputOf() with its slope to the code.
    [[nodiscard]] Dual inputOf(const Dual& code) const;

    /// Where inputOf() is (code + offset)·lsb in just these two steps, the offset; nothing with a known non-linearity.
    [[nodiscard]] std::optional<double> straightOffset() const {
        return m_law.fixed.nonlinearity ? std::nullopt : std::optional<double>(m_law.fixed.codeOffset);
    }

    /// Whether this code is only a limit. Falls to None for codes inside the range.
    [[nodiscard]] Clip clipOf(double code) const;

    /// The input that bounds what a clipped code can mean, from the inner side: half a cell in from the end.
    [[nodiscard]] double clipBound(double code) const;

    /// Bits that noise of `rms` (in the input's unit) leaves still: log2 of the whole range over its peak to peak, 6.6
    /// rms (99.9 % of a normal distribution). Not above bits().
    [[nodiscard]] double noiseFreeBits(double rms) const;

    /// Is this a code the converter can give?
    [[nodiscard]] bool canGive(double code) const {
        return code >= static_cast<double>(m_minCode) && code <= static_cast<double>(m_maxCode);
    }

    /// Do raw words mean their codes directly, with nothing to undo?
    [[nodiscard]] bool wordsAreCodes() const {
        return m_design.word == WordFormat::RightJustified && m_design.polarity == Polarity::Unipolar;
    }

    /// Bits of the word in which a code arrives.
    [[nodiscard]] int wordBits() const;

    /// The code that a raw word (or a mean of words) stands for; see word_format.h. Not whole for a mean. Errors: Range
    /// at "converter" for what this converter cannot send.
    [[nodiscard]] Expected<double> codeOfWord(double word) const;

    /// The word in which the converter sends a code, as an unsigned number.
    [[nodiscard]] std::int64_t wordOfCode(std::int64_t code) const;

    /// How the code came out of a word; nothing where words are codes.
    [[nodiscard]] std::vector<TraceLine> explainWord(double word) const;
    [[nodiscard]] std::vector<TraceLine> explainInput(double code) const;
    [[nodiscard]] std::vector<TraceLine> explainCode(double input) const;
    /// inputOf() recorded, behind a code recorded before.
    [[nodiscard]] Recorded recordInput(Recording& in, const Recorded& code) const {
        return recordedLaw(in).inputOf(code);
    }
    /// How clipBound() came about.
    [[nodiscard]] TraceLine explainClipBound(double code) const;

  private:
    Converter() = default;
    /// The code half a cell in from the end.
    [[nodiscard]] double innerCode(double code) const {
        return code + (code <= static_cast<double>(m_minCode) ? 0.5 : -0.5);
    }
    void setStep(StepFormula<double> size);
    [[nodiscard]] Expected<Unpacking> unpackingOf(double word) const;
    template <class N>
    [[nodiscard]] CodeLawFormula<N> lawWith(std::span<const N> parameters) const;
    [[nodiscard]] CodeLawFormula<Recorded> recordedLaw(Recording& in) const;

    AdcDesign m_design;
    Quantity m_input = Quantity::Voltage;
    std::int64_t m_minCode = 0;
    std::int64_t m_maxCode = 0;
    double m_fullScale = 0;
    StepFormula<double> m_step;
    CodeLawFormula<double> m_law;
};

}  // namespace fg
