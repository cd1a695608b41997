#pragma once

#include "bench/document.h"
#include "catalogue/catalogue.h"

#include <optional>

namespace fg {

/// The reading of a gauge as another one's input: a thermometer's for a thermocouple's cold junction, or for a humidity
/// sensor.
struct LinkedReading {
    double reading = 0;   ///< canonical; NaN when the gauge has none now
    double standard = 0;  ///< its standard uncertainty, canonical
    Lent lent = {};       ///< what that is made of
};

/// A field of a gauge that another gauge may fill: a value that gauges read, with an absolute tolerance of its own. Of
/// any stage, and every input of a derived gauge.
struct LinkableField {
    std::string field;  ///< "sensor.cold_junction_degC"
    std::string label;
    Quantity quantity = Quantity::Temperature;
    std::string toleranceId;
};
[[nodiscard]] std::vector<LinkableField> linkableFields(const GaugeSpec& spec, const Catalogue& catalogue);

/// The gauge with the readings of its linked inputs put in, and their uncertainties as tolerances: a standard
/// uncertainty u is that of limits ± √3·u (JCGM 100:2008, 4.3.7). `readingOf` gives what that gauge reads, nothing when
/// there is none. Errors: Unknown for a gauge that is not there, and for a field that takes no reading; Missing when
/// there is no reading now.
[[nodiscard]] Expected<GaugeSpec> withInputs(
    const GaugeSpec& spec, const Catalogue& catalogue,
    const std::function<std::optional<LinkedReading>(const LinkedInput& input)>& readingOf);

/// Brings the linked inputs of a bench up to date: each keeps its gauge by id and takes over its present name. One
/// without an id (of a gauge file, or of a bench of an earlier version), or whose gauge is gone, finds the gauge of its
/// name, where there is exactly one.
void settleInputs(Bench& bench);

/// Why the inputs of a gauge cannot be read first: they rest, one on the other, on this gauge itself. Names the circle.
/// Nothing where there is none.
[[nodiscard]] std::optional<Error> linkCircle(const Bench& bench, const BenchGauge& gauge);

/// Gauges in an order in which each comes after those that its inputs need. A circle, or a gauge that is not there,
/// leaves those that need it at the end.
[[nodiscard]] std::vector<const BenchGauge*> inLinkOrder(const Bench& bench);

}  // namespace fg
