// What the settings of thermometers cost.

#include "devices/tracer.h"
#include "timing/consequence_rules.h"

#include <algorithm>
#include <array>

namespace fg::costs {

// TMP117 data sheet, table 7-7: conversion cycle time by CONV and AVG; one conversion takes 15.5 ms.
Result tmp117(const Fields& fields) {
    const double conversions = std::array{1.0, 8.0, 32.0, 64.0}[fields.code("avg") & 3];
    const double active = conversions * 0.0155, cycle = std::max(fields.seconds("conv"), active);
    Result result;
    add(result, "conversion_s", "One result takes", active, num(conversions) + " conversions of 15.5 ms");
    if (fields.is("mode", "continuous"))
        add(result, "period_s", "A new result every", cycle, "the averaging when it takes longer than the cycle");
    // TMP117 data sheet, electrical characteristics: 135 µA while it converts, 1.25 µA in between.
    if (fields.is("mode", "continuous"))
        add(result, "current_A", "Average supply current", (135e-6 * active + 1.25e-6 * (cycle - active)) / cycle,
            "converting and resting", Quantity::Current);
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("mode", "continuous") ? cycle : active,
        fields.is("mode", "shutdown") ? "but in shutdown nothing is measured" : "sooner gives the same result again");
    // TMP117 data sheet, features: 16 bits, 7.8125 m°C.
    add(result, "step_degC", "Step of the temperature", 0.0078125, "whatever the averaging", Quantity::Temperature);
    return result;
}

// TMP102 data sheet, electrical characteristics: conversion 26 ms, 35 ms at most; rate 0.25 … 8 Hz.
Result tmp102(const Fields& fields) {
    Result result;
    add(result, "conversion_s", "One conversion takes", 0.026, "typically");
    add(result, "conversion_max_s", "At most", 0.035, "");
    const double rate = std::array{0.25, 1.0, 4.0, 8.0}[fields.code("rate") & 3];
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("shutdown", "on") ? 0.035 : 1 / rate,
        fields.is("shutdown", "on") ? "each one-shot conversion is started anew" : "its conversion rate");
    add(result, "step_degC", "Step of the temperature", 0.0625, "", Quantity::Temperature);
    return result;
}

// MCP9808 data sheet, resolution register: 30, 65, 130, 250 ms typically.
Result mcp9808(const Fields& fields) {
    const double time = std::array{0.030, 0.065, 0.130, 0.250}[fields.code("resolution") & 3];
    Result result;
    add(result, "conversion_s", "One conversion takes", time, "typically");
    add(result, "poll_s", "Smallest sensible polling interval", time, "sooner gives the same result again");
    add(result, "step_degC", "Step of the temperature", 0.5 / (1 << (fields.code("resolution") & 3)), "",
        Quantity::Temperature);
    add(result, "current_A", "Supply current", fields.is("shutdown", "on") ? 0.1e-6 : 200e-6,
        fields.is("shutdown", "on") ? "shut down" : "it converts all the time", Quantity::Current);
    return result;
}

// DS18B20 data sheet, AC electrical characteristics: 93.75 ms at 9 bits, twice as long for each bit more.
Result ds18b20(const Fields& fields) {
    const double time = 0.09375 * (1 << (fields.code("resolution") & 3));
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", time,
        "with parasite power the line must be held high for so long");
    add(result, "current_A", "Supply current while it converts", 1e-3, "typically; up to 1.5 mA", Quantity::Current);
    add(result, "poll_s", "Smallest sensible polling interval", time,
        "read sooner it is the value before, or 85 °C after power-on");
    add(result, "step_degC", "Step of the temperature", 0.5 / (1 << (fields.code("resolution") & 3)), "",
        Quantity::Temperature);
    return result;
}

