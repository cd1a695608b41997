#include "findings/rules.h"
#include "path/pin_voltage.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {

void converterTraps(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.converterPart) return;
    const PinVoltage pin = worstPin(context.spec, context.path);
    for (const ConverterTrap& trap : context.converterPart->traps) {
        if (trap.input_V && (pin.most_V < trap.input_V->low || pin.least_V > trap.input_V->high)) continue;
        std::string detail = fmt::format("{}: {}", context.converterPart->id, trap.text);
        if (trap.input_V)
            detail += fmt::format(" Over the span the pin sees {} … {}.",
                                  engineering(pin.least_V, Quantity::Voltage, 3).joined(),
                                  engineering(pin.most_V, Quantity::Voltage, 3).joined());
        findings.push_back({trap.input_V ? Severity::Doubt : Severity::Hint,
                            Stage::Converter,
                            trap.input_V ? "converter-zone" : "converter-trap",
                            trap.input_V ? "Where this converter reads wrong" : "To know of this converter",
                            std::move(detail),
                            {}});
    }
}

}  // namespace fg::rules
