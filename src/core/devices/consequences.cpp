#include "devices/consequences.h"

#include "units/number_format.h"

#include "devices/tracer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>

namespace fg {
namespace {

/// The fields by name.
class Fields {
  public:
    explicit Fields(std::span<const FieldValue> values) : m_values(values) {}
    [[nodiscard]] const FieldValue* find(std::string_view id) const {
        const auto it = std::find_if(m_values.begin(), m_values.end(), [&](const FieldValue& value) { return value.field->id == id; });
        return it == m_values.end() ? nullptr : &*it;
    }
    [[nodiscard]] std::string text(std::string_view id) const { return find(id) ? find(id)->text : ""; }
    [[nodiscard]] bool is(std::string_view id, std::string_view text_) const { return text(id) == text_; }
    [[nodiscard]] unsigned code(std::string_view id) const { return find(id) ? find(id)->code : 0; }
    [[nodiscard]] double number(std::string_view id) const { return find(id) ? find(id)->number : 0; }
    /// A choice of a duration, "62.5ms" or "4s", in s.
    [[nodiscard]] double seconds(std::string_view id) const {
        const std::string name = text(id);
        const double number = name.empty() || !std::isdigit(static_cast<unsigned char>(name[0])) ? 0 : std::stod(name);
        return name.ends_with("ms") ? number / 1000 : number;
    }
    /// A choice of a factor, "x16".
    [[nodiscard]] double factor(std::string_view id) const {
        const std::string name = text(id);
        return name.starts_with("x") ? std::stod(name.substr(1)) : 0;
    }

