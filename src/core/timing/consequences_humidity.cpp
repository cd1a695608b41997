// What the settings of humidity sensors cost.

#include "timing/consequence_rules.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg::costs {
namespace {

/// What a command of humidity parts costs: measuring typically and at most, repeatability as three standard deviations.
struct Effort {
    double typical_s, most_s, degC, percent;
};

Result commanded(const Effort& effort, double period_s, double measuring_A, double resting_A) {
    Result result;
    add(result, "conversion_s", "One measurement takes", effort.typical_s, "typically");
    add(result, "conversion_max_s", "At most", effort.most_s, "wait this long before fetching it");
    if (period_s > 0) add(result, "period_s", "A new result every", period_s, "it measures by itself");
    add(result, "poll_s", "Smallest sensible polling interval", std::max(period_s, effort.most_s),
        period_s > 0 ? "sooner there is nothing new, and it does not acknowledge" : "each measurement is started anew");
    const double every = period_s > 0 ? period_s : 1;
    add(result, "current_A", "Average supply current",
        (measuring_A * effort.typical_s + resting_A * (every - effort.typical_s)) / every,
        period_s > 0 ? "measuring and waiting" : "measured once a second", Quantity::Current);
    add(result, "noise_degC", "Repeatability of the temperature", effort.degC, "three standard deviations",
        Quantity::Temperature);
    add(result, "noise_percent", "Repeatability of the humidity", effort.percent, "three standard deviations",
        Quantity::RelativeHumidity);
    return result;
}

/// Conversion of a resolution: bits, typically and at most.
struct Resolved {
    int bits;
    double typical_s, most_s;
};

Result twoResolutions(const Fields& fields, const std::array<Resolved, 4>& humidity,
                      const std::array<Resolved, 4>& temperature, bool humidityTakesBoth) {
    const unsigned code = fields.code("resolution") & 3;
    const bool wantsHumidity = !fields.text("measure").starts_with("temperature");
    const Resolved &rh = humidity[code], &t = temperature[code];
    const bool isBoth = wantsHumidity && humidityTakesBoth;
    Result result;
    add(result, "conversion_s", "One measurement takes",
        isBoth          ? rh.typical_s + t.typical_s
        : wantsHumidity ? rh.typical_s
                        : t.typical_s,
        isBoth          ? "humidity, and the temperature it needs"
        : wantsHumidity ? "humidity"
                        : "temperature");
    add(result, "conversion_max_s", "At most",
        isBoth          ? rh.most_s + t.most_s
        : wantsHumidity ? rh.most_s
                        : t.most_s,
        "");
    add(result, "poll_s", "Smallest sensible polling interval", rh.most_s + t.most_s,
        "for both of them, one after the other");
    add(result, "step_degC", "Step of the temperature", std::ldexp(175.72, -t.bits), "", Quantity::Temperature);
    add(result, "step_percent", "Step of the humidity", std::ldexp(125, -rh.bits), "", Quantity::RelativeHumidity);
    return result;
}

}  // namespace

// HDC1080 data sheet, electrical characteristics: 6.35 and 3.65 ms; 6.5, 3.85 and 2.5 ms.
Result hdc1080(const Fields& fields) {
    const double temperature = fields.is("temperature_bits", "14") ? 6.35e-3 : 3.65e-3;
    const double humidity = fields.is("humidity_bits", "14")   ? 6.5e-3
                            : fields.is("humidity_bits", "11") ? 3.85e-3
                                                               : 2.5e-3;
    Result result;
    add(result, "conversion_s", "One measurement takes",
        fields.is("acquire", "both") ? temperature + humidity : std::max(temperature, humidity),
        fields.is("acquire", "both") ? "temperature, then humidity" : "one of the two");
    add(result, "poll_s", "Smallest sensible polling interval", temperature + humidity,
        "once a second keeps it from warming itself");
    // Same data sheet, equations 1 and 2: 165 °C and 100 %RH over 2^16, of which so many bits are used.
    add(result, "step_degC", "Step of the temperature", 165.0 / (fields.is("temperature_bits", "14") ? 16384 : 2048),
        "", Quantity::Temperature);
    add(result, "step_percent", "Step of the humidity",
        100.0 / (fields.is("humidity_bits", "14")   ? 16384
                 : fields.is("humidity_bits", "11") ? 2048
                                                    : 256),
        "", Quantity::RelativeHumidity);
    return result;
}

