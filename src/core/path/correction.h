#pragma once

#include "path/gauge_spec.h"
#include "units/error.h"

namespace fg {

/// The correction a calibration found: corrected = value + offset + slope · value. Canonical units; slope > −1.
class Correction {
  public:
    [[nodiscard]] static Expected<Correction> make(const CorrectionSpec& spec);

    [[nodiscard]] double amount(double value) const { return m_offset + m_slope * value; }
    [[nodiscard]] double apply(double value) const { return value + amount(value); }
    [[nodiscard]] double undo(double corrected) const { return (corrected - m_offset) / (1 + m_slope); }
    [[nodiscard]] bool isNone() const { return m_offset == 0 && m_slope == 0; }

  private:
    double m_offset = 0;
    double m_slope = 0;
};

}  // namespace fg
