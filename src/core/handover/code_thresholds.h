#pragma once

#include "gauge/gauge.h"
#include "path/threshold.h"

namespace fg {

/// One comparison of the gauge's alarm, as code has it.
struct CodeThreshold {
    std::string name;  ///< "High on"
    std::string id;    ///< "high_on"
    double setAt = 0;  ///< canonical: the limit, or where the dead band ends
    Threshold threshold;
};

/// The comparisons of an analog gauge's alarm: on at the limit and, with a dead band, off again. Neither comes early.
/// Those that no code can tell are left out. Empty without an alarm.
[[nodiscard]] std::vector<CodeThreshold> codeThresholds(const Gauge& gauge);

}  // namespace fg