  private:
    std::span<const FieldValue> m_values;
};

using Result = std::vector<Consequence>;

void add(Result& result, const char* id, const char* title, double value, const std::string& note, Quantity quantity = Quantity::Time) {
    result.push_back({id, title, value, quantity, note});
}

// BMP280 data sheet, 3.8.1: t = 1 + 2·T_os + 2·P_os + 0.5 ms typically, 1.25 + 2.3·T_os + 2.3·P_os + 0.575 ms at most; BME280 data sheet,
// 9.1, with the same for humidity. 3.3.1: resolution of the pressure 16 bits (2.62 Pa) to 20 bits (0.16 Pa) without filter.
Result trimmedBarometer(const Fields& fields) {
    const double t = fields.factor("osrs_t"), p = fields.factor("osrs_p"), h = fields.factor("osrs_h");
    const double typical = (1 + 2 * t + (p > 0 ? 2 * p + 0.5 : 0) + (h > 0 ? 2 * h + 0.5 : 0)) * 1e-3;
    const double most = (1.25 + 2.3 * t + (p > 0 ? 2.3 * p + 0.575 : 0) + (h > 0 ? 2.3 * h + 0.575 : 0)) * 1e-3;
    Result result;
    add(result, "conversion_s", "One measurement takes", typical, "typically");
    add(result, "conversion_max_s", "At most", most, "wait this long before reading");
    if (fields.is("mode", "normal")) {
        add(result, "period_s", "A new result every", typical + fields.seconds("standby"), "measurement and standby");
        add(result, "poll_s", "Smallest sensible polling interval", most + fields.seconds("standby"), "sooner gives the same result again");
    } else {
        add(result, "poll_s", "Smallest sensible polling interval", most,
            fields.is("mode", "sleep") ? "but in sleep mode nothing is measured at all" : "each forced measurement is started anew");
    }
    // BMP280 data sheet, table 2: 325 µA while it measures temperature, 720 µA for pressure; BME280 350, 714 and 340 µA for humidity.
    // Forced: once a second.
    const bool isBme = h > 0;
    const double charge = 1e-3 * (2 * t * (isBme ? 350e-6 : 325e-6) + (p > 0 ? (2 * p + 0.5) * (isBme ? 714e-6 : 720e-6) : 0) +
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
        add(result, "current_A", "Average supply current", (135e-6 * active + 1.25e-6 * (cycle - active)) / cycle, "converting and resting",
            Quantity::Current);
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
    add(result, "step_degC", "Step of the temperature", 0.5 / (1 << (fields.code("resolution") & 3)), "", Quantity::Temperature);
    add(result, "current_A", "Supply current", fields.is("shutdown", "on") ? 0.1e-6 : 200e-6,
        fields.is("shutdown", "on") ? "shut down" : "it converts all the time", Quantity::Current);
    return result;
}

// DS18B20 data sheet, AC electrical characteristics: 93.75 ms at 9 bits, twice as long for each bit more.
Result ds18b20(const Fields& fields) {
    const double time = 0.09375 * (1 << (fields.code("resolution") & 3));
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", time, "with parasite power the line must be held high for so long");
    add(result, "current_A", "Supply current while it converts", 1e-3, "typically; up to 1.5 mA", Quantity::Current);
    add(result, "poll_s", "Smallest sensible polling interval", time, "read sooner it is the value before, or 85 °C after power-on");
    add(result, "step_degC", "Step of the temperature", 0.5 / (1 << (fields.code("resolution") & 3)), "", Quantity::Temperature);
    return result;
}

// ADS1115 and ADS1015 data sheets: single-cycle settling, data rate within ± 10 %.
Result ads(const Fields& fields) {
    const std::string rate = fields.text("rate");
    const double hertz = rate.empty() ? 128 : std::stod(rate);
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 1 / (0.9 * hertz), "its own clock is within ± 10 %");
    add(result, "poll_s", "Smallest sensible polling interval", 1 / (0.9 * hertz),
        fields.is("mode", "single") ? "each conversion is started anew" : "sooner gives the same result again");
    const double duty = fields.is("mode", "single") ? std::min(1.0, 1 / hertz) : 1;
    add(result, "current_A", "Average supply current", 150e-6 * duty,
        fields.is("mode", "single") ? "converting once a second" : "it converts all the time", Quantity::Current);
    const std::string range = fields.text("pga");
    if (!range.empty())
        add(result, "step_V", "One step of 16 bits", std::stod(range) / 32768, "of 12 bits 16 times as much", Quantity::Voltage);
    return result;
}

// HDC1080 data sheet, electrical characteristics: 6.35 and 3.65 ms; 6.5, 3.85 and 2.5 ms.
Result hdc1080(const Fields& fields) {
    const double temperature = fields.is("temperature_bits", "14") ? 6.35e-3 : 3.65e-3;
    const double humidity = fields.is("humidity_bits", "14") ? 6.5e-3 : fields.is("humidity_bits", "11") ? 3.85e-3 : 2.5e-3;
    Result result;
    add(result, "conversion_s", "One measurement takes",
        fields.is("acquire", "both") ? temperature + humidity : std::max(temperature, humidity),
        fields.is("acquire", "both") ? "temperature, then humidity" : "one of the two");
    add(result, "poll_s", "Smallest sensible polling interval", temperature + humidity, "once a second keeps it from warming itself");
    // Same data sheet, equations 1 and 2: 165 °C and 100 %RH over 2^16, of which so many bits are used.
    add(result, "step_degC", "Step of the temperature", 165.0 / (fields.is("temperature_bits", "14") ? 16384 : 2048), "",
        Quantity::Temperature);
    add(result, "step_percent", "Step of the humidity",
        100.0 / (fields.is("humidity_bits", "14")   ? 16384
                 : fields.is("humidity_bits", "11") ? 2048
                                                    : 256),
        "", Quantity::RelativeHumidity);
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

// OPT3001 data sheet, configuration register: 100 or 800 ms.
Result opt3001(const Fields& fields) {
    const double time = fields.seconds("time");
    Result result;
    add(result, "conversion_s", "One conversion takes", time, "");
    add(result, "poll_s", "Smallest sensible polling interval", time,
        fields.is("mode", "shutdown") ? "but in shutdown nothing is measured" : "");
    // OPT3001 data sheet, result register: 0.01 lx · 2^E, E the range's number.
    const unsigned range = fields.code("range");
    add(result, "step_lx", "Step of the illuminance", 0.01 * (range < 12 ? 1 << range : 1),
        range < 12 ? "" : "in the lowest range it can choose", Quantity::Illuminance);
    return result;
}

// VEML7700 data sheet: integration time, and 500 ms more where the power saving says so.
Result veml7700(const Fields& fields) {
    const double time = fields.seconds("integration"), gain = fields.is("gain", "x2")     ? 2
                                                              : fields.is("gain", "x1")   ? 1
                                                              : fields.is("gain", "x1/4") ? 0.25
                                                                                          : 0.125;
    Result result;
    if (!(time > 0)) return result;
    const double step = 0.0036 * 2 / gain * 0.8 / time;
    add(result, "conversion_s", "One conversion takes", time, "");
    add(result, "poll_s", "Smallest sensible polling interval", time, "");
    add(result, "step_lx", "One count is", step, "with 0.0036 lx at gain 2 and 800 ms", Quantity::Illuminance);
    add(result, "full_lx", "Full scale", 65535 * step, "", Quantity::Illuminance);
    return result;
}

// TSL2561 data sheet, timing register.
Result tsl2561(const Fields& fields) {
    Result result;
    add(result, "conversion_s", "One conversion takes", fields.seconds("integration"),
        fields.is("power", "on") ? "" : "but it is powered down");
    add(result, "poll_s", "Smallest sensible polling interval", fields.seconds("integration"), "");
    // TSL2561 data sheet, calculating lux: at most 0.0304 lx a count of channel 0 at gain 16 and 402 ms (T, FN and CL packages).
    if (const double time = fields.seconds("integration"); time > 0)
        add(result, "step_lx", "One count of channel 0 is at most", 0.0304 * (0.402 / time) * (fields.is("gain", "x16") ? 1 : 16),
            "without infrared, T package", Quantity::Illuminance);
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
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("mode", "normal") ? std::max(period, time) : time,
        fields.is("mode", "sleep") ? "but in sleep mode nothing is measured" : "");
    // BMP388 data sheet, 3.4.1: 16 bits of 2.64 Pa, and one more for each doubling.
    if (fields.is("pressure", "on"))
        add(result, "pressure_step_Pa", "Step of the pressure", 2.64 / fields.factor("osr_p"), "16 bits and one more for each doubling",
            Quantity::Pressure);
    return result;
}

// LM75 data sheet, temperature register: 9 bits of 0.5 °C.
Result lm75(const Fields&) {
    Result result;
    add(result, "step_degC", "Step of the temperature", 0.5, "parts with more bits have finer steps", Quantity::Temperature);
    return result;
}

// ADT7410 data sheet, table 1 and configuration register: 240 ms, 60 ms once a second at 1 SPS; 13 bits 0.0625 °C, 16 bits 0.0078 °C.
Result adt7410(const Fields& fields) {
    const bool isSlow = fields.is("mode", "1sps");
    Result result;
    add(result, "conversion_s", "One conversion takes", isSlow ? 0.06 : 0.24, "typically");
    if (isSlow) add(result, "period_s", "A new result every", 1, "");
    add(result, "poll_s", "Smallest sensible polling interval", isSlow ? 1 : 0.24,
        fields.is("mode", "shutdown") ? "but in shutdown nothing is measured" : "sooner gives the same result again");
    add(result, "step_degC", "Step of the temperature", fields.is("resolution", "16") ? 0.0078125 : 0.0625, "", Quantity::Temperature);
    return result;
}

// DPS310 data sheet, pressure configuration, table of measurement times: 2 ms and 1.6 ms for each sample; results at 2^rate a second.
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
    add(result, "poll_s", "Smallest sensible polling interval", fields.text("mode").ends_with("once") ? once : std::max(once, 1 / rate),
        fields.is("mode", "sleep") ? "but in standby nothing is measured" : "");
    add(result, "step_Pa", "Resolution of the pressure", 0.06, "the finest its data sheet states", Quantity::Pressure);
    return result;
}

// LPS22HB and LPS25HB data sheets: 4096 a hPa; results at the output data rate.
Result lps2x(const Fields& fields) {
    Result result;
    const std::string odr = fields.text("odr");
    const bool isOnce = odr == "oneshot" || odr.empty();
    if (!isOnce) add(result, "period_s", "A new result every", 1 / std::stod(odr), "its output data rate");
    if (!isOnce) add(result, "poll_s", "Smallest sensible polling interval", 1 / std::stod(odr), "sooner gives the same result again");
    add(result, "step_Pa", "Step of the pressure", 100.0 / 4096, "", Quantity::Pressure);
    return result;
}

// MAX44009 data sheet, configuration register: 6.25 to 800 ms; every 800 ms unless it is continuous.
Result max44009(const Fields& fields) {
    const double time = fields.seconds("integration");
    Result result;
    add(result, "conversion_s", "One conversion takes", time, fields.is("manual", "on") ? "" : "it chooses the time by itself");
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("mode", "continuous") ? time : 0.8, "");
    add(result, "step_lx", "Step of the illuminance", 0.045, "in the lowest range", Quantity::Illuminance);
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
    add(result, "current_A", "Average supply current", std::array{3e-6, 5e-6, 7e-6, 12e-6}[oss], "one sample a second", Quantity::Current);
    return result;
}

