#include "findings/rules.h"
#include "path/span_curves.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::rules {

void resolution(const FindingContext& context, std::vector<Finding>& findings) {
    const double wanted = context.spec.reading.wanted;
    if (!(wanted > 0)) return;
    const SpanCurve step = stepOver(context.spec, context.path, 41);
    std::size_t worst = 0;
    for (std::size_t i = 1; i < step.value.size(); ++i)
        if (std::isfinite(step.value[i]) && step.value[i] > step.value[worst]) worst = i;
    if (!(step.value[worst] > wanted)) return;
    const Unit& unit = context.spec.readingUnit();
    findings.push_back(
        {Severity::Doubt,
         Stage::Converter,
         "resolution",
         "One code is more than the accuracy wanted",
         fmt::format("At {} {} one code is {} {}; ± {} {} is wanted. More bits, another reference or another resistor.",
                     significantDigits(step.world[worst], 3), unit.symbol, significantDigits(step.value[worst], 2),
                     unit.symbol, plainNumber(wanted, 3), unit.symbol),
         {}});
}

}  // namespace fg::rules
