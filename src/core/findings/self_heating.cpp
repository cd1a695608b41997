#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void selfHeating(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.spec.quantity != Quantity::Temperature || !context.budget) return;
    const auto heating = context.path.heat().at(context.path.signalAt(context.budget->at));
    if (!heating || heating->rise_K < 0.1 || heating->rise_K * 3 < context.budget->expanded) return;
    const Unit& unit = context.spec.readingUnit();
    const auto difference = [&](double kelvin) { return significantDigits(unit.differenceFromCanonical(kelvin), 2); };
    findings.push_back(
        {heating->uncertainty_K > context.budget->expanded / 2 ? Severity::Doubt : Severity::Hint,
         Stage::Wiring,
         "self-heating",
         "The sensor heats itself",
         fmt::format("{} puts {} into it: {} {} too warm, which the formula takes off, ± {} {}{}. Feed it only while "
                     "it is read, or with less "
                     "current, and there is nothing to take off.",
                     engineering(heating->current_A, Quantity::Current, 3).joined(),
                     significantDigits(1e3 * heating->power_W, 3) + " mW", difference(heating->rise_K), unit.symbol,
                     difference(heating->uncertainty_K), unit.symbol,
                     heating->isToleranceTaken ? " (half of it: no tolerance of the dissipation constant is given)"
                                               : ""),
         {}});
}

}  // namespace fg::rules