// DS3231 data sheet, AC characteristics and temperature registers: 125 ms, 200 ms at most; every 64 s by itself; 0.25 °C.
Result ds3231(const Fields& fields) {
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 0.2, "125 ms typically");
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("convert", "on") ? 0.2 : 64,
        fields.is("convert", "on") ? "" : "it converts by itself every 64 s");
    add(result, "step_degC", "Step of the temperature", 0.25, "", Quantity::Temperature);
    return result;
}

// BH1750FVI data sheet, electrical characteristics and measuring time register: 120 ms, 180 ms at most, 16 and 24 ms at low resolution,
// all by MTreg/69; one count is 1/1.2 lx · 69/MTreg, half of it in mode H2.
Result bh1750(const Fields& fields) {
    const double mtreg = fields.number("mtreg");
    if (!(mtreg > 0)) return {};
    const bool isLow = fields.is("mode", "l");
    const double typical = (isLow ? 0.016 : 0.120) * mtreg / 69, most = (isLow ? 0.024 : 0.180) * mtreg / 69;
    const double step = 69 / (1.2 * mtreg) / (fields.is("mode", "h2") ? 2 : 1);
    Result result;
    add(result, "conversion_s", "One measurement takes", typical, "typically");
    add(result, "conversion_max_s", "At most", most, "wait this long before the first reading");
    add(result, "poll_s", "Smallest sensible polling interval", most,
        fields.is("repeat", "once") ? "each measurement is started anew" : "sooner gives the same result again");
    add(result, "step_lx", "One count is", step, isLow ? "but at low resolution it moves by 4 lx at a time" : "", Quantity::Illuminance);
    add(result, "full_lx", "Full scale", 65535 * step, "", Quantity::Illuminance);
    return result;
}

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
    add(result, "current_A", "Average supply current", (measuring_A * effort.typical_s + resting_A * (every - effort.typical_s)) / every,
        period_s > 0 ? "measuring and waiting" : "measured once a second", Quantity::Current);
    add(result, "noise_degC", "Repeatability of the temperature", effort.degC, "three standard deviations", Quantity::Temperature);
    add(result, "noise_percent", "Repeatability of the humidity", effort.percent, "three standard deviations", Quantity::RelativeHumidity);
    return result;
}

