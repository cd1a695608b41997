// What the settings of barometers cost.

#include "timing/consequence_rules.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg::costs {
namespace {

/// One oversampling ratio of a barometer with a PROM: conversion typically and at most, RMS noise of the pressure,
/// current at one sample a second.
struct Oversampling {
    double typical_s, most_s, noise_Pa, average_A;
};

Result promBarometer(const Fields& fields, std::span<const Oversampling> ratios) {
    const std::size_t at = fields.code("osr");
    if (at >= ratios.size()) return {};
    const Oversampling& one = ratios[at];
    Result result;
    add(result, "conversion_s", "One conversion takes", one.typical_s, "typically");
    add(result, "conversion_max_s", "At most", one.most_s, "wait this long before the ADC is read");
    add(result, "reading_s", "One reading takes at most", 2 * one.most_s,
        "two conversions: D1 of the pressure, and D2 of the temperature that corrects it");
    add(result, "poll_s", "Smallest sensible polling interval", 2 * one.most_s, "each reading is started anew");
    add(result, "noise_Pa", "RMS noise of the pressure", one.noise_Pa, "", Quantity::Pressure);
    add(result, "current_A", "Average supply current", one.average_A, "one sample a second", Quantity::Current);
    return result;
}

}  // namespace

// BMP280 data sheet, 3.8.1: t = 1 + 2·T_os + 2·P_os + 0.5 ms typically, 1.25 + 2.3·T_os + 2.3·P_os + 0.575 ms at most;
// BME280 data sheet, 9.1, with the same for humidity. 3.3.1: resolution of the pressure 16 bits (2.62 Pa) to 20 bits
// (0.16 Pa) without filter.
Result trimmedBarometer(const Fields& fields) {
    const double t = fields.factor("osrs_t"), p = fields.factor("osrs_p"), h = fields.factor("osrs_h");
    const double typical = (1 + 2 * t + (p > 0 ? 2 * p + 0.5 : 0) + (h > 0 ? 2 * h + 0.5 : 0)) * 1e-3;
    const double most = (1.25 + 2.3 * t + (p > 0 ? 2.3 * p + 0.575 : 0) + (h > 0 ? 2.3 * h + 0.575 : 0)) * 1e-3;
    Result result;
    add(result, "conversion_s", "One measurement takes", typical, "typically");
    add(result, "conversion_max_s", "At most", most, "wait this long before reading");
    if (fields.is("mode", "normal")) {
        add(result, "period_s", "A new result every", typical + fields.seconds("standby"), "measurement and standby");
        add(result, "poll_s", "Smallest sensible polling interval", most + fields.seconds("standby"),
            "sooner gives the same result again");
    } else {
        add(result, "poll_s", "Smallest sensible polling interval", most,
            fields.is("mode", "sleep") ? "but in sleep mode nothing is measured at all"
                                       : "each forced measurement is started anew");
    }
    // BMP280 data sheet, table 2: 325 µA while it measures temperature, 720 µA for pressure; BME280 350, 714 and 340 µA
    // for humidity. Forced: once a second.
    const bool isBme = h > 0;
    const double charge =
        1e-3 * (2 * t * (isBme ? 350e-6 : 325e-6) + (p > 0 ? (2 * p + 0.5) * (isBme ? 714e-6 : 720e-6) : 0) +
                (h > 0 ? (2 * h + 0.5) * 340e-6 : 0));
    const double period = fields.is("mode", "normal") ? typical + fields.seconds("standby") : 1;
    if (!fields.is("mode", "sleep"))
        add(result, "current_A", "Average supply current", charge / period,
            fields.is("mode", "normal") ? "measuring and resting" : "measured once a second", Quantity::Current);
    if (p > 0) {
        const bool filtered = !fields.is("filter", "off");
        add(result, "pressure_step_Pa", "Step of the pressure", filtered ? 0.16 : 2.62 / p,
            filtered ? "20 bits with the filter on" : "16 bits and one more for each doubling", Quantity::Pressure);
    }
    return result;
}

// BMP388 data sheet, 3.9.2: 234 + (392 + 2020·osr_p) + (163 + 2020·osr_t) µs.
Result bmp388(const Fields& fields) {
    const double time = (234 + (fields.is("pressure", "on") ? 392 + 2020 * fields.factor("osr_p") : 0) +
                         (fields.is("temperature", "on") ? 163 + 2020 * fields.factor("osr_t") : 0)) *
                        1e-6;
    Result result;
    add(result, "conversion_s", "One measurement takes", time, "");
    const double period = 0.005 * std::ldexp(1, static_cast<int>(fields.code("odr")));
    if (fields.is("mode", "normal"))
        add(result, "period_s", "A new result every", period,
            period < time ? "too short for this oversampling: the part refuses it" : "its output data rate");
    add(result, "poll_s", "Smallest sensible polling interval",
        fields.is("mode", "normal") ? std::max(period, time) : time,
        fields.is("mode", "sleep") ? "but in sleep mode nothing is measured" : "");
    // BMP388 data sheet, 3.4.1: 16 bits of 2.64 Pa, and one more for each doubling.
    if (fields.is("pressure", "on") && fields.factor("osr_p") > 0)
        add(result, "pressure_step_Pa", "Step of the pressure", 2.64 / fields.factor("osr_p"),
            "16 bits and one more for each doubling", Quantity::Pressure);
    return result;
}

