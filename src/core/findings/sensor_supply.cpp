#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void sensorSupply(const FindingContext& context, std::vector<Finding>& findings) {
    const Interval stated = context.path.part().supply_V;
    if (stated.high <= 0) return;
    const double supply = context.path.source_V();
    if (supply <= 0) {
        findings.push_back({Severity::Hint,
                            Stage::Wiring,
                            "supply-not-given",
                            "The supply of the sensor is not given",
                            fmt::format("{} works at {} … {} V. The converter's reference says nothing of its supply: give it as source_V on "
                                        "the Wiring sheet, once.",
                                        context.path.part().id, plainNumber(stated.low, 3), plainNumber(stated.high, 3)),
                            {}});
        return;
    }
    if (stated.contains(supply)) return;
    const bool low = supply < stated.low;
    findings.push_back({Severity::Fault,
                        Stage::Sensor,
                        low ? "supply-low" : "supply-high",
                        low ? "The sensor's supply is too low" : "The sensor's supply is too high",
                        fmt::format("{} gets {}; it is stated for {} … {} V. {}", context.path.part().id,
                                    engineering(supply, Quantity::Voltage, 3).joined(), plainNumber(stated.low, 3),
                                    plainNumber(stated.high, 3), low ? "Its output means nothing below that." : "It may be damaged."),
                        {}});
}

}  // namespace fg::rules
