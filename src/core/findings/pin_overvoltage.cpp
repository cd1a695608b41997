#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void pinOvervoltage(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.path.converter().isAdc()) return;
    // Whatever feeds the sensor can reach the pin when a wire or a resistor opens, so the source counts, not only the span.
    const double stated = context.converter.numberOr("input_max_V", 0);
    const double reference = context.path.converter().reference_V();
    const double limit = stated > 0 ? stated : reference;
    double worst_V = 0;
    double at = 0;
    const Interval span = context.spec.spanCanonical();
    constexpr int kSteps = 64;
    for (int i = 0; i <= kSteps; ++i) {
        const double world = span.low + span.width() * i / kSteps;
        const double pin_V = context.path.wiring().forward(context.path.signalAt(world));
        if (pin_V > worst_V) worst_V = pin_V, at = world;
    }
    const Unit& unit = context.spec.readingUnit();
    const auto volts = [](double voltage_V) { return engineering(voltage_V, Quantity::Voltage, 3).joined(); };
    const double source_V = context.path.source_V();
    const bool isDivider = context.path.signalQuantity() == Quantity::Resistance;
    std::optional<FindingAction> action;
    if (isDivider && !context.path.isRatiometric())
        action = FindingAction{"Feed it from the reference", volts(source_V) + " → " + volts(reference),
                               [](GaugeSpec& spec) { spec.wiring.parameters.set("source", std::string("reference")); }};
    const bool above = limit < worst_V * (1 - 1e-9);
    if (above && stated > 0) {
        findings.push_back({Severity::Fault, Stage::Wiring, "pin-overvoltage", "The pin gets more than it stands",
                            fmt::format("At {} {} it sees {}; the converter's limit is {}. Divide the voltage down or clamp it.",
                                        significantDigits(unit.fromCanonical(at), 3), unit.symbol, volts(worst_V), volts(limit)),
                            std::move(action)});
        return;
    }
    // Without a stated limit an amplified output has nothing to be compared with: it need not reach its supply.
    if (source_V <= limit * (1 + 1e-9) || (!isDivider && stated <= 0)) return;
    findings.push_back({stated > 0 && isDivider ? Severity::Fault : Severity::Doubt, Stage::Wiring, "source-above-limit",
                        "The source is above the converter's limit",
                        fmt::format("{} feeds the sensor, the converter takes {}{}. If a wire or the {} opens, the pin sees all of it.",
                                    volts(source_V), volts(limit), stated > 0 ? "" : " (its reference; no pin limit is stated)",
                                    isDivider ? "resistor to ground" : "ground lead"),
                        std::move(action)});
}

}  // namespace fg::rules
