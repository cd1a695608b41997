#pragma once

#include "handover/gauge_code.h"

namespace fg {

// A value of the handed-over code as text for a display, without a printf: rounded to the decimals that the gauge's
// uncertainty deserves (or its description says), halves away from zero, the sign put before what is left.

/// Characters that the text needs, with its end.
[[nodiscard]] int displaySize(const GaugeCode& code);
/// "void glue_pot_text(int32_t value, char *text)", of whole numbers.
[[nodiscard]] std::string displaySignature(const std::string& base, const GaugeCode& code);
/// The function for a value times the code's scale.
[[nodiscard]] std::string displayFunction(const std::string& base, const Gauge& gauge, const GaugeCode& code,
                                          CodeLanguage language);
/// The same in C for a real value; what is too large for it is "?".
[[nodiscard]] std::string realDisplayFunction(const std::string& base, const Gauge& gauge, const GaugeCode& code);

}  // namespace fg
