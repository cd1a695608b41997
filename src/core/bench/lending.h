#pragma once

#include "bench/document.h"
#include "catalogue/catalogue.h"

#include <optional>

namespace fg {

/// A reading that one gauge lends to another: a thermometer to a thermocouple as its cold junction, or to a humidity
/// sensor.
struct Lent {
    double reading = 0;   ///< canonical; NaN when the lender has none now
    double standard = 0;  ///< its standard uncertainty, canonical
};

/// A field of the gauge's sensor that another gauge may fill: a value of a measurand with an absolute tolerance of its
/// own.
struct LendableField {
    std::string field;  ///< "sensor.cold_junction_degC"
    std::string label;
    Quantity quantity = Quantity::Temperature;
    std::string toleranceId;
};
[[nodiscard]] std::vector<LendableField> lendableFields(const GaugeSpec& spec, const Catalogue& catalogue);

/// The gauge with its borrowed values put in, and their uncertainties as tolerances: a standard uncertainty u is that
/// of limits ± √3·u (JCGM 100:2008, 4.3.7). `lender` gives what the gauge of that name lends, nothing when there is
/// none. Errors: Unknown for a lender that is not there (or is the gauge itself), and for a field nothing can be lent
/// to; Missing when the lender has no reading now.
[[nodiscard]] Expected<GaugeSpec> withInputs(const GaugeSpec& spec, const Catalogue& catalogue,
                                             const std::function<std::optional<Lent>(const std::string& name)>& lender);

/// Links are written by name and meant by gauge: where one was renamed between `before` and `after`, those that borrow
/// from it follow. Names that two gauges share are left alone.
void followRenames(const Bench& before, Bench& after);

/// Why a gauge's lenders cannot be asked first: they borrow, one from the other, from this gauge itself. Names the
/// circle. Nothing where there is none.
[[nodiscard]] std::optional<Error> lendingCircle(const Bench& bench, const BenchGauge& gauge);

/// Gauges in an order in which every lender comes before those it lends to. A circle, or a name that is not there,
/// leaves those gauges at the end.
[[nodiscard]] std::vector<const BenchGauge*> lendersFirst(const Bench& bench);

}  // namespace fg
