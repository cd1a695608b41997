// Room `converters`: models of analog-to-digital converters. Bits, reference, code law, clipping.
#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

#include <cmath>
#include <cstdint>
#include <span>

namespace fg {

/// What one code step is worth. Data sheets and programs use both; a converter's data file says which one holds.
enum class CodeLaw {
    PowerOfTwo,         ///< "2^n":   LSB = Vref/2^n; full-scale code is one LSB below Vref. Default: how successive-approximation and ΔΣ
                        ///< converters are specified.
    PowerOfTwoMinusOne  ///< "2^n-1": LSB = Vref/(2^n − 1); full-scale code is Vref
};

/// How a voltage between two codes is assigned.
enum class Rounding {
    Nearest,  ///< the cell of code k is k ± ½ LSB, its best estimate k·LSB
    Down      ///< the converter truncates: the cell is k … k + 1 LSB, its best estimate (k + ½)·LSB
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
    double exact = 0;  ///< voltage in LSB, not rounded, not limited
    std::int64_t value = 0;
    Clip clip = Clip::None;
};

/// A unipolar n-bit converter.
///
/// Codes 0 … 2^n − 1; the reference voltage is the one really there (the measured one when there is one). A code at either end of the range
/// is a limit, not a value: the pin was at that voltage or beyond. Source: IEEE Std 1241-2010, 4.1 (code transition levels); for the two
/// laws, the "transfer function" section of converter data sheets.
class Adc {
  public:
    /// bits 1 … 24 and reference above 0 V, else a Range error naming converter.bits or converter.reference_V.
    [[nodiscard]] static Expected<Adc> make(int bits, double reference_V, CodeLaw law, Rounding rounding);

    [[nodiscard]] int bits() const { return m_bits; }
    [[nodiscard]] double reference_V() const { return m_reference_V; }
    [[nodiscard]] CodeLaw law() const { return m_law; }
    [[nodiscard]] Rounding rounding() const { return m_rounding; }
    [[nodiscard]] std::int64_t maxCode() const { return (std::int64_t{1} << m_bits) - 1; }
    [[nodiscard]] double lsb_V() const { return m_lsb_V; }

    /// Voltage at the pin to code; voltages beyond the range give the end code, marked.
    [[nodiscard]] Code quantise(double pin_V) const;

    /// Exact code for a voltage, in steps of one LSB on the scale on which voltage() is the inverse.
    [[nodiscard]] double exactCode(double pin_V) const { return pin_V / m_lsb_V - m_codeOffset; }

    /// Best estimate of the pin voltage for a code; also for the mean of several codes, which need not be whole.
    [[nodiscard]] double voltage(double code) const { return (code + m_codeOffset) * m_lsb_V; }

    /// voltage() over a batch in place.
    void voltages(std::span<double> codes) const;

    /// Whether this code is only a limit. Falls to None for codes inside the range.
    [[nodiscard]] Clip clipOf(double code) const;

    /// The voltage that bounds what a clipped code can mean, from the inner side: half a cell in from the end.
    [[nodiscard]] double clipBound_V(double code) const;

    /// Is this a code the converter can give (0 … 2^n − 1)?
    [[nodiscard]] bool canGive(double code) const { return code >= 0 && code <= static_cast<double>(maxCode()); }

    [[nodiscard]] std::vector<TraceLine> explainVoltage(double code) const;
    [[nodiscard]] std::vector<TraceLine> explainCode(double pin_V) const;

  private:
    Adc() = default;
    int m_bits = 0;
    double m_reference_V = 0;
    CodeLaw m_law = CodeLaw::PowerOfTwo;
    Rounding m_rounding = Rounding::Nearest;
    double m_lsb_V = 0;
    double m_codeOffset = 0;
};

}  // namespace fg
