#include "path/examples.h"
#include "findings/rules.h"

#include <fmt/format.h>

namespace fg::rules {

void examples(const FindingContext& context, std::vector<Finding>& findings) {
    examplesOf(context.spec, context.catalogue, findings);
}

void examplesOf(const GaugeSpec& spec, const Catalogue& catalogue, std::vector<Finding>& findings) {
    std::string values, tolerances;
    Stage stage = Stage::Converter;
    for (const ExampleValue& value : exampleValues(spec, catalogue)) {
        std::string& list = value.isTolerance ? tolerances : values;
        list += fmt::format("{}{} {}", list.empty() ? "" : "; ", value.label, value.text);
        if (value.isTolerance) continue;
        if (value.field.starts_with("sensor.")) stage = Stage::Sensor;
        if (value.field.starts_with("wiring.") && stage == Stage::Converter) stage = Stage::Wiring;
    }
    const FindingAction confirm{"They are right for mine", "", [](GaugeSpec& changed) { changed.examples.clear(); }};
    if (!values.empty())
        findings.push_back(
            {Severity::Fault, stage, "example-values", "Example values, not yours",
             fmt::format("{}. What this gauge reads is an example too, until each is set or confirmed.", values),
             confirm});
    if (!tolerances.empty() && values.empty())
        findings.push_back({Severity::Hint, Stage::Wiring, "example-tolerances", "Tolerances not given",
                            fmt::format("{}: usual values, taken into the uncertainty until they are set.", tolerances),
                            confirm});
}

}  // namespace fg::rules
