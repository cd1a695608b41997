#include "findings/rules.h"
#include "path/pin_voltage.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {
namespace {

/// What its document allows at the pin, V; 0 where it states nothing. Of a converter whose inputs stand so much above
/// its own supply that supply decides, where it is given.
double statedLimit_V(const FindingContext& context) {
    const double above_V = context.converter.numberOr("input_above_supply_V", -1),
                 supply_V = context.converter.numberOr("supply_V", 0);
    return above_V >= 0 && supply_V > 0 ? supply_V + above_V : context.converter.numberOr("input_max_V", 0);
}

/// The limit hangs on a supply that nobody gave: which would be too low for this pin?
void supplyNotGiven(const FindingContext& context, const PinVoltage& pin, std::vector<Finding>& findings) {
    const double above_V = context.converter.numberOr("input_above_supply_V", -1);
    if (above_V < 0 || context.converter.numberOr("supply_V", 0) > 0) return;
    const DevicePart* device =
        context.converterPart ? context.catalogue.findDevicePart(context.converterPart->id) : nullptr;
    if (!device || pin.most_V <= device->supply_V.low + above_V) return;
    const auto volts = [](double voltage_V) { return engineering(voltage_V, Quantity::Voltage, 3).joined(); };
    findings.push_back({Severity::Doubt,
                        Stage::Converter,
                        "converter-supply-not-given",
                        "The converter's supply is not given",
                        fmt::format("Its inputs stand its supply + {}, whatever the gain. The pin sees up to {}: that "
                                    "needs a supply of at least {}. Give supply_V.",
                                    volts(above_V), volts(pin.most_V), volts(pin.most_V - above_V)),
                        {}});
}

}  // namespace

void pinOvervoltage(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.path.converter().isAdc()) return;
    // Whatever feeds the sensor can reach the pin when a wire or a resistor opens, so the source counts, not only the
    // span.
    const double reference = context.path.converter().reference_V();
    const PinVoltage pin = worstPin(context.spec, context.path);
    const double stated = statedLimit_V(context);
    const double limit = stated > 0 ? stated : reference;
    const double worst_V = pin.most_V, at = pin.at;
    const Unit& unit = context.spec.readingUnit();
    const auto volts = [](double voltage_V) { return engineering(voltage_V, Quantity::Voltage, 3).joined(); };
    const double source_V = context.path.source_V();
    const bool isDivider = context.path.signalQuantity() == Quantity::Resistance;
    std::optional<FindingAction> action;
    if (isDivider && !context.path.isRatiometric())
        action = FindingAction{"Feed it from the reference", volts(source_V) + " → " + volts(reference),
                               [](GaugeSpec& spec) { spec.wiring.parameters.set("source", std::string("reference")); }};
    supplyNotGiven(context, pin, findings);
    const bool above = limit < worst_V * (1 - 1e-9);
    if (above && stated > 0) {
        findings.push_back(
            {Severity::Fault, Stage::Wiring, "pin-overvoltage", "The pin gets more than it stands",
             fmt::format("At {} {} it sees {}; the converter's limit is {}. Divide the voltage down or clamp it.",
                         significantDigits(unit.fromCanonical(at), 3), unit.symbol, volts(worst_V), volts(limit)),
             std::move(action)});
        return;
    }
    // Without a stated limit an amplified output has nothing to be compared with: it need not reach its supply.
    if (source_V <= limit * (1 + 1e-9) || (!isDivider && stated <= 0)) return;
    findings.push_back(
        {stated > 0 && isDivider ? Severity::Fault : Severity::Doubt, Stage::Wiring, "source-above-limit",
         "The source is above the converter's limit",
         fmt::format(
             "{} feeds the sensor, the converter takes {}{}. If a wire or the {} opens, the pin sees all of it.",
             volts(source_V), volts(limit), stated > 0 ? "" : " (its reference; no pin limit is stated)",
             isDivider ? "resistor to ground" : "ground lead"),
         std::move(action)});
}

}  // namespace fg::rules
