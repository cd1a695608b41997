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
        if (part.parameters.has(id)) return;
        parameters.set(id, std::move(value));
        spec.examples.insert("sensor." + id);
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
    } else if (part.family == "ratiometric-transmitter") {
        suggest("low_" + std::string(canonicalUnit(part.quantity).id), 0.0);
        suggest("high_" + std::string(canonicalUnit(part.quantity).id), 1e6);
    } else if (part.family == "ntc-two-points") {
        suggest("points_degC_ohm", std::vector<Point>{{25, kUsualNtc_ohm}, {50, 3588}});
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
        suggest("table_V",
                std::vector<Point>{{usualSpan(part.quantity).low, 0.5}, {usualSpan(part.quantity).high, 2.5}});
    } else if (part.family == "expression-voltage") {
        suggest("expression", std::string("0.5 + 0.01*x"));
        suggest("from", usualSpan(part.quantity).low);
        suggest("to", usualSpan(part.quantity).high);
    } else if (part.family == "thermocouple") {
        suggest("type", std::string("K"));
    } else if (part.family == "point-and-slope") {
        suggest("value_V", 0.6);
        suggest("slope_V_per_" + std::string(canonicalUnit(part.quantity).id), -0.002);
    } else if (part.family == "calibration-words") {
        for (const auto& [id, value] : {std::pair{"low_word", 943.0},
                                        {"high_word", 1225.0},
                                        {"low_degC", 30.0},
                                        {"high_degC", 110.0},
                                        {"words_reference_V", 3.3},
                                        {"words_bits", 12.0}})
            suggest(id, value);
    } else if (part.family == "bridge") {
        suggest("span_V_per_V", 0.002);
        suggest("full_scale_" + std::string(canonicalUnit(part.quantity).id), usualSpan(part.quantity).high);
    } else if (part.family == "bridge-millivolt") {
        suggest("span_V", 0.1);
        suggest("stated_at_V", 5.0);
        suggest("full_scale_" + std::string(canonicalUnit(part.quantity).id), usualSpan(part.quantity).high);
    } else if (part.family == "linear-frequency") {
        suggest("slope_Hz_per_" + std::string(canonicalUnit(part.quantity).id), 50000 / usualSpan(part.quantity).high);
    } else if (part.family == "linear-pulses") {
        suggest("pulses_per_" + std::string(canonicalUnit(part.quantity).id), 16.0);
        suggest("pulses_at_0", 800.0);
    } else if (part.family == "table-pulses") {
        suggest("table_pulses", std::vector<Point>{{0, 800}, {50, 1600}});
    } else if (part.family == "scaled-capacitance") {
        suggest("nominal_F", 180e-12);
        suggest("c0", 0.9);
        suggest("c1", 0.0018);
    } else if (part.family == "scaled-frequency") {
        suggest("nominal_Hz", 6660.0);
        suggest("c0", 1.1);
        suggest("c1", -0.0018);
    } else if (part.family == "polynomial-voltage") {
        suggest("c0_V", 0.5);
        suggest("c1_V", 2.0 / usualSpan(part.quantity).high);
        suggest("from", usualSpan(part.quantity).low);
        suggest("to", usualSpan(part.quantity).high);
    }
}

/// A converter that takes the signal and suits its size.
void chooseConverter(GaugeSpec& spec, const Part& part, Quantity signal) {
    if (signal == Quantity::Capacitance || signal == Quantity::Frequency) {
        spec.converter.kind = "counter";
        spec.converter.part = "counter-gate-1s";
    } else if (signal == Quantity::Count) {
        spec.converter.kind = "pulses";
        spec.converter.part = "pulse-counter";
    } else if (part.family == "thermocouple") {
        spec.converter.part = "ads1115";
        spec.converter.parameters = {{"gain", 8.0}};
    } else if (part.family == "bridge" || part.family == "bridge-millivolt") {
        spec.converter.part = "hx711";
    } else {
        spec.converter.part = part.supply_V.low > 3.3 ? "adc-10bit-supply" : "adc-12bit-3v3";
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
                                  {"source_V",
                                   part.family == "current-loop" ? 24.0 : std::max(5.0, part.supply_V.low)}};
    } else if (signal == Quantity::Capacitance) {
        // The resistors that the humidity part's data sheet shows: some 6.7 kHz at 55 %RH.
        spec.wiring.kind = "oscillator";
        spec.wiring.parameters = {{"discharge_ohm", 576000.0},
                                  {"discharge_tolerance", 0.01},
                                  {"charge_ohm", 49900.0},
                                  {"charge_tolerance", 0.01}};
    } else if (signal == Quantity::Frequency) {
        spec.wiring.kind = "frequency";
    } else if (signal == Quantity::Count) {
        spec.wiring.kind = "pulse-load";
        spec.wiring.parameters = {
            {"load_ohm", 10000.0}, {"load_tolerance", 0.01}, {"source", std::string("rail")}, {"source_V", 5.0}};
    } else {
        const bool isSmall =
            part.family == "bridge" || part.family == "bridge-millivolt" || part.family == "thermocouple";
        spec.wiring.kind = isSmall ? "bridge" : "direct";
    }
    chooseConverter(spec, part, signal);
    for (const auto& [id, value] : spec.wiring.parameters.all())
        if (id != "source") spec.examples.insert("wiring." + id);
    spec.examples.insert("converter.part");
    spec.reading.unit = canonicalUnit(part.quantity).id;
    const Interval usual = usualSpan(part.quantity);
    spec.reading.span = {std::max(usual.low, part.range.low), std::min(usual.high, part.range.high)};
    if (!(spec.reading.span.low < spec.reading.span.high)) spec.reading.span = part.range;
    spec.cautions = part.cautions;
    return spec;
}

}  // namespace fg
