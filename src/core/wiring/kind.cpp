#include "wiring/kind.h"

#include "units/number_format.h"
#include "wiring/direct.h"
#include "wiring/divider.h"

#include <array>

namespace fg {
namespace {

std::string textOr(const Parameters& parameters, const std::string& name, const std::string& otherwise) {
    const auto it = parameters.all().find(name);
    if (it == parameters.all().end()) return otherwise;
    const auto* text = std::get_if<std::string>(&it->second);
    return text ? *text : "a number";
}

Expected<std::unique_ptr<Transfer>> makeDivider(const Parameters& parameters, const WiringContext& context) {
    const auto source = sourceVoltage_V(parameters, context);
    if (!source) return tl::unexpected(source.error());
    const std::string side = textOr(parameters, "sensor_side", "low");
    if (side != "low" && side != "high")
        return fail(ErrorCode::Unknown, "wiring.sensor_side", "“" + side + "”",
                    "“low” (sensor to ground) or “high” (sensor to the source)");
    const auto fixed = parameters.requireNumber("fixed_ohm");
    if (!fixed) return tl::unexpected(fixed.error().within("wiring"));
    return Divider::make(side == "low" ? SensorSide::Low : SensorSide::High, *fixed, *source).map([](Divider divider) {
        return makeTransfer(divider);
    });
}

std::vector<ParameterSpec> dividerParameters() {
    return {{"fixed_ohm", "R1", Quantity::Resistance, "", {}, "fixed_tolerance", ToleranceKind::Relative},
            {"source_V", "Source", Quantity::Voltage, "", 0.0, "source_tolerance", ToleranceKind::Relative}};
}

Expected<std::unique_ptr<Transfer>> makeDirect(const Parameters& parameters, const WiringContext& context) {
    if (const auto source = sourceVoltage_V(parameters, context); !source) return tl::unexpected(source.error());
    return makeTransfer(Direct{});
}

std::vector<ParameterSpec> directParameters() {
    return {{"source_V", "Supply of the sensor", Quantity::Voltage, "", 0.0, "source_tolerance", ToleranceKind::Relative}};
}

const std::array kKinds{
    WiringKind{"direct", "Straight to the pin", Quantity::Voltage, Quantity::Voltage, directParameters, makeDirect},
    WiringKind{"divider", "Divider with a fixed resistor", Quantity::Resistance, Quantity::Voltage, dividerParameters, makeDivider},
};

}  // namespace

std::span<const WiringKind> wiringKinds() { return kKinds; }

const WiringKind* findWiringKind(std::string_view id) {
    for (const WiringKind& kind : kKinds)
        if (kind.id == id) return &kind;
    return nullptr;
}

Expected<double> sourceVoltage_V(const Parameters& wiring, const WiringContext& context) {
    const std::string source = textOr(wiring, "source", "reference");
    if (source == "reference") return context.reference_V;
    if (source != "rail")
        return fail(ErrorCode::Unknown, "wiring.source", "“" + source + "”", "“reference” (the converter's own) or “rail” (with source_V)");
    const auto voltage = wiring.requireNumber("source_V");
    if (!voltage) return tl::unexpected(voltage.error().within("wiring"));
    if (!(*voltage > 0)) return fail(ErrorCode::Range, "wiring.source_V", plainNumber(*voltage), "a voltage above 0 V");
    return *voltage;
}

bool isRatiometric(const Parameters& wiring) { return textOr(wiring, "source", "reference") == "reference"; }

}  // namespace fg
