#pragma once

#include "sensors/family.h"
#include "units/unit.h"

namespace fg {

// The rows of the registry in family.cpp, by what kind of signal the family gives. Internal to the room.

/// Bridges and thermocouples: millivolts between two wires.
[[nodiscard]] std::span<const SensorFamily> smallSignalFamilies();

/// Diodes and the sensors inside chips.
[[nodiscard]] std::span<const SensorFamily> chipFamilies();

/// Frequencies, pulse counts, capacitances.
[[nodiscard]] std::span<const SensorFamily> countedFamilies();

using MadeSensor = Expected<std::unique_ptr<Transfer>>;

template <class Model>
MadeSensor wrapSensor(Expected<Model> model) {
    return std::move(model).map([](Model&& made) { return makeTransfer(std::move(made)); });
}

/// "slope_V_per_" + "degC".
[[nodiscard]] inline std::string idWithUnit(const std::string& stem, Quantity measurand) {
    return stem + std::string(canonicalUnit(measurand).id);
}

}  // namespace fg
