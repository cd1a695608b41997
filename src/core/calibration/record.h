#pragma once

#include "gauge/gauge.h"
#include "papers/document.h"

namespace fg {

/// The calibration in force as a paper: gauge, points, fit, what it does over the span, the uncertainty and how it came
/// about, what to mind. A maker's record, and it says so. Errors: Missing for a gauge without a correction; those of
/// Gauge::make().
[[nodiscard]] Expected<Paper> calibrationRecord(const GaugeSpec& spec, const Catalogue& catalogue);

}  // namespace fg
