#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {
namespace {

void thermocouple(const FindingContext& context, std::vector<Finding>& findings) {
    const Parameters sensor = context.spec.sensor.parameters.over(context.path.part().parameters);
    const std::string type = sensor.textOr("type", ""), cable = context.spec.wiring.parameters.textOr("cable", "");
    if (context.spec.wiring.parameters.textOr("polarity", "") == "reversed")
        findings.push_back({Severity::Fault, Stage::Wiring, "thermocouple-polarity",
                            "The two wires are the wrong way round",
                            "The voltage comes with the wrong sign: as the junction warms the reading falls, by as "
                            "much below the cold junction as "
                            "it should stand above. Swap them; colours differ by country and type.",
                            FindingAction{"They are swapped now", "",
                                          [](GaugeSpec& spec) { spec.wiring.parameters.remove("polarity"); }}});
    if (!cable.empty() && cable != type)
        findings.push_back({Severity::Doubt,
                            Stage::Wiring,
                            "thermocouple-cable",
                            "The cable is of another metal",
                            fmt::format("Type {} on a cable of {}: where they join is the cold junction, wherever that "
                                        "is. Measure the temperature "
                                        "there, or run type {} all the way.",
                                        type, cable == "copper" ? "copper" : "type " + cable, type),
                            {}});
}

}  // namespace

void cable(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.path.part().family == "thermocouple") thermocouple(context, findings);
    const double lead_ohm = context.spec.wiring.parameters.numberOr("lead_ohm", 0);
    if (!(lead_ohm > 0)) return;
    const Unit& unit = context.spec.readingUnit();
    const Interval span = context.spec.spanCanonical();
    const double middle = (span.low + span.high) / 2;
    if (context.path.signalQuantity() == Quantity::Resistance) {
        // The path takes the cable off. Copper changes by 0.39 % a kelvin, and that nobody takes off.
        constexpr double kCopper_per_K = 0.0039, kSwing_K = 20;
        const double ohm = context.path.sensor().forward(middle);
        const double whole = std::abs(context.path.sensor().inverse(ohm + lead_ohm) - middle);
        const double swing =
            std::abs(context.path.sensor().inverse(ohm + kCopper_per_K * kSwing_K * lead_ohm) - middle);
        if (!(whole > (context.budget ? 0.25 * context.budget->expanded : 0.05))) return;
        findings.push_back({Severity::Hint,
                            Stage::Wiring,
                            "cable-resistance",
                            "The cable is part of the sensor",
                            fmt::format("{} of cable is {} {} at mid-span, taken off here; if the cable warms by 20 K, "
                                        "{} {} come back. Three or four "
                                        "wires, or a sensor of more ohms, end that.",
                                        engineering(lead_ohm, Quantity::Resistance, 3).joined(),
                                        significantDigits(unit.differenceFromCanonical(whole), 2), unit.symbol,
                                        significantDigits(unit.differenceFromCanonical(swing), 2), unit.symbol),
                            {}});
        return;
    }
    // A sensor with a supply draws its current through half of that cable, and its ground is off by the drop.
    const double drop_V = context.path.part().supply_A * lead_ohm / 2;
    if (context.path.signalQuantity() != Quantity::Voltage || !(drop_V > 0)) return;
    const double shift =
        std::abs(context.path.sensor().inverse(context.path.sensor().forward(middle) + drop_V) - middle);
    if (!context.budget || shift < 0.1 * context.budget->expanded) return;
    findings.push_back({Severity::Doubt,
                        Stage::Wiring,
                        "cable-drop",
                        "The cable shifts the reading",
                        fmt::format("{} drops {} on the ground wire: {} {} at mid-span. A wire of its own for the "
                                    "signal's ground, or a thicker cable.",
                                    engineering(context.path.part().supply_A, Quantity::Current, 3).joined(),
                                    engineering(drop_V, Quantity::Voltage, 3).joined(),
                                    significantDigits(unit.differenceFromCanonical(shift), 2), unit.symbol),
                        {}});
}

}  // namespace fg::rules
