#include "path/source_impedance.h"
#include "converters/kind.h"
#include "findings/rules.h"
#include "units/number_format.h"
#include "wiring/preferred_values.h"

#include <fmt/format.h>

namespace fg::rules {

void sourceImpedance(const FindingContext& context, std::vector<Finding>& findings) {
    const double most = context.converter.numberOr("source_impedance_max_ohm", 0);
    // A capacitor at the pin feeds the sampling capacitor in the source's place, if it is large enough for it.
    const double stated_F = context.converter.numberOr("sample_capacitor_F", 0);
    const double needed_F = reservoir_F(stated_F > 0 ? stated_F : kUsualSample_F, context.path.converter().bits());
    const double there_F = context.spec.wiring.parameters.numberOr("capacitor_F", 0);
    if (!(most > 0) || there_F >= needed_F) return;
    double standard_F = needed_F;
    for (const double picofarad : preferredValues(Series::E6, {1, 1e8}))
        if (picofarad * 1e-12 >= needed_F) {
            standard_F = picofarad * 1e-12;
            break;
        }
    const double worst = worstSourceImpedance_ohm(context.spec, context.path);
    if (!(worst > most)) return;
    findings.push_back(
        {Severity::Doubt, Stage::Wiring, "source-impedance", "The source is too weak for the converter",
         fmt::format(
             "The pin looks into {}; the converter is stated for at most {}. It reads short of the true voltage: a "
             "smaller resistor, a longer acquisition, or a capacitor at the pin, at least {} to feed {} of {} for half "
             "a code.",
             engineering(worst, Quantity::Resistance, 3).joined(), engineering(most, Quantity::Resistance, 3).joined(),
             engineering(needed_F, Quantity::Capacitance, 2).joined(),
             stated_F > 0 ? "its sampling capacitor" : "a usual sampling capacitor",
             shortEngineering(stated_F > 0 ? stated_F : kUsualSample_F, Quantity::Capacitance).joined()),
         FindingAction{"Put " + shortEngineering(standard_F, Quantity::Capacitance).joined() + " at the pin", "",
                       [standard_F](GaugeSpec& spec) { spec.wiring.parameters.set("capacitor_F", standard_F); }}});
}

}  // namespace fg::rules
