#pragma once

#include "numeric/formula_transfer.h"
#include "sensors/parameters.h"

#include <span>

namespace fg {

/// How the tolerance that belongs to a parameter is stated.
enum class ToleranceKind { None, Relative, Absolute };

/// One parameter that a family, a wiring or a converter takes: enough to read it, to check it, to show an entry for it,
/// to put its tolerance into the uncertainty budget and to fill it with an example in a new gauge.
struct ParameterSpec {
    std::string id;                       ///< as in files, with its unit: "r25_ohm"
    std::string label;                    ///< on screen: "R at 25 °C"
    Quantity quantity = Quantity::Ratio;  ///< how entries are read
    std::string unitSuffix = {};  ///< behind the quantity's unit on screen: "/°C"; or the whole unit of a plain number:
                                  ///< "K"
    std::optional<double> defaultValue = {};  ///< absent: must be given
    std::string toleranceId = {};             ///< the parameter that holds its tolerance; empty: none
    ToleranceKind tolerance = ToleranceKind::None;
    bool isPoints = false;                       ///< a list of pairs, not a number
    bool isText = false;                         ///< a text, not a number
    std::optional<ParameterValue> example = {};  ///< in a new gauge, marked as an example until it is set
};

/// What a family needs to know besides its parameters.
struct SensorContext {
    Quantity measurand = Quantity::Temperature;
    Interval range;       ///< where the part is stated to hold, canonical units of the measurand
    double supply_V = 0;  ///< what the sensor is fed with, for ratiometric parts; 0 when unknown
};

/// The circuit of a new gauge, where it is not the usual one of the sensor's signal.
struct FirstCircuit {
    std::string_view wiring = {};      ///< kind; empty: the usual one
    Parameters wiringParameters = {};  ///< over those of the usual one
    std::string_view converter = {};   ///< part of the catalogue; empty: the usual one
    Parameters converterParameters = {};
};

using MadeSensor = Expected<std::unique_ptr<Transfer>>;

/// One family of analog transfer functions: everything there is to say about it. Adding one: a file with the formula
/// and its row, declared in family_rows.h.
struct SensorFamily {
    std::string_view id;     ///< in part and gauge files: "ntc-beta"
    std::string_view title;  ///< on screen
    Quantity output;         ///< what the sensor gives: Voltage, Resistance, …
    std::vector<ParameterSpec> (*parameters)(Quantity measurand);
    MadeSensor (*make)(const Parameters& parameters, const SensorContext& context);
    std::vector<std::string_view> confusedWith = {};  ///< families whose constants people have in hand instead
    FirstCircuit first = {};
    std::string (*note)(const Parameters& parameters) = nullptr;  ///< the piece in a few words: "10 kΩ NTC, B 3950"
};

[[nodiscard]] std::span<const SensorFamily> sensorFamilies();

/// Adds a family while the program runs; before the first gauge is made. Nothing in the product needs it: the families
/// stand in family_rows.h.
void addSensorFamily(SensorFamily family);

/// What a gauge can say of its own piece whatever the formula: "accuracy_<unit>" (± in the measurand's unit, takes the
/// place of the part's statement), "signal_tolerance_<unit>" (± of points or a table, in the unit of the output), and
/// of resistive sensors "dissipation_W_per_K" with its relative "dissipation_tolerance".
[[nodiscard]] std::vector<ParameterSpec> pieceParameters(Quantity measurand, Quantity output);

/// The family of that id; null when there is none.
[[nodiscard]] const SensorFamily* findSensorFamily(std::string_view id);

/// The span that gauges of a measurand usually have, canonical.
[[nodiscard]] Interval usualSpan(Quantity measurand);

}  // namespace fg
