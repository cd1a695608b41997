#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::rules {
namespace {

/// What the converter looks into at a value of the measurand, in Ω; 0 when unknown.
double impedanceAt(const FindingContext& context, double world) {
    const Parameters& wiring = context.spec.wiring.parameters;
    const auto parallel = [](double a, double b) { return std::isinf(a) ? b : a * b / (a + b); };
    if (context.spec.wiring.kind == "divider")
        return parallel(context.path.sensor().forward(context.path.correction().undo(world)), wiring.numberOr("fixed_ohm", 0));
    if (context.spec.wiring.kind == "attenuator") return parallel(wiring.numberOr("top_ohm", 0), wiring.numberOr("bottom_ohm", 0));
    if (context.spec.wiring.kind == "load") return wiring.numberOr("load_ohm", 0);
    return 0;
}

}  // namespace

void sourceImpedance(const FindingContext& context, std::vector<Finding>& findings) {
    const double most = context.converter.numberOr("source_impedance_max_ohm", 0);
    // A capacitor at the pin feeds the sampling capacitor in the source's place.
    if (!(most > 0) || context.spec.wiring.parameters.numberOr("capacitor_F", 0) >= 1e-9) return;
    const Interval span = context.spec.spanCanonical();
    const double worst = std::max(impedanceAt(context, span.low), impedanceAt(context, span.high));
    if (!(worst > most)) return;
    findings.push_back(
        {Severity::Doubt, Stage::Wiring, "source-impedance", "The source is too weak for the converter",
         fmt::format("The pin looks into {}; the converter is stated for at most {}. It reads short of the true voltage: a "
                     "smaller resistor, 100 nF at the pin, or a longer acquisition.",
                     engineering(worst, Quantity::Resistance, 3).joined(), engineering(most, Quantity::Resistance, 3).joined()),
         FindingAction{"Put 100 nF at the pin", "", [](GaugeSpec& spec) { spec.wiring.parameters.set("capacitor_F", 1e-7); }}});
}

}  // namespace fg::rules
