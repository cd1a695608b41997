#include "units/unit.h"

#include <array>

namespace fg {
namespace {

constexpr double kPascalPerPsi = 6894.757293168;
constexpr double kPascalPerMmHg = 133.322387415;
constexpr double kLuxPerFootCandle = 1.0 / (0.3048 * 0.3048);

constexpr std::array kQuantityNames{"temperature",      "humidity",      "pressure",       "illuminance",
                                    "voltage",          "current",       "resistance",     "capacitance",
                                    "frequency",        "time",          "ratio",          "count",
                                    "length",           "height",        "vapour_density", "wood_moisture",
                                    "temperature_rate", "humidity_rate", "pressure_rate"};

constexpr std::array<std::string_view, kQuantityNames.size()> kQuantitySymbols{"t",  "RH", "p",  "E",   "U", "I", "R",
                                                                               "C",  "f",  "T",  "x",   "N", "l", "h",
                                                                               "ρv", "M",  "dt", "dRH", "dp"};

constexpr std::array kUnits{
    Unit{"degC", "°C", Quantity::Temperature, 1, 0, false},
    Unit{"degF", "°F", Quantity::Temperature, 1 / 1.8, -32 / 1.8, false},
    Unit{"K", "K", Quantity::Temperature, 1, -273.15, false},
    Unit{"percent", "%RH", Quantity::RelativeHumidity, 1, 0, false},
    Unit{"Pa", "Pa", Quantity::Pressure, 1, 0, true},
    Unit{"hPa", "hPa", Quantity::Pressure, 100, 0, false},
    Unit{"kPa", "kPa", Quantity::Pressure, 1000, 0, false},
    Unit{"bar", "bar", Quantity::Pressure, 1e5, 0, false},
    Unit{"mbar", "mbar", Quantity::Pressure, 100, 0, false},
    Unit{"psi", "psi", Quantity::Pressure, kPascalPerPsi, 0, false},
    Unit{"mmHg", "mmHg", Quantity::Pressure, kPascalPerMmHg, 0, false},
    Unit{"inHg", "inHg", Quantity::Pressure, 25.4 * kPascalPerMmHg, 0, false},
    Unit{"lx", "lx", Quantity::Illuminance, 1, 0, true},
    Unit{"fc", "fc", Quantity::Illuminance, kLuxPerFootCandle, 0, false},
    Unit{"V", "V", Quantity::Voltage, 1, 0, true},
    Unit{"A", "A", Quantity::Current, 1, 0, true},
    Unit{"ohm", "Ω", Quantity::Resistance, 1, 0, true},
    Unit{"F", "F", Quantity::Capacitance, 1, 0, true},
    Unit{"Hz", "Hz", Quantity::Frequency, 1, 0, true},
    Unit{"s", "s", Quantity::Time, 1, 0, true},
    Unit{"min", "min", Quantity::Time, 60, 0, false},
    Unit{"h", "h", Quantity::Time, 3600, 0, false},
    Unit{"1", "", Quantity::Ratio, 1, 0, false},
    Unit{"%", "%", Quantity::Ratio, 0.01, 0, false},
    Unit{"mV/V", "mV/V", Quantity::Ratio, 0.001, 0, false},
    Unit{"1", "", Quantity::Count, 1, 0, false},
    Unit{"m", "m", Quantity::Length, 1, 0, false},
    Unit{"cm", "cm", Quantity::Length, 0.01, 0, false},
    Unit{"mm", "mm", Quantity::Length, 0.001, 0, false},
    Unit{"ft", "ft", Quantity::Length, 0.3048, 0, false},
    Unit{"in", "in", Quantity::Length, 0.0254, 0, false},
    Unit{"m", "m", Quantity::Height, 1, 0, false},
    Unit{"ft", "ft", Quantity::Height, 0.3048, 0, false},
    Unit{"cm", "cm", Quantity::Height, 0.01, 0, false},
    Unit{"mm", "mm", Quantity::Height, 0.001, 0, false},
    Unit{"in", "in", Quantity::Height, 0.0254, 0, false},
    Unit{"km", "km", Quantity::Height, 1000, 0, false},
    Unit{"g/m³", "g/m³", Quantity::VapourDensity, 1, 0, false},
    Unit{"%", "%", Quantity::WoodMoisture, 1, 0, false},
    Unit{"degC/h", "°C/h", Quantity::TemperatureRate, 1, 0, false},
    Unit{"degF/h", "°F/h", Quantity::TemperatureRate, 1 / 1.8, 0, false},
    Unit{"degC/min", "°C/min", Quantity::TemperatureRate, 60, 0, false},
    Unit{"percent/h", "%RH/h", Quantity::HumidityRate, 1, 0, false},
    Unit{"Pa/h", "Pa/h", Quantity::PressureRate, 1, 0, false},
    Unit{"hPa/h", "hPa/h", Quantity::PressureRate, 100, 0, false},
};

}  // namespace

std::string_view quantityName(Quantity quantity) { return kQuantityNames[static_cast<std::size_t>(quantity)]; }

std::string_view quantitySymbol(Quantity quantity) { return kQuantitySymbols[static_cast<std::size_t>(quantity)]; }

std::optional<Quantity> quantityFromName(std::string_view name) {
    for (std::size_t i = 0; i < kQuantityNames.size(); ++i)
        if (kQuantityNames[i] == name) return static_cast<Quantity>(i);
    // As people say it.
    if (name == "light" || name == "lux") return Quantity::Illuminance;
    if (name == "temp") return Quantity::Temperature;
    if (name == "rh") return Quantity::RelativeHumidity;
    return std::nullopt;
}

bool isMeasurand(Quantity quantity) { return quantity <= Quantity::Illuminance; }

bool isReadable(Quantity quantity) { return isMeasurand(quantity) || quantity >= Quantity::Height; }

std::optional<Quantity> rateOf(Quantity quantity) {
    switch (quantity) {
        case Quantity::Temperature:
            return Quantity::TemperatureRate;
        case Quantity::RelativeHumidity:
            return Quantity::HumidityRate;
        case Quantity::Pressure:
            return Quantity::PressureRate;
        default:
            return std::nullopt;
    }
}

std::span<const Unit> allUnits() { return kUnits; }

const Unit& canonicalUnit(Quantity quantity) {
    for (const Unit& unit : kUnits)
        if (unit.quantity == quantity) return unit;
    return kUnits.back();  // unreachable: every quantity has a row above
}

Expected<const Unit*> unitFromId(std::string_view id, Quantity quantity) {
    std::string known;
    for (const Unit& unit : kUnits) {
        if (unit.quantity != quantity) continue;
        if (unit.id == id) return &unit;
        known += (known.empty() ? "" : ", ") + std::string(unit.id);
    }
    return fail(ErrorCode::Unknown, "", "“" + std::string(id) + "”",
                "a unit of " + std::string(quantityName(quantity)) + ": " + known);
}

}  // namespace fg