// DPS310 data sheet, pressure configuration, table of measurement times: 2 ms and 1.6 ms for each sample; results at
// 2^rate a second.
Result dps310(const Fields& fields) {
    const auto time = [](double samples) { return (2 + 1.6 * samples) * 1e-3; };
    const double pressure = time(fields.factor("osr_p")), temperature = time(fields.factor("osr_t"));
    const bool isBoth = fields.is("mode", "both"), wantsP = isBoth || fields.text("mode").starts_with("pressure");
    const double once = isBoth ? pressure + temperature : wantsP ? pressure : temperature;
    const double rate = 1U << fields.code(wantsP ? "rate_p" : "rate_t");
    Result result;
    add(result, "conversion_s", "One measurement takes", once, isBoth ? "pressure, then temperature" : "");
    if (isBoth || fields.is("mode", "pressure") || fields.is("mode", "temperature"))
        add(result, "period_s", "A new result every", 1 / rate,
            pressure * (1U << fields.code("rate_p")) + temperature * (1U << fields.code("rate_t")) > 1
                ? "too many for this oversampling: a second has not so many measurements"
                : "");
    add(result, "poll_s", "Smallest sensible polling interval",
        fields.text("mode").ends_with("once") ? once : std::max(once, 1 / rate),
        fields.is("mode", "sleep") ? "but in standby nothing is measured" : "");
    add(result, "step_Pa", "Resolution of the pressure", 0.06, "the finest its data sheet states", Quantity::Pressure);
    return result;
}

// LPS22HB and LPS25HB data sheets: 4096 a hPa; results at the output data rate.
Result lps2x(const Fields& fields) {
    Result result;
    const double hertz = fields.leading("odr");  // 0 of "oneshot"
    if (hertz > 0) {
        add(result, "period_s", "A new result every", 1 / hertz, "its output data rate");
        add(result, "poll_s", "Smallest sensible polling interval", 1 / hertz, "sooner gives the same result again");
    }
    add(result, "step_Pa", "Step of the pressure", 100.0 / 4096, "", Quantity::Pressure);
    return result;
}

// BME680 data sheet, table 6: RMS noise 0.12 Pa at the highest oversampling.
Result bme680(const Fields&) {
    Result result;
    add(result, "noise_Pa", "RMS noise of the pressure", 0.12, "at the highest oversampling", Quantity::Pressure);
    return result;
}

// BMP180 data sheet, 3.3.1: 4.5, 7.5, 13.5, 25.5 ms, RMS noise 6, 5, 4, 3 Pa, 3, 5, 7, 12 µA at one sample a second.
Result bmp180(const Fields& fields) {
    const unsigned oss = fields.code("oss") & 3;
    const double time = fields.is("measure", "pressure") ? std::array{4.5e-3, 7.5e-3, 13.5e-3, 25.5e-3}[oss] : 4.5e-3;
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", time, "wait this long before reading");
    add(result, "poll_s", "Smallest sensible polling interval", time, "each conversion is started anew");
    add(result, "noise_Pa", "RMS noise of the pressure", std::array{6.0, 5.0, 4.0, 3.0}[oss], "", Quantity::Pressure);
    add(result, "current_A", "Average supply current", std::array{3e-6, 5e-6, 7e-6, 12e-6}[oss], "one sample a second",
        Quantity::Current);
    return result;
}

// MS5611-01BA03 data sheet, electrical characteristics, ADC and pressure output: OSR 256 to 4096.
Result ms5611(const Fields& fields) {
    constexpr std::array ratios{Oversampling{0.54e-3, 0.60e-3, 6.5, 0.9e-6},
                                Oversampling{1.06e-3, 1.17e-3, 4.2, 1.7e-6},
                                Oversampling{2.08e-3, 2.28e-3, 2.7, 3.2e-6},
                                Oversampling{4.13e-3, 4.54e-3, 1.8, 6.3e-6},
                                Oversampling{8.22e-3, 9.04e-3, 1.2, 12.5e-6}};
    return promBarometer(fields, ratios);
}

// MS5607-02BA03 data sheet, the same tables.
Result ms5607(const Fields& fields) {
    constexpr std::array ratios{Oversampling{0.54e-3, 0.60e-3, 13, 0.9e-6}, Oversampling{1.06e-3, 1.17e-3, 8.4, 1.7e-6},
                                Oversampling{2.08e-3, 2.28e-3, 5.4, 3.2e-6},
                                Oversampling{4.13e-3, 4.54e-3, 3.6, 6.3e-6},
                                Oversampling{8.22e-3, 9.04e-3, 2.4, 12.5e-6}};
    return promBarometer(fields, ratios);
}

// MS5837-30BA data sheet, the same tables: OSR 256 to 8192.
Result ms5837(const Fields& fields) {
    constexpr std::array ratios{
        Oversampling{0.54e-3, 0.60e-3, 157, 0.63e-6}, Oversampling{1.06e-3, 1.17e-3, 84, 1.26e-6},
        Oversampling{2.08e-3, 2.28e-3, 54, 2.51e-6},  Oversampling{4.13e-3, 4.54e-3, 38, 5.02e-6},
        Oversampling{8.22e-3, 9.04e-3, 28, 10.05e-6}, Oversampling{16.44e-3, 18.08e-3, 20, 20.09e-6}};
    return promBarometer(fields, ratios);
}

}  // namespace fg::costs
