#pragma once

#include "bench/document.h"
#include "findings/finding.h"
#include "planning/addresses.h"

namespace fg {

/// The addressed devices of the bench's one bus, this gauge's own first, each once: gauges of one channel and part are
/// one device with several readings. Empty for a part without addresses.
[[nodiscard]] std::vector<BusPlace> placesOnBus(const Bench& bench, const BenchGauge& gauge,
                                                const Catalogue& catalogue);

/// What is wrong with a digital gauge's place on the bench: another device at its address, a line whose supply
/// ("wiring.supply_V") its part does not work at or that a neighbour says otherwise, its pull-up, how often it is
/// asked.
[[nodiscard]] std::vector<Finding> busFindings(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue);

}  // namespace fg
