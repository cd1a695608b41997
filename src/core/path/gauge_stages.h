#pragma once

#include "path/gauge_spec.h"
#include "path/stage.h"

namespace fg {

/// Has the path of such a gauge that stage? One without a sensor of its own has fewer than seven: a derived gauge its
/// inputs (at Sensor), formula, correction and reading; what the board says no sensor and no wiring.
[[nodiscard]] bool hasStage(const GaugeSpec& spec, Stage stage);

}  // namespace fg
