#include "findings/rules.h"

namespace fg::rules {

void remarks(const FindingContext& context, std::vector<Finding>& findings) {
    const Interval span = context.spec.spanCanonical();
    for (const PartRemark& remark : context.path.part().remarks) {
        if (remark.outside && remark.outside->contains(span.low) && remark.outside->contains(span.high)) continue;
        findings.push_back({Severity::Doubt,
                            Stage::Sensor,
                            "part-remark",
                            "What its figures hold for",
                            context.path.part().id + ": " + remark.text,
                            {}});
    }
}

}  // namespace fg::rules
