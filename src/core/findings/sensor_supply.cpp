#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg::rules {

namespace {

/// A sensor that sends a current has what the supply leaves it above the load: least where the current is highest.
void acrossSensor(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.path.signalQuantity() != Quantity::Current || context.spec.wiring.kind != "load") return;
    const Interval span = context.spec.spanCanonical();
    const double least = context.path.part().supply_V.low;
    const double drop = std::max(context.path.wiring().forward(context.path.signalAt(span.low)),
                                 context.path.wiring().forward(context.path.signalAt(span.high)));
    const double across = context.path.source_V() - drop;
    if (!(across < least)) return;
    findings.push_back(
        {Severity::Fault,
         Stage::Wiring,
         "across-sensor-low",
         "Too little voltage is left across the sensor",
         fmt::format("{} needs {} V across itself; at the top of the span {} drop over the load, and {} of {} are "
                     "left. A smaller load, "
                     "or a higher supply.",
                     context.path.part().id, plainNumber(least, 3), engineering(drop, Quantity::Voltage, 3).joined(),
                     engineering(across, Quantity::Voltage, 3).joined(),
                     engineering(context.path.source_V(), Quantity::Voltage, 3).joined()),
         {}});
}

}  // namespace

void sensorSupply(const FindingContext& context, std::vector<Finding>& findings) {
    const Interval stated = context.path.part().supply_V;
    if (stated.high <= 0) return;
    const double supply = context.path.source_V();
    if (supply <= 0) {
        findings.push_back(
            {Severity::Hint,
             Stage::Wiring,
             "supply-not-given",
             "The supply of the sensor is not given",
             fmt::format(
                 "{} works at {} … {} V. The converter's reference says nothing of its supply: give it as source_V on "
                 "the Wiring sheet, once.",
                 context.path.part().id, plainNumber(stated.low, 3), plainNumber(stated.high, 3)),
             {}});
        return;
    }
    if (stated.contains(supply)) {
        acrossSensor(context, findings);
        return;
    }
    const bool low = supply < stated.low;
    findings.push_back(
        {Severity::Fault,
         Stage::Sensor,
         low ? "supply-low" : "supply-high",
         low ? "The sensor's supply is too low" : "The sensor's supply is too high",
         fmt::format("{} gets {}; it is stated for {} … {} V. {}", context.path.part().id,
                     engineering(supply, Quantity::Voltage, 3).joined(), plainNumber(stated.low, 3),
                     plainNumber(stated.high, 3), low ? "Its output means nothing below that." : "It may be damaged."),
         {}});
}

}  // namespace fg::rules
