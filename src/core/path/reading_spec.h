#pragma once

#include "path/gauge_spec.h"
#include "units/error.h"

namespace fg {

/// Is the reading of a gauge described so that it can be given: a unit of its quantity, a span that has a low end below
/// the high end? Errors name reading.unit and reading.span.
[[nodiscard]] Expected<void> checkReading(const GaugeSpec& spec);

}  // namespace fg