// SHT3x-DIS data sheet, sensor performance and timing: high, medium, low repeatability; 600 µA while it measures, 0.2
// µA at rest, 45 µA between periodic measurements.
Result sht3x(const Fields& fields) {
    constexpr std::array efforts{Effort{12.5e-3, 15.5e-3, 0.04, 0.08}, Effort{4.5e-3, 6.5e-3, 0.08, 0.15},
                                 Effort{2.5e-3, 4.5e-3, 0.15, 0.21}};
    const double hertz = fields.leading("repeat");  // 0.5 of "0.5/s"; 0 of "once"
    return commanded(efforts[std::min(fields.code("repeatability"), 2U)], hertz > 0 ? 1 / hertz : 0, 600e-6,
                     hertz > 0 ? 45e-6 : 0.2e-6);
}

// SHT4x data sheet, sensor performance and timing: 320 µA while it measures, 0.08 µA at rest.
Result sht4x(const Fields& fields) {
    const std::string measure = fields.text("measure");
    if (measure.starts_with("heat")) {
        Result result;
        add(result, "conversion_s", "The heater is on for", measure.ends_with("100ms") ? 0.1 : 1.0,
            "then it measures once, at high precision; not more than a tenth of the time");
        return result;
    }
    return commanded(measure == "medium" ? Effort{3.7e-3, 4.5e-3, 0.07, 0.15}
                     : measure == "low"  ? Effort{1.3e-3, 1.6e-3, 0.1, 0.25}
                                         : Effort{6.9e-3, 8.3e-3, 0.04, 0.08},
                     0, 320e-6, 0.08e-6);
}

// Si7021-A20 data sheet, table 2: conversion time of humidity 12, 8, 10, 11 bits and temperature 14, 12, 13, 11 bits.
Result si7021(const Fields& fields) {
    return twoResolutions(fields, {{{12, 10e-3, 12e-3}, {8, 2.6e-3, 3.1e-3}, {10, 3.7e-3, 4.5e-3}, {11, 5.8e-3, 7e-3}}},
                          {{{14, 7e-3, 10.8e-3}, {12, 2.4e-3, 3.8e-3}, {13, 4e-3, 6.2e-3}, {11, 1.5e-3, 2.4e-3}}},
                          true);
}

// HTU21D(F) data sheet, sensor performance: measuring time.
Result htu21d(const Fields& fields) {
    return twoResolutions(fields, {{{12, 14e-3, 16e-3}, {8, 2e-3, 3e-3}, {10, 4e-3, 5e-3}, {11, 7e-3, 8e-3}}},
                          {{{14, 44e-3, 50e-3}, {12, 11e-3, 13e-3}, {13, 22e-3, 25e-3}, {11, 6e-3, 7e-3}}}, false);
}

// HDC2080 data sheet, electrical characteristics: 610, 350, 225 µs for the temperature and 660, 400, 275 µs for the
// humidity at 14, 11, 9 bits.
Result hdc2080(const Fields& fields) {
    constexpr std::array temperatures{610e-6, 350e-6, 225e-6}, humidities{660e-6, 400e-6, 275e-6};
    constexpr std::array bits{14, 11, 9};
    const std::size_t t = std::min(fields.code("temperature_bits"), 2U), h = std::min(fields.code("humidity_bits"), 2U);
    const bool isBoth = !fields.is("measure", "temperature");
    const double time = temperatures[t] + (isBoth ? humidities[h] : 0);
    const double hertz = fields.is("rate", "1/120Hz")  ? 1.0 / 120
                         : fields.is("rate", "1/60Hz") ? 1.0 / 60
                                                       : fields.leading("rate");
    Result result;
    add(result, "conversion_s", "One measurement takes", time, "typically");
    if (hertz > 0) add(result, "period_s", "A new result every", 1 / hertz, "it measures by itself");
    add(result, "poll_s", "Smallest sensible polling interval", hertz > 0 ? 1 / hertz : time,
        hertz > 0 ? "sooner gives the same result again" : "each measurement is started anew");
    add(result, "step_degC", "Step of the temperature", std::ldexp(165, -bits[t]), "", Quantity::Temperature);
    add(result, "step_percent", "Step of the humidity", std::ldexp(100, -bits[h]), "", Quantity::RelativeHumidity);
    return result;
}

// HTS221 data sheet, CTRL_REG1: 1, 7 or 12.5 results a second, or one at a time.
Result hts221(const Fields& fields) {
    const double hertz = fields.leading("odr");
    Result result;
    if (!(hertz > 0)) return result;
    add(result, "period_s", "A new result every", 1 / hertz, "its output data rate");
    add(result, "poll_s", "Smallest sensible polling interval", 1 / hertz, "sooner gives the same result again");
    return result;
}

}  // namespace fg::costs
