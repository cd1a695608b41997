// Tables of pairs: of a curved part's data sheet, of a thermistor, or measured by the maker.

#include "sensors/family_rows.h"
#include "sensors/table.h"

#include <array>

namespace fg {
namespace {

/// The names of one such family.
struct Names {
    const char *id, *label;
    Quantity output;
    Interpolation interpolation;
};
constexpr Names kVoltage{"table_V", "Table", Quantity::Voltage, Interpolation::Linear},
    kResistance{"table_ohm", "Table", Quantity::Resistance, Interpolation::Linear},
    kThermistor{"table_degC_ohm", "R–T table", Quantity::Resistance, Interpolation::Thermistor},
    kPulses{"table_pulses", "Table", Quantity::Count, Interpolation::Linear};

template <const Names& names>
MadeSensor make(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints(names.id);
    if (!points) return tl::unexpected(points.error());
    return wrapSensor<TableFormula>(
        tableThrough(*points, context.measurand, names.output, names.interpolation, names.id));
}

std::vector<ParameterSpec> voltageParameters(Quantity measurand) {
    const Interval span = usualSpan(measurand);
    return {pointsSpec(kVoltage.id, kVoltage.label, {{span.low, 0.5}, {span.high, 2.5}})};
}
std::vector<ParameterSpec> resistanceParameters(Quantity) {
    ParameterSpec spec = pointsSpec(kResistance.id, kResistance.label, {});
    spec.example.reset();
    return {spec};
}
std::vector<ParameterSpec> thermistorParameters(Quantity) {
    return {pointsSpec(kThermistor.id, kThermistor.label, {{0, 32650}, {25, 10000}, {50, 3588}, {100, 695}})};
}
std::vector<ParameterSpec> pulsesParameters(Quantity) {
    return {pointsSpec(kPulses.id, kPulses.label, {{0, 800}, {50, 1600}}, Quantity::Count)};
}

const std::array kRows{
    SensorFamily{.id = "table-voltage",
                 .title = "Table, voltage",
                 .output = Quantity::Voltage,
                 .parameters = voltageParameters,
                 .make = make<kVoltage>,
                 .confusedWith = {"line-through-points", "polynomial-voltage"}},
    SensorFamily{.id = "table-thermistor",
                 .title = "NTC thermistor, R–T table",
                 .output = Quantity::Resistance,
                 .parameters = thermistorParameters,
                 .make = make<kThermistor>,
                 .confusedWith = {"table-resistance", "steinhart-hart-points"}},
    SensorFamily{.id = "table-resistance",
                 .title = "Table, resistance",
                 .output = Quantity::Resistance,
                 .parameters = resistanceParameters,
                 .make = make<kResistance>,
                 .confusedWith = {"table-thermistor"}},
    SensorFamily{.id = "table-pulses",
                 .title = "Table, pulses",
                 .output = Quantity::Count,
                 .parameters = pulsesParameters,
                 .make = make<kPulses>,
                 .confusedWith = {"linear-pulses"}},
};

}  // namespace

std::span<const SensorFamily> tableFamilies() { return kRows; }

}  // namespace fg
