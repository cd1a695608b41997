// What the settings of converters behind a bus cost.

#include "timing/consequence_rules.h"

#include <algorithm>

namespace fg::costs {

// ADS1115 and ADS1015 data sheets: single-cycle settling, data rate within ± 10 %.
Result ads(const Fields& fields) {
    const double hertz = fields.leading("rate", 128);
    Result result;
    add(result, "conversion_max_s", "One conversion takes at most", 1 / (0.9 * hertz),
        "its own clock is within ± 10 %");
    add(result, "poll_s", "Smallest sensible polling interval", 1 / (0.9 * hertz),
        fields.is("mode", "single") ? "each conversion is started anew" : "sooner gives the same result again");
    const double duty = fields.is("mode", "single") ? std::min(1.0, 1 / hertz) : 1;
    add(result, "current_A", "Average supply current", 150e-6 * duty,
        fields.is("mode", "single") ? "converting once a second" : "it converts all the time", Quantity::Current);
    if (const double range = fields.leading("pga"); range > 0)
        add(result, "step_V", "One step of 16 bits", range / 32768, "of 12 bits 16 times as much", Quantity::Voltage);
    return result;
}

// HX711 data sheet, key electrical characteristics: ± 0.5·AVDD/gain in 24 bits; 10 results a second, 80 with RATE high;
// four of them to settle.
Result hx711(const Fields& fields) {
    const double gain = fields.leading("gain");
    Result result;
    if (!(gain > 0)) return result;
    add(result, "conversion_s", "A new result every", 0.1, "with pin RATE low; 12.5 ms with it high");
    add(result, "poll_s", "Smallest sensible polling interval", 0.1, "DOUT is low when one is ready");
    add(result, "settle_s", "After a change of input or gain", 0.4,
        "until the first good result; 50 ms with RATE high");
    add(result, "full_V", "Full scale ±", 0.5 * 5 / gain, "at an AVDD of 5 V", Quantity::Voltage);
    add(result, "step_V", "One step of 24 bits", 5 / gain / 16777216, "of which the lowest ones are noise",
        Quantity::Voltage);
    return result;
}

// NAU7802 data sheet, CTRL1 and CTRL2: ± 0.5 · Vref/gain in 24 bits; 10 to 320 results a second, four of them to
// settle.
Result nau7802(const Fields& fields) {
    const double gain = fields.factor("gain"), hertz = fields.leading("rate"),
                 reference = fields.is("avdd", "regulator") ? fields.leading("regulator") : 0;
    Result result;
    if (!(gain > 0) || !(hertz > 0)) return result;
    add(result, "conversion_s", "A new result every", 1 / hertz, "");
    add(result, "poll_s", "Smallest sensible polling interval", 1 / hertz, "bit “ready” says when");
    add(result, "settle_s", "After a change of input or gain", 4 / hertz, "until the first good result");
    if (reference > 0)
        add(result, "full_V", "Full scale ±", 0.5 * reference / gain, "with the regulator as reference",
            Quantity::Voltage);
    return result;
}

}  // namespace fg::costs
