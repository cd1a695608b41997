#include "converters/kind.h"
#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

// Internal references are made for the converter alone: they have no pin, or one that gives no current.
void referenceFeed(const FindingContext& context, std::vector<Finding>& findings) {
    const Parameters& wiring = context.spec.wiring.parameters;
    if (context.path.isRatiometric() && !wiring.has("source") && !isReferenceSupply(context.converter))
        findings.push_back(
            {Severity::Doubt,
             Stage::Wiring,
             "feed-not-given",
             "What feeds the divider is not given",
             fmt::format("It is taken as fed from the converter's reference of {}. Say source “reference”, or the "
                         "voltage of its "
                         "rail as source_V.",
                         engineering(context.path.converter().reference_V(), Quantity::Voltage, 4).joined()),
             {}});
    if (!context.path.isRatiometric() || context.converter.textOr("reference_kind", "") != "internal") return;
    const std::string converter = context.converterPart ? context.converterPart->id : "This converter";
    const std::string current = [&] {
        const auto heating = context.path.heat().at(context.path.signalAt(context.spec.spanCanonical().low));
        return heating ? fmt::format(" The circuit takes {}.",
                                     engineering(heating->current_A, Quantity::Current, 3).joined())
                       : std::string();
    }();
    findings.push_back(
        {Severity::Fault,
         Stage::Wiring,
         "reference-feeds",
         "The reference cannot feed the circuit",
         fmt::format("{} has an internal reference of {}: it has no pin, or one that carries no current.{} Feed the "
                     "sensor from "
                     "a rail; then nothing cancels, and the rail's tolerance counts.",
                     converter, engineering(context.path.converter().reference_V(), Quantity::Voltage, 4).joined(),
                     current),
         {}});
}

}  // namespace fg::rules
