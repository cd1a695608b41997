#include "findings/rules.h"
#include "uncertainty/improvements.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::rules {

void accuracyWanted(const GaugeSpec& spec, const Budget& budget, std::vector<Finding>& findings) {
    const Unit& unit = spec.readingUnit();
    const double wanted = unit.differenceToCanonical(spec.reading.wanted);
    if (!(wanted > 0 && budget.expanded > wanted)) return;
    findings.push_back({Severity::Doubt,
                        Stage::Reading,
                        "accuracy-wanted",
                        "Less accurate than wanted",
                        fmt::format("± {} {} against the ± {} {} wanted.",
                                    significantDigits(unit.differenceFromCanonical(budget.expanded), 2), unit.symbol,
                                    plainNumber(spec.reading.wanted, 3), unit.symbol),
                        {}});
}

void accuracy(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.budget) return;
    const Budget& budget = *context.budget;
    const Unit& unit = context.spec.readingUnit();
    const auto difference = [&](double canonical) {
        return significantDigits(unit.differenceFromCanonical(canonical), 2);
    };
    if (!budget.sensorStated)
        findings.push_back(
            {Severity::Doubt,
             Stage::Sensor,
             "accuracy-unknown",
             "Accuracy of the sensor not given",
             fmt::format(
                 "± {} {} leaves the sensor itself out. Enter its tolerances on the Sensor sheet, or calibrate.",
                 difference(budget.expanded), unit.symbol),
             {}});
    accuracyWanted(context.spec, budget, findings);

    const auto worst = std::max_element(budget.contributions.begin(), budget.contributions.end(),
                                        [](const auto& a, const auto& b) { return a.share < b.share; });
    if (worst == budget.contributions.end() || worst->share < 0.4 || worst->parameter.empty()) return;
    const double without =
        expandedOf(budget.contributions, static_cast<std::size_t>(worst - budget.contributions.begin()));
    std::string detail = fmt::format("{} is ± {} {}, {} % of the whole. Without it: ± {} → ± {} {}.", worst->label,
                                     difference(worst->limit), unit.symbol, fixedDigits(100 * worst->share, 0),
                                     difference(budget.expanded), difference(without), unit.symbol);
    // No button: a better resistor or a meter reading is only true once it is there; then its sheet is told.
    if (const auto ways = improvements(context.spec, context.catalogue, budget); !ways.empty()) {
        const Improvement& best = ways.front();
        detail += fmt::format(" What helps most: {}, ± {} {}.", best.what, difference(best.expanded), unit.symbol);
    }
    findings.push_back({Severity::Hint, worst->stage, "dominates", "One thing decides the uncertainty", detail, {}});
}

}  // namespace fg::rules
