#pragma once

#include "wiring/kind.h"

namespace fg {

// The rows of the registry in kind.cpp, by the file they stand in. Internal to the room.

[[nodiscard]] std::span<const WiringKind> dividerKinds();       ///< divider.cpp
[[nodiscard]] std::span<const WiringKind> directKinds();        ///< direct.cpp
[[nodiscard]] std::span<const WiringKind> proportionalKinds();  ///< proportional.cpp
[[nodiscard]] std::span<const WiringKind> oscillatorKinds();    ///< oscillator.cpp

/// What the sensor is fed with; of every network.
[[nodiscard]] ParameterSpec supplySpec(std::string label = "Supply of the sensor");
/// The cable in series with a resistive sensor.
[[nodiscard]] ParameterSpec leadSpec();

/// Two resistances side by side; either may be infinite.
[[nodiscard]] double parallelOf(double a_ohm, double b_ohm);

}  // namespace fg
