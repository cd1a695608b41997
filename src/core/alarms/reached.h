#pragma once

#include "alarms/alarm.h"
#include "gauge/gauge.h"

namespace fg {

/// The readings at which a rule really goes on and off: a gauge reads in steps, and a limit lies between two of them.
/// ± 1 °F on half-degree steps is not ± 1. Canonical; nothing for a limit that is not given.
struct ReachedReadings {
    std::optional<double> highOn = {}, highOff = {}, lowOn = {}, lowOff = {};
    double step = 0;  ///< between two readings at the first limit
};

/// Errors: those of checkRule(); Domain where the gauge cannot read beyond a limit: then that alarm never goes on.
[[nodiscard]] Expected<ReachedReadings> reachedReadings(const Gauge& gauge, const AlarmRule& rule);

/// The next reading that a gauge can show above (`up`) or below a value; the value itself only where `orEqual`. Error:
/// Domain where it has none.
[[nodiscard]] Expected<double> nextReading(const Gauge& gauge, double value, bool up, bool orEqual);

}  // namespace fg
