#pragma once

#include "handover/gauge_code.h"

namespace fg {

/// What is to be known about code before it is used, worst first.
[[nodiscard]] std::vector<Finding> codeFindings(const Gauge& gauge, const CodeWish& wish, const GaugeCode& code);

}  // namespace fg
