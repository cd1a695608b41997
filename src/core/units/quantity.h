#pragma once

#include <optional>
#include <string_view>

namespace fg {

/// The kinds of quantity a signal path deals in. Inside the core every value of a quantity is a double in that
/// quantity's canonical unit (see canonicalUnit()); other units exist only at the edges.
enum class Quantity {
    Temperature,       ///< °C (a point on the scale; for differences see Unit::differenceToCanonical)
    RelativeHumidity,  ///< %RH
    Pressure,          ///< Pa
    Illuminance,       ///< lx
    Voltage,           ///< V
    Current,           ///< A
    Resistance,        ///< Ω
    Capacitance,       ///< F
    Frequency,         ///< Hz
    Time,              ///< s
    Ratio,             ///< 1 (0.01 is one percent)
    Count,             ///< 1 (converter codes, pulses)
    Length,            ///< m, of cables; never below 0
    Height,            ///< m, above the sea or another level; below it negative. Depths too
    VapourDensity,     ///< g/m³, water in the air
    WoodMoisture,      ///< % of the dry mass
    TemperatureRate,   ///< °C/h
    HumidityRate,      ///< %RH/h
    PressureRate       ///< Pa/h
};

/// Name used in files: "temperature", "humidity", "pressure", "illuminance", "voltage", …
[[nodiscard]] std::string_view quantityName(Quantity quantity);

/// The quantity of that file name; nothing when nobody knows it.
[[nodiscard]] std::optional<Quantity> quantityFromName(std::string_view name);

/// The letter that stands for it in a formula: "t", "RH", "p", "E", "U", "I", "R", "C", "f", "T" …
[[nodiscard]] std::string_view quantitySymbol(Quantity quantity);

/// Is it one of the four that sensors measure (temperature, humidity, pressure, illuminance)?
[[nodiscard]] bool isMeasurand(Quantity quantity);

/// May a gauge read it: a measurand, or what follows from measurands (a height, the moisture of wood)?
[[nodiscard]] bool isReadable(Quantity quantity);

/// How fast that changes: of a temperature °C/h. Nothing where nobody reads it.
[[nodiscard]] std::optional<Quantity> rateOf(Quantity quantity);

}  // namespace fg
