#pragma once

#include "catalogue/catalogue.h"
#include "path/gauge_spec.h"

namespace fg {

/// A sensible first gauge for a part: a wiring its signal can go through, the catalogue's 12-bit 3.3 V converter (or the 5 V one when the
/// part needs more), a span within its range, and usual starting values for what the part leaves free. It can always be built; the maker
/// changes it from there.
[[nodiscard]] GaugeSpec defaultGauge(const Part& part);

}  // namespace fg
