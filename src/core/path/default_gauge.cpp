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
    }
}

}  // namespace

GaugeSpec defaultGauge(const Part& part) {
    GaugeSpec spec;
    spec.quantity = part.quantity;
    spec.sensor.part = part.id;
    fillFreeParameters(spec, part);
    const Quantity signal = findSensorFamily(part.family)->output;
    if (signal == Quantity::Resistance) {
        spec.wiring.kind = "divider";
        spec.wiring.parameters = {{"sensor_side", std::string("low")},
                                  {"fixed_ohm", spec.sensor.parameters.numberOr("r25_ohm", kUsualNtc_ohm)},
                                  {"fixed_tolerance", 0.01},
                                  {"source", std::string("reference")}};
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
