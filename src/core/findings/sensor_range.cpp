#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {

void sensorRange(const FindingContext& context, std::vector<Finding>& findings) {
    // What the part is stated for, and of a table of one's own no more than it holds.
    const Interval part = context.path.part().range, curve = context.path.sensor().range();
    const Interval stated{std::max(part.low, std::min(curve.low, curve.high)),
                          std::min(part.high, std::max(curve.low, curve.high))};
    const Unit& unit = context.spec.readingUnit();
    const auto text = [&](double canonical) { return plainNumber(unit.fromCanonical(canonical), 5); };
    if (context.now) {
        const StageValue& world = context.now->at(Stage::World);
        if (!std::isnan(world.value) && world.clip == Clip::None && !stated.contains(world.value)) {
            findings.push_back({Severity::Doubt,
                                Stage::Sensor,
                                "outside-range",
                                "Outside what the sensor is stated for",
                                fmt::format("{} {} lies outside {} … {} {}. Nothing in its document holds there; an "
                                            "open or shorted sensor looks like this too.",
                                            significantDigits(unit.fromCanonical(world.value), 4), unit.symbol,
                                            text(stated.low), text(stated.high), unit.symbol),
                                {}});
        }
    }
    const Interval span = context.spec.spanCanonical();
    if (span.low >= stated.low && span.high <= stated.high) return;
    const Interval within{std::max(span.low, stated.low), std::min(span.high, stated.high)};
    std::optional<FindingAction> action;
    if (within.low < within.high)
        action =
            FindingAction{fmt::format("Span {} … {} {}", text(within.low), text(within.high), unit.symbol), "",
                          [within, &unit](GaugeSpec& spec) {
                              spec.reading.span = {unit.fromCanonical(within.low), unit.fromCanonical(within.high)};
                          }};
    findings.push_back({Severity::Doubt, Stage::Sensor, "span-beyond-sensor", "The span is wider than the sensor",
                        fmt::format("Wanted {} … {} {}, stated {} … {} {}.", text(span.low), text(span.high),
                                    unit.symbol, text(stated.low), text(stated.high), unit.symbol),
                        std::move(action)});
}

}  // namespace fg::rules
