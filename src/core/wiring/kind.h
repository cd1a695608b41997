#pragma once

#include "numeric/transfer.h"
#include "sensors/family.h"

#include <span>

namespace fg {

/// The electrical conditions around a network that come from elsewhere on the bench.
struct WiringContext {
    double reference_V = 0;  ///< the converter's reference as it really is
};

/// What stands between a sensor's signal and the converter pin. Adding one: a file pair with the network, a row in kind.cpp.
struct WiringKind {
    std::string_view id;     ///< in gauge files: "divider"
    std::string_view title;  ///< on screen
    Quantity input;          ///< the sensor signal it takes
    Quantity output;         ///< what arrives at the converter
    std::vector<ParameterSpec> (*parameters)();
    Expected<std::unique_ptr<Transfer>> (*make)(const Parameters& parameters, const WiringContext& context);
};

[[nodiscard]] std::span<const WiringKind> wiringKinds();
[[nodiscard]] const WiringKind* findWiringKind(std::string_view id);

/// The voltage that feeds the sensor: "source": "reference" follows the converter's reference, "rail" is source_V.
/// Error when the name is neither, or a rail has no voltage above 0 V.
[[nodiscard]] Expected<double> sourceVoltage_V(const Parameters& wiring, const WiringContext& context);

/// Does the source follow the converter's reference, so that the reference cancels?
[[nodiscard]] bool isRatiometric(const Parameters& wiring);

}  // namespace fg
