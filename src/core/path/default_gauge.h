#pragma once

#include "catalogue/catalogue.h"
#include "path/gauge_spec.h"
#include "wiring/kind.h"

namespace fg {

/// A sensible first gauge for a part: a wiring its signal can go through, the catalogue's 12-bit 3.3 V converter (or
/// the 5 V one when the part needs more), a span within its range, and usual starting values for what the part leaves
/// free. It can always be built. What nobody gave is marked as an example (GaugeSpec::examples) until the maker changes
/// or confirms it.
[[nodiscard]] GaugeSpec defaultGauge(const Part& part);

/// Usual starting values for a network: 10 kΩ, gain 10, 1 mA.
[[nodiscard]] Parameters startWiring(const WiringKind& kind);

}  // namespace fg
