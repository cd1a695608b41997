#include "converters/kind.h"
#include "sizing/solver_rows.h"

#include <algorithm>
#include <numbers>

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {{"settle_s", "Time it may take to settle to ½ LSB", Quantity::Time, "", {}},
            ratio("bits", "Bits of the converter", 12.0),
            {"noise_Hz", "Frequency to keep out; 0: none in particular", Quantity::Frequency, "", 50.0},
            resistance("impedance_max_ohm", "Source impedance the converter accepts", 10e3),
            resistance("resistor_ohm", "Resistance already in front of it; 0: choose it", 0.0),
            {"sample_F", "Sampling capacitor of the converter", Quantity::Capacitance, "", kUsualSample_F},
            tolerance("tolerance", "Tolerance of the resistor", 0.01),
            ratio("capacitor_tolerance", "Tolerance of the capacitor", 0.1)};
}

struct Filter {
    double settle_s, noise_Hz, constants, reservoir_F, upper, lower;

    [[nodiscard]] bool settles(double ohm, double farad) const { return constants * ohm * farad * upper <= settle_s; }
    [[nodiscard]] SizingOption option(double ohm, double farad) const;
};

SizingOption Filter::option(double ohm, double farad) const {
    const double rc = ohm * farad, cutoff = 1 / (2 * std::numbers::pi * rc), highest = cutoff / lower;
    const double damping = noise_Hz > 0 ? 10 * std::log10(1 + noise_Hz * noise_Hz / (highest * highest)) : 0;
    SizingOption option;
    option.values = {{"resistor_ohm", ohm}, {"capacitor_F", farad}};
    option.nominal = {{"cutoff_Hz", cutoff}, {"settle_s", constants * rc}};
    option.worst = {{"cutoff_Hz", highest}, {"settle_s", constants * rc * upper}, {"damping_dB", damping}};
    option.fits = farad >= reservoir_F;
    option.merit = rc + 1e-9 / ohm;
    option.why = fmt::format(
        "cut-off {}, at most {}; settles to ½ LSB in {} of {}; {}{}", text(cutoff, Quantity::Frequency),
        text(highest, Quantity::Frequency), text(constants * rc * upper, Quantity::Time),
        text(settle_s, Quantity::Time),
        noise_Hz > 0 ? fmt::format("takes {} dB off {}; ", fixedDigits(damping, 1), text(noise_Hz, Quantity::Frequency))
                     : "",
        option.fits
            ? "feeds the sampling capacitor by itself"
            : "too small to feed the sampling capacitor at once: the resistor has to, within the acquisition time");
    return option;
}

// A full step settles to ½ LSB, 2^-(n+1), after (n + 1) · ln 2 · RC. Where the resistor can be chosen, each is
// offered with the largest capacitor that settles in time; where it is there already, every capacitor that does.
Options run(const Parameters& in, Series series) {
    const double settle = in.numberOr("settle_s", 0), bits = in.numberOr("bits", 12),
                 given = in.numberOr("resistor_ohm", 0);
    if (!(settle > 0)) return fail(ErrorCode::Range, "settle_s", plainNumber(settle), "a time above 0 s");
    const double resistors = in.numberOr("tolerance", 0), capacitance = in.numberOr("capacitor_tolerance", 0);
    // A capacitor of the reservoir's size gives the sampling capacitor its charge without moving by ½ LSB.
    const Filter filter{settle,
                        in.numberOr("noise_Hz", 0),
                        (bits + 1) * std::numbers::ln2,
                        reservoir_F(in.numberOr("sample_F", 0), bits),
                        (1 + resistors) * (1 + capacitance),
                        (1 - resistors) * (1 - capacitance)};
    std::vector<double> capacitors = preferredValues(Series::E6, {10, 1e7});  // pF, for the exactness of their digits
    for (double& farad : capacitors) farad *= 1e-12;
    std::vector<SizingOption> options;
    const auto settling = [&](double ohm) {
        return std::partition_point(capacitors.begin(), capacitors.end(),
                                    [&](double farad) { return filter.settles(ohm, farad); });
    };
    if (given > 0) {
        for (auto it = capacitors.begin(); it != settling(given); ++it) options.push_back(filter.option(given, *it));
    } else {
        for (const double ohm : preferredValues(series, {100, std::max(100.0, in.numberOr("impedance_max_ohm", 0))}))
            if (const auto end = settling(ohm); end != capacitors.begin())
                options.push_back(filter.option(ohm, *std::prev(end)));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "settle_s", text(settle, Quantity::Time),
                    given > 0 ? "a time in which " + text(given, Quantity::Resistance) + " and 10 pF settle"
                              : "a time in which 100 Ω and 10 pF settle, or more");
    return options;
}

}  // namespace

const Solver kRcFilter{"rc-filter", "Anti-alias RC",
                       "The lowest cut-off that still settles to ½ LSB in the time there is.", inputs, run};

}  // namespace fg::solving