// MAX31865 data sheet, electrical characteristics: 52 ms (60 Hz filter) or 62.5 ms single, 16.7 or 20 ms continuous.
Result max31865(const Fields& fields) {
    const bool is50 = fields.is("filter", "50Hz"), isAuto = fields.is("conversion", "auto");
    const double time = isAuto ? (is50 ? 0.020 : 0.0167) : (is50 ? 0.0625 : 0.052);
    Result result;
    add(result, "conversion_s", isAuto ? "A new result every" : "One conversion takes", time,
        fields.is("bias", "off") ? "VBIAS is off: nothing flows through the element" : "");
    add(result, "poll_s", "Smallest sensible polling interval", time, "");
    // MAX31865 data sheet, general description: 15 bits, nominally 0.03125 °C.
    add(result, "step_degC", "Step of the temperature", 0.03125, "nominally", Quantity::Temperature);
    return result;
}

// LM75 data sheet, temperature register: 9 bits of 0.5 °C.
Result lm75(const Fields&) {
    Result result;
    add(result, "step_degC", "Step of the temperature", 0.5, "parts with more bits have finer steps",
        Quantity::Temperature);
    return result;
}

// ADT7410 data sheet, table 1 and configuration register: 240 ms, 60 ms once a second at 1 SPS; 13 bits 0.0625 °C, 16
// bits 0.0078 °C.
Result adt7410(const Fields& fields) {
    const bool isSlow = fields.is("mode", "1sps");
    Result result;
    add(result, "conversion_s", "One conversion takes", isSlow ? 0.06 : 0.24, "typically");
    if (isSlow) add(result, "period_s", "A new result every", 1, "");
    add(result, "poll_s", "Smallest sensible polling interval", isSlow ? 1 : 0.24,
        fields.is("mode", "shutdown") ? "but in shutdown nothing is measured" : "sooner gives the same result again");
    add(result, "step_degC", "Step of the temperature", fields.is("resolution", "16") ? 0.0078125 : 0.0625, "",
        Quantity::Temperature);
    return result;
}

// DS3231 data sheet, AC characteristics and temperature registers: 125 ms, 200 ms at most; every 64 s by itself; 0.25
// °C.
Result ds3231(const Fields& fields) {
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 0.2, "125 ms typically");
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("convert", "on") ? 0.2 : 64,
        fields.is("convert", "on") ? "" : "it converts by itself every 64 s");
    add(result, "step_degC", "Step of the temperature", 0.25, "", Quantity::Temperature);
    return result;
}

// DS18S20 data sheet, AC electrical characteristics and operation: 750 ms; 0.5 °C, finer by COUNT_REMAIN.
Result ds18s20(const Fields&) {
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 0.75,
        "with parasite power the line must be held high for so long");
    add(result, "poll_s", "Smallest sensible polling interval", 0.75,
        "read sooner it is the value before, or 85 °C after power-on");
    add(result, "step_degC", "Step of the temperature", 0.0625, "0.5 without the extended formula",
        Quantity::Temperature);
    return result;
}

// TMP75 data sheet, conversion rate: 27.5 ms typically at 9 bits, 220 ms at 12.
Result tmp75(const Fields& fields) {
    const unsigned code = fields.code("resolution") & 3;
    const double time = 27.5e-3 * (1 << code);
    Result result;
    add(result, "conversion_s", "One conversion takes", time, "typically");
    add(result, "poll_s", "Smallest sensible polling interval", time, "sooner gives the same result again");
    add(result, "step_degC", "Step of the temperature", 0.5 / (1 << code), "", Quantity::Temperature);
    return result;
}

// MCP9600 data sheet, ADC measurement resolution: 320, 80, 20, 5 ms for 18, 16, 14, 12 bits; the input's step 2 to 128
// µV.
Result mcp9600(const Fields& fields) {
    const unsigned code = fields.code("resolution") & 3;
    const double time = std::array{320e-3, 80e-3, 20e-3, 5e-3}[code];
    Result result;
    add(result, "conversion_s", "One conversion takes", time, "typically");
    add(result, "poll_s", "Smallest sensible polling interval", time, "sooner gives the same result again");
    add(result, "step_V", "Step of the thermocouple's voltage", std::array{2e-6, 8e-6, 32e-6, 128e-6}[code],
        "of a type K about 40 µV a degree", Quantity::Voltage);
    return result;
}

}  // namespace fg::costs
