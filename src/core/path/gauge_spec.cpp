#include "path/gauge_spec.h"

#include <algorithm>

namespace fg {

const Unit& GaugeSpec::readingUnit() const {
    const auto unit = unitFromId(reading.unit, quantity);
    return unit ? **unit : canonicalUnit(quantity);
}

Interval GaugeSpec::spanCanonical() const {
    const Unit& unit = readingUnit();
    return {unit.toCanonical(reading.span.low), unit.toCanonical(reading.span.high)};
}

}  // namespace fg
