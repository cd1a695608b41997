#pragma once

#include "numeric/transfer.h"
#include "sensors/parameters.h"

#include <span>

namespace fg {

/// How the tolerance that belongs to a parameter is stated.
enum class ToleranceKind { None, Relative, Absolute };

/// One parameter that a family, a wiring or a converter takes: enough to read it, to check it, to show an entry for it
/// and to put its tolerance into the uncertainty budget.
struct ParameterSpec {
    std::string id;                       ///< as in files, with its unit: "r25_ohm"
    std::string label;                    ///< on screen: "R at 25 °C"
    Quantity quantity = Quantity::Ratio;  ///< how entries are read
    std::string unitSuffix;  ///< behind the quantity's unit on screen: "/°C"; or the whole unit of a plain number: "K"
    std::optional<double> defaultValue = {};  ///< absent: must be given
    std::string toleranceId = {};             ///< the parameter that holds its tolerance; empty: none
    ToleranceKind tolerance = ToleranceKind::None;
    bool isPoints = false;  ///< a list of pairs, not a number
    bool isText = false;    ///< a text, not a number
};

/// What a family needs to know besides its parameters.
struct SensorContext {
    Quantity measurand = Quantity::Temperature;
    Interval range;       ///< where the part is stated to hold, canonical units of the measurand
    double supply_V = 0;  ///< what the sensor is fed with, for ratiometric parts; 0 when unknown
};

/// One family of analog transfer functions. Adding one: a file pair with the formula, a row in family.cpp.
struct SensorFamily {
    std::string_view id;     ///< in part and gauge files: "ntc-beta"
    std::string_view title;  ///< on screen
    Quantity output;         ///< what the sensor gives: Voltage, Resistance, …
    std::vector<ParameterSpec> (*parameters)(Quantity measurand);
    Expected<std::unique_ptr<Transfer>> (*make)(const Parameters& parameters, const SensorContext& context);
};

[[nodiscard]] std::span<const SensorFamily> sensorFamilies();

/// What a gauge can say of its own piece whatever the formula: "accuracy_<unit>" (± in the measurand's unit, takes the
/// place of the part's statement), "signal_tolerance_<unit>" (± of points or a table, in the unit of the output), and
/// of resistive sensors "dissipation_W_per_K" with its relative "dissipation_tolerance".
[[nodiscard]] std::vector<ParameterSpec> pieceParameters(Quantity measurand, Quantity output);

/// The family of that id; null when there is none.
[[nodiscard]] const SensorFamily* findSensorFamily(std::string_view id);

}  // namespace fg