// SHT3x-DIS data sheet, sensor performance and timing: high, medium, low repeatability; 600 µA while it measures, 0.2 µA at rest, 45 µA
// between periodic measurements.
Result sht3x(const Fields& fields) {
    constexpr std::array efforts{Effort{12.5e-3, 15.5e-3, 0.04, 0.08}, Effort{4.5e-3, 6.5e-3, 0.08, 0.15},
                                 Effort{2.5e-3, 4.5e-3, 0.15, 0.21}};
    const std::string repeat = fields.text("repeat");
    const double hertz = std::strtod(repeat.c_str(), nullptr);  // "0.5/s"; 0 of "once"
    return commanded(efforts[std::min(fields.code("repeatability"), 2U)], hertz > 0 ? 1 / hertz : 0, 600e-6, hertz > 0 ? 45e-6 : 0.2e-6);
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

/// Conversion of a resolution: bits, typically and at most.
struct Resolved {
    int bits;
    double typical_s, most_s;
};

Result twoResolutions(const Fields& fields, const std::array<Resolved, 4>& humidity, const std::array<Resolved, 4>& temperature,
                      bool humidityTakesBoth) {
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
    add(result, "conversion_max_s", "At most", isBoth ? rh.most_s + t.most_s : wantsHumidity ? rh.most_s : t.most_s, "");
    add(result, "poll_s", "Smallest sensible polling interval", rh.most_s + t.most_s, "for both of them, one after the other");
    add(result, "step_degC", "Step of the temperature", std::ldexp(175.72, -t.bits), "", Quantity::Temperature);
    add(result, "step_percent", "Step of the humidity", std::ldexp(125, -rh.bits), "", Quantity::RelativeHumidity);
    return result;
}

// Si7021-A20 data sheet, table 2: conversion time of humidity 12, 8, 10, 11 bits and temperature 14, 12, 13, 11 bits.
Result si7021(const Fields& fields) {
    return twoResolutions(fields, {{{12, 10e-3, 12e-3}, {8, 2.6e-3, 3.1e-3}, {10, 3.7e-3, 4.5e-3}, {11, 5.8e-3, 7e-3}}},
                          {{{14, 7e-3, 10.8e-3}, {12, 2.4e-3, 3.8e-3}, {13, 4e-3, 6.2e-3}, {11, 1.5e-3, 2.4e-3}}}, true);
}

// HTU21D(F) data sheet, sensor performance: measuring time.
Result htu21d(const Fields& fields) {
    return twoResolutions(fields, {{{12, 14e-3, 16e-3}, {8, 2e-3, 3e-3}, {10, 4e-3, 5e-3}, {11, 7e-3, 8e-3}}},
                          {{{14, 44e-3, 50e-3}, {12, 11e-3, 13e-3}, {13, 22e-3, 25e-3}, {11, 6e-3, 7e-3}}}, false);
}

/// One oversampling ratio of a barometer with a PROM: conversion typically and at most, RMS noise of the pressure, current at one sample a
/// second.
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
    add(result, "poll_s", "Smallest sensible polling interval", 2 * one.most_s, "pressure and temperature, each started anew");
    add(result, "noise_Pa", "RMS noise of the pressure", one.noise_Pa, "", Quantity::Pressure);
    add(result, "current_A", "Average supply current", one.average_A, "one sample a second", Quantity::Current);
    return result;
}

