#pragma once

#include "sizing/solver.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::solving {

// One solver a file; listed in solver.cpp. Internal to the room.
extern const Solver kDivider, kLoad, kPulseLoad, kShunt, kReference, kZener, kRcFilter, kOversampling, kRcClock,
    kBridge, kProtection;

using Options = Expected<std::vector<SizingOption>>;

/// "4.7 kΩ", "2.5 V".
[[nodiscard]] inline std::string text(double value, Quantity quantity) {
    return engineering(value, quantity, 3).joined();
}
[[nodiscard]] inline std::string partText(double value, Quantity quantity) {
    return shortEngineering(value, quantity).joined();
}
[[nodiscard]] inline std::string percent(double share) { return fixedDigits(100 * share, 0) + " %"; }

inline ParameterSpec resistance(const char* id, const char* label, std::optional<double> value = {}) {
    return {id, label, Quantity::Resistance, "", value};
}
inline ParameterSpec voltage(const char* id, const char* label, std::optional<double> value = {}) {
    return {id, label, Quantity::Voltage, "", value};
}
inline ParameterSpec current(const char* id, const char* label, std::optional<double> value = {}) {
    return {id, label, Quantity::Current, "", value};
}
inline ParameterSpec ratio(const char* id, const char* label, std::optional<double> value = {}) {
    return {id, label, Quantity::Ratio, "", value};
}
inline ParameterSpec tolerance(const char* id = "tolerance", const char* label = "Tolerance of the resistors",
                               double value = 0.01) {
    return ratio(id, label, value);
}

}  // namespace fg::solving
