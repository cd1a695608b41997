#pragma once

#include "sensors/family.h"
#include "units/error.h"
#include "units/unit.h"

#include <fmt/format.h>

namespace fg {

// The rows of the registry in family.cpp, by the file they stand in. Internal to the room.

[[nodiscard]] std::span<const SensorFamily> straightFamilies();      ///< straight_families.cpp
[[nodiscard]] std::span<const SensorFamily> transmitterFamilies();   ///< transmitter_families.cpp
[[nodiscard]] std::span<const SensorFamily> thermistorFamilies();    ///< thermistor_families.cpp
[[nodiscard]] std::span<const SensorFamily> resistanceFamilies();    ///< resistance_families.cpp
[[nodiscard]] std::span<const SensorFamily> tableFamilies();         ///< table_families.cpp
[[nodiscard]] std::span<const SensorFamily> ownFamilies();           ///< user_function.cpp
[[nodiscard]] std::span<const SensorFamily> bridgeFamilies();        ///< bridge_families.cpp
[[nodiscard]] std::span<const SensorFamily> thermocoupleFamilies();  ///< thermocouple.cpp
[[nodiscard]] std::span<const SensorFamily> chipFamilies();          ///< chip_families.cpp
[[nodiscard]] std::span<const SensorFamily> polynomialFamilies();    ///< polynomial_families.cpp

/// The formula, if its numbers are fine, as what the rest of the program sees of it.
template <template <class> class Formula>
[[nodiscard]] MadeSensor wrapSensor(Expected<Formula<double>> formula) {
    return std::move(formula).map([](Formula<double>&& made) { return makeTransfer<Formula>(std::move(made)); });
}

/// The numbers of these parameters in order; the first that is missing is the error.
template <class... Name>
[[nodiscard]] Expected<std::array<double, sizeof...(Name)>> numbersOf(const Parameters& parameters,
                                                                      const Name&... names) {
    std::array<double, sizeof...(Name)> numbers{};
    std::size_t next = 0;
    for (const std::string& name : {std::string(names)...}) {
        const auto number = parameters.requireNumber(name);
        if (!number) return tl::unexpected(number.error());
        numbers[next++] = *number;
    }
    return numbers;
}

[[nodiscard]] inline ParameterSpec pointsSpec(std::string id, std::string label, std::vector<Point> example,
                                              Quantity quantity = Quantity::Voltage) {
    return {.id = std::move(id),
            .label = std::move(label),
            .quantity = quantity,
            .isPoints = true,
            .example = std::move(example)};
}

[[nodiscard]] tl::unexpected<Error> missingSupply();

/// A formula of the user's own runs over `from` … `to` (canonical) where the part states no finite range.
[[nodiscard]] Interval ownRange(const Parameters& parameters, const SensorContext& context);
[[nodiscard]] std::vector<ParameterSpec> ownRangeParameters(Quantity measurand);

}  // namespace fg
