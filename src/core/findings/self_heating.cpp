#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void selfHeating(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.spec.quantity != Quantity::Temperature || !context.budget) return;
    const auto heating = selfHeatingAt(context.spec, context.path, context.budget->at);
    if (!heating || heating->rise_K < 0.1 || heating->rise_K * 3 < context.budget->expanded) return;
    const Unit& unit = context.spec.readingUnit();
    const double fixed_ohm = context.spec.wiring.parameters.numberOr("fixed_ohm", 0);
    findings.push_back(
        {Severity::Doubt,
         Stage::Wiring,
         "self-heating",
         "The sensor heats itself",
         fmt::format("{} puts {} into it: up to {} {} too high all the time. A larger R1 than {}, or feeding it only while it is read, "
                     "takes that away.",
                     engineering(heating->current_A, Quantity::Current, 3).joined(), significantDigits(1e3 * heating->power_W, 3) + " mW",
                     significantDigits(unit.differenceFromCanonical(heating->rise_K), 2), unit.symbol,
                     engineering(fixed_ohm, Quantity::Resistance, 2).joined()),
         {}});
}

}  // namespace fg::rules
