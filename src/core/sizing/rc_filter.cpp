#include "sizing/solver_rows.h"

#include <numbers>

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {{"settle_s", "Time it may take to settle to half a code", Quantity::Time, "", {}},
            ratio("bits", "Bits of the converter", 12.0),
            {"noise_Hz", "Frequency to keep out; 0: none in particular", Quantity::Frequency, "", 50.0},
            resistance("impedance_max_ohm", "Source impedance the converter accepts", 10e3),
            {"sample_F", "Sampling capacitor of the converter", Quantity::Capacitance, "", 14e-12},
            tolerance("tolerance", "Tolerance of the resistor", 0.01),
            ratio("capacitor_tolerance", "Tolerance of the capacitor", 0.1)};
}

// A full step settles to half a code, 2^-(n+1), after (n + 1) · ln 2 · RC.
Options run(const Parameters& in, Series series) {
    const double settle = in.numberOr("settle_s", 0), noise = in.numberOr("noise_Hz", 0), bits = in.numberOr("bits", 12),
                 sample = in.numberOr("sample_F", 0);
    const double upper = (1 + in.numberOr("tolerance", 0)) * (1 + in.numberOr("capacitor_tolerance", 0)),
                 lower = (1 - in.numberOr("tolerance", 0)) * (1 - in.numberOr("capacitor_tolerance", 0));
    if (!(settle > 0)) return fail(ErrorCode::Range, "settle_s", plainNumber(settle), "a time above 0 s");
    const double constants = (bits + 1) * std::numbers::ln2;
    // A capacitor this large gives the sampling capacitor its charge without moving by half a code.
    const double reservoir = sample * std::exp2(bits + 1);
    const std::vector<double> capacitors = preferredValues(Series::E6, {10, 1e7});  // pF
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {100, std::max(100.0, in.numberOr("impedance_max_ohm", 0))})) {
        double farad = 0;
        for (const double pF : capacitors)
            if (constants * ohm * pF * 1e-12 * upper <= settle) farad = pF * 1e-12;
        if (farad == 0) continue;
        const double rc = ohm * farad, cutoff = 1 / (2 * std::numbers::pi * rc), highest = cutoff / lower;
        const double damping = noise > 0 ? 10 * std::log10(1 + noise * noise / (highest * highest)) : 0;
        SizingOption option;
        option.values = {{"resistor_ohm", ohm}, {"capacitor_F", farad}};
        option.nominal = {{"cutoff_Hz", cutoff}, {"settle_s", constants * rc}};
        option.worst = {{"cutoff_Hz", highest}, {"settle_s", constants * rc * upper}, {"damping_dB", damping}};
        option.fits = farad >= reservoir;
        option.merit = rc + 1e-9 / ohm;
        option.why =
            fmt::format("cut-off {}, at most {}; settles to half a code in {} of {}; {}{}", text(cutoff, Quantity::Frequency),
                        text(highest, Quantity::Frequency), text(constants * rc * upper, Quantity::Time), text(settle, Quantity::Time),
                        noise > 0 ? fmt::format("takes {} dB off {}; ", fixedDigits(damping, 1), text(noise, Quantity::Frequency)) : "",
                        option.fits ? "feeds the sampling capacitor by itself"
                                    : "too small to feed the sampling capacitor at once: the resistor has to, within the acquisition time");
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "settle_s", text(settle, Quantity::Time), "a time in which 100 Ω and 10 pF settle, or more");
    return options;
}

}  // namespace

const Solver kRcFilter{"rc-filter", "Anti-alias RC", "The lowest cut-off that still settles to half a code in the time there is.", inputs,
                       run};

}  // namespace fg::solving
