#pragma once

#include "gauge/gauge.h"

#include <string>
#include <vector>

namespace fg {

/// A place of the span: the code that stood for it without the correction, and with it.
struct CodeChange {
    double world = 0;  ///< canonical
    double before = 0, after = 0;
};

/// What a correction does to the codes: what a program that compares codes would have to change.
struct CodesChanged {
    std::vector<CodeChange> places;  ///< both ends of the span and its middle
    CodeChange most;                 ///< where they differ most
    std::string text;                ///< that in one sentence
};

/// Of an analog gauge with a correction in force. Errors: Missing without one; Unsupported for a digital part and for
/// parameters that points gave the sensor: what they were before is not in the gauge.
[[nodiscard]] Expected<CodesChanged> codesChanged(const GaugeSpec& spec, const Catalogue& catalogue);

}  // namespace fg
