#include "wiring/kind.h"

#include "units/number_format.h"
#include "wiring/kind_rows.h"

#include <cmath>

namespace fg {
namespace {

std::vector<WiringKind>& registry() {
    static std::vector<WiringKind> all = [] {
        std::vector<WiringKind> rows;
        for (const auto more : {directKinds(), dividerKinds(), proportionalKinds(), oscillatorKinds()})
            rows.insert(rows.end(), more.begin(), more.end());
        return rows;
    }();
    return all;
}

}  // namespace

std::span<const WiringKind> wiringKinds() { return registry(); }

void addWiringKind(WiringKind kind) { registry().push_back(std::move(kind)); }

const WiringKind* findWiringKind(std::string_view id) {
    for (const WiringKind& kind : wiringKinds())
        if (kind.id == id) return &kind;
    return nullptr;
}

ParameterSpec supplySpec(std::string label) {
    return {.id = "source_V",
            .label = std::move(label),
            .quantity = Quantity::Voltage,
            .defaultValue = 0.0,
            .toleranceId = "source_tolerance",
            .tolerance = ToleranceKind::Relative};
}

ParameterSpec leadSpec() {
    return {.id = "lead_ohm",
            .label = "Cable, both wires",
            .quantity = Quantity::Resistance,
            .defaultValue = 0.0,
            .toleranceId = "lead_tolerance",
            .tolerance = ToleranceKind::Relative};
}

double parallelOf(double a_ohm, double b_ohm) {
    if (std::isinf(a_ohm)) return b_ohm;
    return std::isinf(b_ohm) ? a_ohm : a_ohm * b_ohm / (a_ohm + b_ohm);
}

Expected<SensorFeed> feedOf(std::string_view kind, const Parameters& wiring, const WiringContext& context) {
    const auto said = wiring.text("source");
    const auto voltage = wiring.number("source_V");
    const bool isRail = said ? *said == "rail" : voltage.value_or(0) > 0;
    if (said && *said != "rail" && *said != "reference")
        return fail(ErrorCode::Unknown, "wiring.source", "“" + *said + "”",
                    "“reference” (the converter's own) or “rail” (with source_V)");
    if (isRail) {
        if (!voltage) return tl::unexpected(wiring.requireNumber("source_V").error().within("wiring"));
        if (!(*voltage > 0))
            return fail(ErrorCode::Range, "wiring.source_V", plainNumber(*voltage), "a voltage above 0 V");
        return SensorFeed{*voltage, false};
    }
    const WiringKind* row = findWiringKind(kind);
    if (said || context.isReferenceSupply || (row && row->hangsOnSource)) return SensorFeed{context.reference_V, true};
    return SensorFeed{};
}

std::optional<double> sensorCurrent_A(std::string_view kind, const Parameters& wiring, double source_V,
                                      double sensor_ohm) {
    const WiringKind* row = findWiringKind(kind);
    if (!row || !row->sensorCurrent_A) return std::nullopt;
    return row->sensorCurrent_A(wiring, source_V, sensor_ohm);
}

}  // namespace fg
