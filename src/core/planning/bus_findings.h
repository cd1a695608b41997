#pragma once

#include "bench/document.h"
#include "findings/finding.h"

namespace fg {

/// What is wrong with a digital gauge's place on the bench: another device at its address, a line whose supply ("wiring.supply_V") its part
/// does not work at. Gauges of one channel and part are one device with several readings.
[[nodiscard]] std::vector<Finding> busFindings(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue);

}  // namespace fg