// MS5611-01BA03 data sheet, electrical characteristics, ADC and pressure output: OSR 256 to 4096.
Result ms5611(const Fields& fields) {
    constexpr std::array ratios{Oversampling{0.54e-3, 0.60e-3, 6.5, 0.9e-6}, Oversampling{1.06e-3, 1.17e-3, 4.2, 1.7e-6},
                                Oversampling{2.08e-3, 2.28e-3, 2.7, 3.2e-6}, Oversampling{4.13e-3, 4.54e-3, 1.8, 6.3e-6},
                                Oversampling{8.22e-3, 9.04e-3, 1.2, 12.5e-6}};
    return promBarometer(fields, ratios);
}

// MS5607-02BA03 data sheet, the same tables.
Result ms5607(const Fields& fields) {
    constexpr std::array ratios{Oversampling{0.54e-3, 0.60e-3, 13, 0.9e-6}, Oversampling{1.06e-3, 1.17e-3, 8.4, 1.7e-6},
                                Oversampling{2.08e-3, 2.28e-3, 5.4, 3.2e-6}, Oversampling{4.13e-3, 4.54e-3, 3.6, 6.3e-6},
                                Oversampling{8.22e-3, 9.04e-3, 2.4, 12.5e-6}};
    return promBarometer(fields, ratios);
}

// MS5837-30BA data sheet, the same tables: OSR 256 to 8192.
Result ms5837(const Fields& fields) {
    constexpr std::array ratios{Oversampling{0.54e-3, 0.60e-3, 157, 0.63e-6}, Oversampling{1.06e-3, 1.17e-3, 84, 1.26e-6},
                                Oversampling{2.08e-3, 2.28e-3, 54, 2.51e-6},  Oversampling{4.13e-3, 4.54e-3, 38, 5.02e-6},
                                Oversampling{8.22e-3, 9.04e-3, 28, 10.05e-6}, Oversampling{16.44e-3, 18.08e-3, 20, 20.09e-6}};
    return promBarometer(fields, ratios);
}

