// What the settings of light sensors cost.

#include "devices/veml7700.h"
#include "timing/consequence_rules.h"
#include "units/number_format.h"

namespace fg::costs {

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
    const double step = vemlStep_lx(kVemlBase_lx, gain, 1000 * time);
    const bool saves = fields.is("power_saving", "on");
    const double period = time + (saves ? fields.seconds("power_saving_mode") : 0);
    add(result, "conversion_s", "One conversion takes", time, "");
    if (saves) add(result, "period_s", "A new result every", period, "it waits in between to save power");
    add(result, "poll_s", "Smallest sensible polling interval", period, "");
    add(result, "step_lx", "One count is", step,
        "with " + plainNumber(kVemlBase_lx, 4) +
            " lx at gain 2 and 800 ms; newer editions of the data sheet say 0.0042",
        Quantity::Illuminance);
    add(result, "full_lx", "Full scale", 65535 * step, "", Quantity::Illuminance);
    return result;
}

// TSL2561 data sheet, timing register.
Result tsl2561(const Fields& fields) {
    Result result;
    add(result, "conversion_s", "One conversion takes", fields.seconds("integration"),
        fields.is("power", "on") ? "" : "but it is powered down");
    add(result, "poll_s", "Smallest sensible polling interval", fields.seconds("integration"), "");
    // TSL2561 data sheet, calculating lux: at most 0.0304 lx a count of channel 0 at gain 16 and 402 ms (T, FN and CL
    // packages).
    if (const double time = fields.seconds("integration"); time > 0)
        add(result, "step_lx", "One count of channel 0 is at most",
            0.0304 * (0.402 / time) * (fields.is("gain", "x16") ? 1 : 16), "without infrared, T package",
            Quantity::Illuminance);
    return result;
}

// MAX44009 data sheet, configuration register: 6.25 to 800 ms; every 800 ms unless it is continuous.
Result max44009(const Fields& fields) {
    const double time = fields.seconds("integration");
    Result result;
    add(result, "conversion_s", "One conversion takes", time,
        fields.is("manual", "on") ? "" : "it chooses the time by itself");
    add(result, "poll_s", "Smallest sensible polling interval", fields.is("mode", "continuous") ? time : 0.8, "");
    add(result, "step_lx", "Step of the illuminance", 0.045, "in the lowest range", Quantity::Illuminance);
    return result;
}

// BH1750FVI data sheet, electrical characteristics and measuring time register: 120 ms, 180 ms at most, 16 and 24 ms at
// low resolution, all by MTreg/69; one count is 1/1.2 lx · 69/MTreg, half of it in mode H2.
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
    add(result, "step_lx", "One count is", step, isLow ? "but at low resolution it moves by 4 lx at a time" : "",
        Quantity::Illuminance);
    add(result, "full_lx", "Full scale", 65535 * step, "", Quantity::Illuminance);
    return result;
}

}  // namespace fg::costs
