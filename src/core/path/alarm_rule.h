#pragma once

#include "units/error.h"

#include <optional>

namespace fg {

/// When an alarm goes on and off. Canonical units.
struct AlarmRule {
    std::optional<double> high = {}, low = {};  ///< beyond them it goes on; at least one
    double band = 0;         ///< dead band: how far back from the limit it goes off; a difference, not below 0
    double delay_s = 0;      ///< how long the reading must be beyond before it goes on
    bool isLatched = false;  ///< it stays on until somebody acknowledges it
    bool operator==(const AlarmRule&) const = default;
};

/// Errors: Missing without a limit; Range for a band or a delay below 0, a low limit that is not below the high one, or
/// bands that meet.
[[nodiscard]] Expected<void> checkRule(const AlarmRule& rule);

}  // namespace fg
