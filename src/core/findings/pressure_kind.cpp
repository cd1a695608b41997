#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void pressureKind(const FindingContext& context, std::vector<Finding>& findings) {
    constexpr double kAir_Pa = 101325;
    const std::string& kind = context.path.part().pressureKind;
    if (context.spec.quantity != Quantity::Pressure || kind.empty()) return;
    const Interval span = context.spec.spanCanonical();
    const Unit& unit = context.spec.readingUnit();
    const std::string air = significantDigits(unit.fromCanonical(kAir_Pa), 4) + " " + std::string(unit.symbol);
    // The span tells what is meant: a barometer's does not reach down to nothing, a vessel's does not start at the
    // air's pressure.
    if (kind == "absolute" && span.low <= 0 && span.high < 0.5 * kAir_Pa)
        findings.push_back({Severity::Doubt,
                            Stage::Sensor,
                            "absolute-as-gauge",
                            "This part measures absolute pressure",
                            fmt::format("Open to the air it reads about {}, not 0. For a pressure above the air's, "
                                        "take the barometer's reading off, "
                                        "or use a gauge part.",
                                        air),
                            {}});
    if (kind != "absolute" && span.low > 0.5 * kAir_Pa)
        findings.push_back(
            {Severity::Doubt,
             Stage::Sensor,
             "gauge-as-absolute",
             "This part measures against the air",
             fmt::format(
                 "Open to the air it reads 0, not {}. A span that starts at {} {} looks like absolute pressure.", air,
                 significantDigits(context.spec.reading.span.low, 4), unit.symbol),
             {}});
}

}  // namespace fg::rules
