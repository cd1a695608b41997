#pragma once

#include "catalogue/catalogue.h"
#include "path/analog_path.h"
#include "sizing/solver.h"

#include <functional>

namespace fg {

/// A solver as it applies to one gauge: what the gauge already knows of its inputs, and which of the gauge's values it
/// finds.
struct GaugeSolver {
    std::string id;       ///< "load", as in `fgauge size load`
    std::string title;    ///< "Load for a current output"
    std::string purpose;  ///< one sentence
    std::string target;   ///< the value it finds, "wiring.load_ohm"; empty when it changes nothing in the gauge
    std::vector<ParameterSpec> inputs;  ///< what it asks
    Parameters known;                   ///< inputs the gauge answers by itself
    std::function<Expected<std::vector<SizingOption>>(const Parameters& inputs, Series series, std::size_t most)> solve;
    std::function<void(GaugeSpec&, const SizingOption&)>
        take;  ///< puts an option into a gauge; empty with an empty target
};

/// Every solver, those that find a value of this gauge first. A gauge that cannot be built knows none of their inputs.
[[nodiscard]] std::vector<GaugeSolver> solversFor(const GaugeSpec& spec, const Catalogue& catalogue);

/// Does this option have the values the gauge has now?
[[nodiscard]] bool isTaken(const GaugeSolver& solver, const GaugeSpec& spec, const SizingOption& option);

/// A named value as people read it: "load_ohm" is "Load", 4700 is "4.7 kΩ"; "range_used" 0.55 is "55 %".
[[nodiscard]] std::string namedLabel(const std::string& name);
[[nodiscard]] std::string namedText(const std::string& name, double value);

}  // namespace fg
