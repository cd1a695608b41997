#pragma once

#include "uncertainty/budget.h"

#include <functional>

namespace fg {

/// Something that would make the reading more certain, and what it buys.
struct Improvement {
    std::string what;                       ///< "A 0.1 % resistor for R1"
    double expanded = 0;                    ///< U after it, canonical
    std::string parameter;                  ///< the contribution it is about, as in Contribution
    std::function<void(GaugeSpec&)> apply;  ///< empty for what is done with hands, not in the gauge
};

/// What would help most at the budget's value, best first; only what takes at least a twentieth off U. Each is the
/// whole budget worked again with the change made: a measured reference (± 0.1 %), a 0.1 % resistor, two more bits, a
/// one-point calibration against something five times as certain, a sensor fed only while it is read.
[[nodiscard]] std::vector<Improvement> improvements(const GaugeSpec& spec, const Catalogue& catalogue,
                                                    const Budget& budget);

}  // namespace fg
