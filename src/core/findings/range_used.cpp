#include "findings/rules.h"
#include "path/span_curves.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::rules {

void rangeUsed(const FindingContext& context, std::vector<Finding>& findings) {
    const Interval span = context.spec.spanCanonical();
    const auto [used, first, last] = rangeUsedBy(context.spec, context.path);
    if (!std::isfinite(first) || !std::isfinite(last) || used >= 0.1) return;
    if (!context.path.converter().isAdc()) return;  // a counter costs nothing for what it does not use
    const double codes = context.path.converter().codeCount();
    const Unit& unit = context.spec.readingUnit();
    const double step = unit.differenceFromCanonical(span.width()) / std::max(1e-9, std::abs(last - first));
    findings.push_back(
        {Severity::Doubt,
         Stage::Converter,
         "range-used",
         "Only a little of the converter is used",
         fmt::format("{} … {} {} moves the code by {} of {} ({} %): one code is {} {}. A lower reference or another "
                     "resistor would spread it.",
                     plainNumber(unit.fromCanonical(span.low), 5), plainNumber(unit.fromCanonical(span.high), 5),
                     unit.symbol, fixedDigits(used * codes, 0), plainNumber(codes), significantDigits(100 * used, 2),
                     significantDigits(step, 2), unit.symbol),
         {}});
}

}  // namespace fg::rules
