#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {voltage("fault_V", "Highest voltage a fault can bring"),
            voltage("limit_V", "Voltage at which the pin's diodes clamp"),
            current("clamp_A", "Current they may carry", 1e-3),
            resistance("impedance_max_ohm", "Source impedance the converter accepts", 10e3),
            current("leakage_A", "Leakage of the pin", 1e-6),
            tolerance()};
}

// What the diodes clamp flows through the resistor alone: R(1 − t) ≥ (Ufault − Uclamp)/Iclamp.
Options run(const Parameters& in, Series series) {
    const double fault = in.numberOr("fault_V", 0), limit = in.numberOr("limit_V", 0),
                 clamp = in.numberOr("clamp_A", 0), t = in.numberOr("tolerance", 0);
    if (!(fault > limit))
        return fail(ErrorCode::Domain, "fault_V", text(fault, Quantity::Voltage),
                    "more than the pin's " + text(limit, Quantity::Voltage) + "; nothing to protect");
    if (!(clamp > 0))
        return fail(ErrorCode::Range, "clamp_A", plainNumber(clamp), "a current above 0, or an external diode");
    const double least = (fault - limit) / clamp / (1 - t);
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {least, 20 * least})) {
        SizingOption option;
        const double injected = (fault - limit) / (ohm * (1 - t)), power = (fault - limit) * injected,
                     shift = in.numberOr("leakage_A", 0) * ohm * (1 + t);
        option.values = {{"series_ohm", ohm}};
        option.nominal = {{"current_A", (fault - limit) / ohm}};
        option.worst = {{"current_A", injected}, {"power_W", power}, {"leakage_shift_V", shift}};
        option.fits = ohm * (1 + t) <= in.numberOr("impedance_max_ohm", 0);
        option.merit = -ohm;
        option.why = fmt::format(
            "{} into the pin at {}; {} mW in the resistor; leakage shifts the reading by up to {}{}",
            text(injected, Quantity::Current), text(fault, Quantity::Voltage), significantDigits(1e3 * power, 2),
            text(shift, Quantity::Voltage),
            option.fits ? ""
                        : "; more than the converter accepts as a source: add a capacitor at the pin, or an external "
                          "clamp diode with a smaller resistor");
        options.push_back(std::move(option));
    }
    return options;
}

}  // namespace

const Solver kProtection{"protection", "Series resistor before a pin",
                         "Keeps what a fault drives into the pin's clamp diodes under their limit.", inputs, run};

}  // namespace fg::solving
