#include "path/default_gauge.h"

#include "sensors/family.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kUsualNtc_ohm = 10000;
constexpr double kUsualBeta_K = 3950;

Interval usualSpan(Quantity quantity) {
    switch (quantity) {
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

/// Values for what a family needs and the part does not fix.
void fillFreeParameters(GaugeSpec& spec, const Part& part) {
    Parameters& parameters = spec.sensor.parameters;
    const auto suggest = [&](const std::string& id, ParameterValue value) {
        if (!part.parameters.has(id)) parameters.set(id, std::move(value));
    };
    if (part.family == "ntc-beta") {
        suggest("r25_ohm", kUsualNtc_ohm);
        suggest("beta_K", kUsualBeta_K);
    } else if (part.family == "steinhart-hart") {
        // The 10 kΩ, 3950 K thermistor as coefficients: c = 0 is the Beta equation.
        suggest("a", 1 / 298.15 - std::log(kUsualNtc_ohm) / kUsualBeta_K);
        suggest("b", 1 / kUsualBeta_K);
        suggest("c", 0.0);
    } else if (part.family == "steinhart-hart-points") {
        const auto ohm = [](double t_degC) {
            return std::round(kUsualNtc_ohm * std::exp(kUsualBeta_K * (1 / (t_degC + 273.15) - 1 / 298.15)));
        };
        suggest("points_degC_ohm", std::vector<Point>{{0, ohm(0) - 500}, {25, kUsualNtc_ohm}, {60, ohm(60)}});
    } else if (part.family == "linear-voltage") {
        const std::string unit(canonicalUnit(part.quantity).id);
        suggest("slope_V_per_" + unit, 3.0 / usualSpan(part.quantity).high);
        suggest("offset_V", 0.0);
    } else if (part.family == "line-through-points") {
        suggest("points_V", std::vector<Point>{{0, 0.5}, {usualSpan(part.quantity).high, 2.5}});
    } else if (part.family == "linear-current") {
        suggest("slope_A_per_" + std::string(canonicalUnit(part.quantity).id), 0.0003 / usualSpan(part.quantity).high);
    } else if (part.family == "current-loop") {
        suggest("low_" + std::string(canonicalUnit(part.quantity).id), usualSpan(part.quantity).low);
        suggest("high_" + std::string(canonicalUnit(part.quantity).id), usualSpan(part.quantity).high);
    } else if (part.family == "photoresistor") {
        suggest("r10_ohm", 15000.0);
        suggest("gamma", 0.7);
    } else if (part.family == "photoresistor-points") {
        suggest("points_lx_ohm", std::vector<Point>{{10, 15000}, {100, 3000}});
    } else if (part.family == "table-thermistor") {
        suggest("table_degC_ohm", std::vector<Point>{{0, 32650}, {25, 10000}, {50, 3588}, {100, 695}});
    } else if (part.family == "platinum") {
        suggest("r0_ohm", 100.0);
    } else if (part.family == "table-voltage") {
        suggest("table_V", std::vector<Point>{{usualSpan(part.quantity).low, 0.5}, {usualSpan(part.quantity).high, 2.5}});
    } else if (part.family == "expression-voltage") {
        suggest("expression", std::string("0.5 + 0.01*x"));
        suggest("from", usualSpan(part.quantity).low);
        suggest("to", usualSpan(part.quantity).high);
    } else if (part.family == "polynomial-voltage") {
        suggest("c0_V", 0.5);
        suggest("c1_V", 2.0 / usualSpan(part.quantity).high);
        suggest("from", usualSpan(part.quantity).low);
        suggest("to", usualSpan(part.quantity).high);
    }
}

/// A fixed resistor of the sensor's own size, which uses the converter best in the middle of things.
double startResistor_ohm(const Part& part, const GaugeSpec& spec) {
    const Parameters all = spec.sensor.parameters.over(part.parameters);
    for (const char* id : {"r25_ohm", "r0_ohm", "r10_ohm"})
        if (const auto value = all.number(id)) return *value;
    return kUsualNtc_ohm;
}

}  // namespace

Parameters startWiring(const WiringKind& kind) {
    Parameters start;
    for (const ParameterSpec& spec : kind.parameters()) {
        if (spec.defaultValue) continue;
        if (spec.quantity == Quantity::Resistance) start.set(spec.id, 10000.0);
        if (spec.quantity == Quantity::Current) start.set(spec.id, 0.001);
        if (spec.quantity == Quantity::Ratio) start.set(spec.id, 10.0);
        if (!spec.toleranceId.empty()) start.set(spec.toleranceId, 0.01);
    }
    return start;
}

GaugeSpec defaultGauge(const Part& part) {
    GaugeSpec spec;
    spec.quantity = part.quantity;
    spec.sensor.part = part.id;
    fillFreeParameters(spec, part);
    const Quantity signal = findSensorFamily(part.family)->output;
    if (signal == Quantity::Resistance) {
        spec.wiring.kind = "divider";
        spec.wiring.parameters = {{"sensor_side", std::string("low")},
                                  {"fixed_ohm", startResistor_ohm(part, spec)},
                                  {"fixed_tolerance", 0.01},
                                  {"source", std::string("reference")}};
    } else if (signal == Quantity::Current) {
        // 20 mA through 150 Ω, or some hundred microamperes through 10 kΩ, use most of 3.3 V.
        spec.wiring.kind = "load";
        spec.wiring.parameters = {{"load_ohm", part.family == "current-loop" ? 150.0 : 10000.0},
                                  {"load_tolerance", 0.01},
                                  {"source", std::string("rail")},
                                  {"source_V", std::max(5.0, part.supply_V.low)}};
    } else {
        spec.wiring.kind = "direct";
        spec.wiring.parameters = {{"source", std::string("reference")}};
    }
    const bool needsFiveVolt = part.supply_V.low > 3.3;
    spec.converter.part = needsFiveVolt ? "adc-10bit-supply" : "adc-12bit-3v3";
    spec.reading.unit = canonicalUnit(part.quantity).id;
    const Interval usual = usualSpan(part.quantity);
    spec.reading.span = {std::max(usual.low, part.range.low), std::min(usual.high, part.range.high)};
    if (!(spec.reading.span.low < spec.reading.span.high)) spec.reading.span = part.range;
    spec.cautions = part.cautions;
    return spec;
}

}  // namespace fg
