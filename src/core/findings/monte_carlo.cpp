#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void monteCarlo(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.run) return;
    const auto budget = budgetAt(context.spec, context.catalogue, context.run->at);
    if (!budget || agree(*budget, *context.run)) return;
    const Unit& unit = context.spec.readingUnit();
    const auto difference = [&](double canonical) {
        return significantDigits(unit.differenceFromCanonical(canonical), 3);
    };
    findings.push_back(
        {Severity::Doubt,
         Stage::Reading,
         "monte-carlo",
         "Budget and Monte Carlo differ",
         fmt::format("At {} {} the budget says u = {} {}, {} draws say {} {}. The path is curved within its "
                     "tolerances: trust the draws, ± {} {}.",
                     significantDigits(unit.fromCanonical(context.run->at), 4), unit.symbol,
                     difference(budget->standard), unit.symbol, context.run->draws, difference(context.run->standard),
                     unit.symbol, difference(context.run->expanded), unit.symbol),
         {}});
}

}  // namespace fg::rules
