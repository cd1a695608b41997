#include "findings/rules.h"
#include "path/span_curves.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::rules {

void codeLaw(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.converterPart || !context.path.converter().isAdc()) return;
    const auto lawOf = [](const Parameters& parameters) { return parameters.textOr("code_law", "2^n"); };
    const std::string stated = lawOf(context.converterPart->parameters), used = lawOf(context.converter);
    if (stated == used) return;
    findings.push_back(
        {Severity::Doubt, Stage::Converter, "law-mixed", "The code law is not this converter's",
         fmt::format("{} is specified by {}; this gauge counts by {}. Every reading is off by up to one code.",
                     context.converterPart->id, stated, used),
         FindingAction{"Use " + stated, "",
                       [stated](GaugeSpec& spec) { spec.converter.parameters.set("code_law", stated); }}});
}

}  // namespace fg::rules
