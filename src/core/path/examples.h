#pragma once

#include "catalogue/catalogue.h"
#include "path/gauge_spec.h"

#include <vector>

namespace fg {

/// A value in a gauge that its maker has not given yet: what stands there is an example (GaugeSpec::examples).
struct ExampleValue {
    std::string field;         ///< "sensor.r25_ohm"
    std::string label;         ///< "R25, at 25 °C"
    std::string text;          ///< the example as people write it: "10 kΩ"
    std::string unit;          ///< what it is given in: "Ω", "pairs of °C and V"; empty for a plain number or a word
    bool isTolerance = false;  ///< a tolerance widens the reading; without the others there is no reading
};

/// The examples of a gauge in path order. Fields that its part, wiring or converter does not have are left out.
[[nodiscard]] std::vector<ExampleValue> exampleValues(const GaugeSpec& spec, const Catalogue& catalogue);

/// A value of a gauge's sensor, wiring or converter, as people write it.
struct GivenValue {
    std::string field;      ///< "wiring.fixed_ohm"
    std::string label;      ///< "R1"
    std::string text;       ///< "2.2 kΩ"
    std::string tolerance;  ///< "± 1 %"; empty where none is given
    bool isExample = false;
};

/// What a gauge says of its sensor, wiring and converter, in path order; values of catalogue parts are theirs.
[[nodiscard]] std::vector<GivenValue> givenValues(const GaugeSpec& spec, const Catalogue& catalogue);

/// A gauge with examples has no reading of its own: the Missing error that lists what is to be given, with units and an
/// example each. Nothing when all was given, or only tolerances are open.
[[nodiscard]] std::optional<Error> missingValues(const GaugeSpec& spec, const Catalogue& catalogue);

/// After an edit: what differs from `before` was given, and is no example any more.
void settleExamples(const GaugeSpec& before, GaugeSpec& after);

/// One field was given, whatever its value.
void confirmExample(GaugeSpec& spec, const std::string& field);

}  // namespace fg