// HX711 data sheet, key electrical characteristics: ± 0.5·AVDD/gain in 24 bits; 10 results a second, 80 with RATE high; four of them to
// settle.
Result hx711(const Fields& fields) {
    const double gain = std::strtod(fields.text("gain").c_str(), nullptr);
    Result result;
    if (!(gain > 0)) return result;
    add(result, "conversion_s", "A new result every", 0.1, "with pin RATE low; 12.5 ms with it high");
    add(result, "poll_s", "Smallest sensible polling interval", 0.1, "DOUT is low when one is ready");
    add(result, "settle_s", "After a change of input or gain", 0.4, "until the first good result; 50 ms with RATE high");
    add(result, "full_V", "Full scale ±", 0.5 * 5 / gain, "at an AVDD of 5 V", Quantity::Voltage);
    add(result, "step_V", "One step of 24 bits", 5 / gain / 16777216, "of which the lowest ones are noise", Quantity::Voltage);
    return result;
}

// DS18S20 data sheet, AC electrical characteristics and operation: 750 ms; 0.5 °C, finer by COUNT_REMAIN.
Result ds18s20(const Fields&) {
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 0.75, "with parasite power the line must be held high for so long");
    add(result, "poll_s", "Smallest sensible polling interval", 0.75, "read sooner it is the value before, or 85 °C after power-on");
    add(result, "step_degC", "Step of the temperature", 0.0625, "0.5 without the extended formula", Quantity::Temperature);
    return result;
}

struct Rule {
    std::string_view map;
    Result (*run)(const Fields& fields);
};
constexpr std::array kRules{Rule{"bmp280", trimmedBarometer},
                            Rule{"bme280", trimmedBarometer},
                            Rule{"tmp117", tmp117},
                            Rule{"tmp102", tmp102},
                            Rule{"mcp9808", mcp9808},
                            Rule{"ds18b20", ds18b20},
                            Rule{"ads1115", ads},
                            Rule{"ads1015", ads},
                            Rule{"hdc1080", hdc1080},
                            Rule{"max31865", max31865},
                            Rule{"opt3001", opt3001},
                            Rule{"veml7700", veml7700},
                            Rule{"tsl2561", tsl2561},
                            Rule{"lm75", lm75},
                            Rule{"adt7410", adt7410},
                            Rule{"dps310", dps310},
                            Rule{"lps22hb", lps2x},
                            Rule{"lps25hb", lps2x},
                            Rule{"max44009", max44009},
                            Rule{"bme680", bme680},
                            Rule{"bmp180", bmp180},
                            Rule{"ds3231", ds3231},
                            Rule{"bmp388", bmp388},
                            Rule{"bh1750", bh1750},
                            Rule{"sht3x", sht3x},
                            Rule{"sht40", sht4x},
                            Rule{"si7021", si7021},
                            Rule{"htu21d", htu21d},
                            Rule{"ms5611", ms5611},
                            Rule{"ms5607", ms5607},
                            Rule{"ms5837", ms5837},
                            Rule{"hx711", hx711},
                            Rule{"ds18s20", ds18s20}};

}  // namespace

std::vector<Consequence> consequencesOf(const RegisterMap& map, std::span<const FieldValue> values) {
    for (const Rule& rule : kRules)
        if (rule.map == map.id) return rule.run(Fields(values));
    return {};
}

std::string consequenceText(const Consequence& one) {
    // Steps are told to the last digit of their data sheet; lux get no prefix, as on every meter.
    const int significant = one.id.starts_with("step") ? 5 : 4;
    if (one.quantity == Quantity::Illuminance)
        return (one.value < 1e3 ? plainNumber(one.value, significant) : plainNumber(std::round(one.value))) + " lx";
    return shortEngineering(one.value, one.quantity, significant).joined();
}

}  // namespace fg
