#include "path/source_impedance.h"
#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void sourceImpedance(const FindingContext& context, std::vector<Finding>& findings) {
    const double most = context.converter.numberOr("source_impedance_max_ohm", 0);
    // A capacitor at the pin feeds the sampling capacitor in the source's place.
    if (!(most > 0) || context.spec.wiring.parameters.numberOr("capacitor_F", 0) >= 1e-9) return;
    const double worst = worstSourceImpedance_ohm(context.spec, context.path);
    if (!(worst > most)) return;
    findings.push_back(
        {Severity::Doubt, Stage::Wiring, "source-impedance", "The source is too weak for the converter",
         fmt::format("The pin looks into {}; the converter is stated for at most {}. It reads short of the true voltage: a "
                     "smaller resistor, 100 nF at the pin, or a longer acquisition.",
                     engineering(worst, Quantity::Resistance, 3).joined(), engineering(most, Quantity::Resistance, 3).joined()),
         FindingAction{"Put 100 nF at the pin", "", [](GaugeSpec& spec) { spec.wiring.parameters.set("capacitor_F", 1e-7); }}});
}

}  // namespace fg::rules
