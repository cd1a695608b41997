#pragma once

#include "numeric/formula_transfer.h"
#include "path/gauge_spec.h"
#include "units/error.h"

namespace fg {

/// corrected = value + offset + slope · value; slope > −1.
template <class N>
struct CorrectionFormula {
    N offset{}, slope{};
    bool isLine = false;  ///< else an offset alone

    [[nodiscard]] N amount(const N& value) const { return isLine ? offset + slope * value : offset; }
    [[nodiscard]] N apply(const N& value) const { return value + amount(value); }
    [[nodiscard]] N undo(const N& corrected) const {
        return isLine ? (corrected - offset) / (1 + slope) : corrected - offset;
    }
};

/// The correction a calibration found, in canonical units.
class Correction {
  public:
    [[nodiscard]] static Expected<Correction> make(const CorrectionSpec& spec);

    [[nodiscard]] double amount(double value) const { return m_formula.amount(value); }
    [[nodiscard]] double apply(double value) const { return m_formula.apply(value); }
    [[nodiscard]] double undo(double corrected) const { return m_formula.undo(corrected); }
    [[nodiscard]] Dual apply(const Dual& value) const;
    [[nodiscard]] bool isNone() const { return m_formula.offset == 0 && m_formula.slope == 0; }

    /// The line of the trace; none without a correction.
    [[nodiscard]] std::vector<TraceLine> explain(double value, Quantity quantity) const;

  private:
    CorrectionFormula<double> m_formula;
};

}  // namespace fg
