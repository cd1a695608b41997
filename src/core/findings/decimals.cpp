#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {

void decimals(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.budget || !context.spec.reading.decimals) return;
    const Unit& unit = context.spec.readingUnit();
    const double expanded = unit.differenceFromCanonical(context.budget->expanded);
    const int deserved = decimalsFor(expanded), asked = *context.spec.reading.decimals;
    if (asked <= deserved || !(expanded > 0)) return;
    findings.push_back(
        {Severity::Hint, Stage::Reading, "decimals", "More decimals than it deserves",
         fmt::format("{} are asked for; ± {} {} leaves {} that mean something. The others are noise.", asked,
                     significantDigits(expanded, 2), unit.symbol, deserved),
         FindingAction{"Show what it deserves", "", [](GaugeSpec& spec) { spec.reading.decimals.reset(); }}});
}

}  // namespace fg::rules
