#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {

void percentOfWhat(const FindingContext& context, std::vector<Finding>& findings) {
    const Interval span = context.spec.spanCanonical();
    const double middle = (span.low + span.high) / 2;
    for (const AccuracyBand& band : context.path.part().accuracy) {
        if (band.statement.empty() || !band.span.contains(middle) || middle == 0) continue;
        const double limit = band.limitAt(middle), share = limit / std::abs(middle);
        const Unit& unit = context.spec.readingUnit();
        findings.push_back({Severity::Hint,
                            Stage::Sensor,
                            "percent-of-what",
                            "A percentage of what",
                            fmt::format("“{}” is ± {} {} anywhere, so {} % of the reading in the middle of this span.",
                                        band.statement, significantDigits(unit.differenceFromCanonical(limit), 3),
                                        unit.symbol, significantDigits(100 * share, 2)),
                            {}});
        return;
    }
}

}  // namespace fg::rules
