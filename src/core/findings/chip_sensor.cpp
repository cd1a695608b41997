#include "findings/rules.h"

namespace fg::rules {

void chipSensor(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.path.part().measures != "chip") return;
    findings.push_back({Severity::Doubt,
                        Stage::World,
                        "chip-sensor",
                        "This measures the chip, not the room",
                        "The sensor sits in the microcontroller and is as warm as it: some degrees above the air when "
                        "it works, more with a "
                        "radio or a load on its pins. Good for watching the chip; for air, water or a surface use a "
                        "sensor of its own.",
                        {}});
}

}  // namespace fg::rules
