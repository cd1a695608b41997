#include "path/default_gauge.h"

#include "sensors/family.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// The parameters of a new gauge that its part does not fix, as examples.
void fillExamples(GaugeSpec& spec, const Part& part, const SensorFamily& family) {
    for (const ParameterSpec& one : family.parameters(part.quantity)) {
        if (!one.example || part.parameters.has(one.id)) continue;
        spec.sensor.parameters.set(one.id, *one.example);
        spec.examples.insert("sensor." + one.id);
    }
}

/// A converter that takes the signal and suits its size.
void chooseConverter(GaugeSpec& spec, const Part& part, const SensorFamily& family) {
    spec.converter.parameters = family.first.converterParameters;
    if (!family.first.converter.empty()) {
        spec.converter.part = family.first.converter;
    } else if (family.output == Quantity::Capacitance || family.output == Quantity::Frequency) {
        spec.converter.kind = "counter";
        spec.converter.part = "counter-gate-1s";
    } else if (family.output == Quantity::Count) {
        spec.converter.kind = "pulses";
        spec.converter.part = "pulse-counter";
    } else {
        spec.converter.part = part.supply_V.low > 3.3 ? "adc-10bit-supply" : "adc-12bit-3v3";
    }
}

/// A fixed resistor of the sensor's own size, which uses the converter best in the middle of things.
double startResistor_ohm(const Part& part, const GaugeSpec& spec, const SensorFamily& family) {
    constexpr double kUsual_ohm = 10000;
    const Parameters all = spec.sensor.parameters.over(part.parameters);
    for (const ParameterSpec& one : family.parameters(part.quantity))
        if (one.quantity == Quantity::Resistance && !one.isPoints)
            if (const auto value = all.number(one.id)) return *value;
    return kUsual_ohm;
}

/// The usual circuit of a signal: kind, and parameters of their own besides those of startWiring().
WiringSpec usualWiring(const Part& part, const GaugeSpec& spec, const SensorFamily& family) {
    switch (family.output) {
        case Quantity::Resistance:
            return {"divider",
                    {{"sensor_side", std::string("low")},
                     {"fixed_ohm", startResistor_ohm(part, spec, family)},
                     {"fixed_tolerance", 0.01},
                     {"source", std::string("reference")}}};
        case Quantity::Current:
            // Some hundred microamperes through 10 kΩ use most of 3.3 V.
            return {"load",
                    {{"load_ohm", 10000.0},
                     {"load_tolerance", 0.01},
                     {"source", std::string("rail")},
                     {"source_V", std::max(5.0, part.supply_V.low)}}};
        case Quantity::Capacitance:
            // The resistors that the humidity part's data sheet shows: some 6.7 kHz at 55 %RH.
            return {"oscillator",
                    {{"discharge_ohm", 576000.0},
                     {"discharge_tolerance", 0.01},
                     {"charge_ohm", 49900.0},
                     {"charge_tolerance", 0.01}}};
        case Quantity::Frequency:
            return {"frequency", {}};
        case Quantity::Count:
            return {
                "pulse-load",
                {{"load_ohm", 10000.0}, {"load_tolerance", 0.01}, {"source", std::string("rail")}, {"source_V", 5.0}}};
        default:
            return {"direct", {}};
    }
}

}  // namespace

Parameters startWiring(const WiringKind& kind) {
    Parameters start;
    for (const ParameterSpec& spec : kind.parameters()) {
        if (!spec.example) continue;
        start.set(spec.id, *spec.example);
        if (!spec.toleranceId.empty()) start.set(spec.toleranceId, 0.01);
    }
    return start;
}

GaugeSpec defaultGauge(const Part& part) {
    GaugeSpec spec;
    spec.quantity = part.quantity;
    spec.sensor.part = part.id;
    const SensorFamily& family = *findSensorFamily(part.family);
    fillExamples(spec, part, family);
    spec.wiring = usualWiring(part, spec, family);
    if (!family.first.wiring.empty()) spec.wiring = {std::string(family.first.wiring), {}};
    spec.wiring.parameters = family.first.wiringParameters.over(spec.wiring.parameters);
    chooseConverter(spec, part, family);
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
