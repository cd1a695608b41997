#pragma once

#include "catalogue/catalogue.h"
#include "gauge/gauge.h"
#include "units/error.h"

#include <string>

namespace fg::cli {

/// A gauge said on the command line, without a file.
struct InlineGauge {
    std::string part;       ///< catalogue designation
    std::string converter;  ///< "bits=10,vref=5,law=2^n", or a converter's id first
    std::string wiring;     ///< "divider,fixed_ohm=10k,sensor_side=low"; empty: what suits the part
    std::string sensor;     ///< "r25_ohm=10k,beta_K=3950"
    std::string unit;       ///< of the reading; empty: canonical
};

class Verb;

/// --gauge, --part, --adc, --wiring and --sensor of a verb that takes a gauge either way.
void addGaugeOptions(Verb& verb, std::string& file, InlineGauge& wish);

/// The part's first gauge (path/default_gauge.h) with what was said in its place. Values are read as everywhere (10k,
/// 3V3, 1 %). Errors name the option and the piece.
[[nodiscard]] Expected<GaugeSpec> gaugeWithoutFile(const InlineGauge& wish, const Catalogue& catalogue);

/// The gauge of a file, or of the command line where `file` is empty; giving both or neither is an error. A gauge with
/// values that nobody gave has no reading: Missing, with the list of what is to be given.
[[nodiscard]] Expected<Gauge> openGauge(const std::string& file, const InlineGauge& wish);

}  // namespace fg::cli
