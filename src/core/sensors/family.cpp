#include "sensors/family.h"

#include "sensors/family_rows.h"

#include <cmath>

namespace fg {
namespace {

std::vector<SensorFamily>& registry() {
    static std::vector<SensorFamily> all = [] {
        std::vector<SensorFamily> rows;
        for (const auto more :
             {straightFamilies(), transmitterFamilies(), thermistorFamilies(), resistanceFamilies(), tableFamilies(),
              bridgeFamilies(), thermocoupleFamilies(), chipFamilies(), polynomialFamilies(), ownFamilies()})
            rows.insert(rows.end(), more.begin(), more.end());
        return rows;
    }();
    return all;
}

}  // namespace

std::span<const SensorFamily> sensorFamilies() { return registry(); }

void addSensorFamily(SensorFamily family) { registry().push_back(std::move(family)); }

std::vector<ParameterSpec> pieceParameters(Quantity measurand, Quantity output) {
    std::vector<ParameterSpec> specs;
    if (output == Quantity::Resistance)
        specs.push_back({.id = "dissipation_W_per_K",
                         .label = "Dissipation constant",
                         .unitSuffix = "W/K",
                         .defaultValue = 0.0,
                         .toleranceId = "dissipation_tolerance",
                         .tolerance = ToleranceKind::Relative});
    specs.push_back({.id = std::string(idWithUnit("accuracy_", measurand)),
                     .label = "Accuracy of this piece, ±",
                     .quantity = measurand,
                     .defaultValue = 0.0});
    specs.push_back({.id = std::string(idWithUnit("signal_tolerance_", output)),
                     .label = "Points and table, ±",
                     .quantity = output,
                     .defaultValue = 0.0});
    return specs;
}

const SensorFamily* findSensorFamily(std::string_view id) {
    for (const SensorFamily& family : sensorFamilies())
        if (family.id == id) return &family;
    return nullptr;
}

Interval usualSpan(Quantity measurand) {
    switch (measurand) {
        case Quantity::RelativeHumidity:
            return {0, 100};
        case Quantity::Pressure:
            return {0, 100000};
        case Quantity::Illuminance:
            return {0, 1000};
        default:
            return {0, 50};
    }
}

tl::unexpected<Error> missingSupply() {
    return fail(ErrorCode::Missing, "wiring.source_V", "nothing",
                "the supply of this ratiometric sensor (source_V, or source “reference” where the converter's "
                "reference is its supply)");
}

Interval ownRange(const Parameters& parameters, const SensorContext& context) {
    return {parameters.numberOr("from", std::isfinite(context.range.low) ? context.range.low : 0),
            parameters.numberOr("to", std::isfinite(context.range.high) ? context.range.high : 100)};
}

std::vector<ParameterSpec> ownRangeParameters(Quantity measurand) {
    const Interval usual = usualSpan(measurand);
    return {{.id = "from", .label = "Holds from", .quantity = measurand, .defaultValue = 0.0, .example = usual.low},
            {.id = "to", .label = "Holds to", .quantity = measurand, .defaultValue = 100.0, .example = usual.high}};
}

}  // namespace fg
