#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {{"clock_Hz", "Clock wanted", Quantity::Frequency, "", 640e3},
            {"clock_min_Hz", "Slowest clock allowed", Quantity::Frequency, "", 100e3},
            {"clock_max_Hz", "Fastest clock allowed", Quantity::Frequency, "", 1460e3},
            {"clock_given_Hz", "External clock to be judged; 0: none", Quantity::Frequency, "", 0.0},
            ratio("factor", "f = 1/(factor · R · C)", 1.1),
            ratio("clocks", "Clocks a conversion takes, at most", 73.0),
            resistance("r_min_ohm", "Resistor, at least", 5e3),
            resistance("r_max_ohm", "Resistor, at most", 20e3),
            tolerance("tolerance", "Tolerance of the resistor", 0.01),
            ratio("capacitor_tolerance", "Tolerance of the capacitor", 0.05)};
}

Options run(const Parameters& in, Series series) {
    const double wanted = in.numberOr("clock_Hz", 0), slowest = in.numberOr("clock_min_Hz", 0),
                 fastest = in.numberOr("clock_max_Hz", 0);
    const double factor = in.numberOr("factor", 0), clocks = in.numberOr("clocks", 0);
    const double upper = (1 + in.numberOr("tolerance", 0)) * (1 + in.numberOr("capacitor_tolerance", 0)),
                 lower = (1 - in.numberOr("tolerance", 0)) * (1 - in.numberOr("capacitor_tolerance", 0));
    if (!(wanted > 0) || !(fastest > slowest))
        return fail(ErrorCode::Range, "clock_Hz", plainNumber(wanted), "a clock above 0 between the limits");
    if (wanted < slowest || wanted > fastest)
        return fail(ErrorCode::Range, "clock_Hz", text(wanted, Quantity::Frequency),
                    "a clock that the converter allows, " + text(slowest, Quantity::Frequency) + " to " +
                        text(fastest, Quantity::Frequency));
    if (const double given = in.numberOr("clock_given_Hz", 0); given > 0) {
        if (given < slowest || given > fastest)
            return fail(ErrorCode::Domain, "clock_given_Hz", text(given, Quantity::Frequency),
                        "an external clock that the converter allows, " + text(slowest, Quantity::Frequency) + " to " +
                            text(fastest, Quantity::Frequency));
        SizingOption option;
        option.nominal = {{"clock_Hz", given}, {"conversion_s", clocks / given}};
        option.worst = option.nominal;
        option.why = fmt::format(
            "no resistor and capacitor: the external clock of {} is within the limits; a conversion "
            "takes at most {}",
            text(given, Quantity::Frequency), text(clocks / given, Quantity::Time));
        return std::vector<SizingOption>{std::move(option)};
    }
    if (!(factor > 0)) return fail(ErrorCode::Range, "factor", plainNumber(factor), "a factor above 0, such as 1.1");
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {in.numberOr("r_min_ohm", 0), in.numberOr("r_max_ohm", 0)}))
        for (const double pF : preferredValues(Series::E12, {10, 1e5})) {
            const double clock = 1 / (factor * ohm * pF * 1e-12);
            if (clock / upper < slowest || clock / lower > fastest) continue;
            SizingOption option;
            option.values = {{"resistor_ohm", ohm}, {"capacitor_F", pF * 1e-12}};
            option.nominal = {{"clock_Hz", clock}, {"conversion_s", clocks / clock}};
            option.worst = {{"clock_low_Hz", clock / upper},
                            {"clock_high_Hz", clock / lower},
                            {"conversion_s", clocks * upper / clock}};
            option.merit = -std::abs(std::log(clock / wanted));
            option.why =
                fmt::format("{}, between {} and {}; a conversion takes at most {}, {} a second",
                            text(clock, Quantity::Frequency), text(clock / upper, Quantity::Frequency),
                            text(clock / lower, Quantity::Frequency), text(clocks * upper / clock, Quantity::Time),
                            fixedDigits(clock / (clocks * upper), 0));
            options.push_back(std::move(option));
        }
    if (options.empty())
        return fail(ErrorCode::Domain, "clock_Hz", text(wanted, Quantity::Frequency),
                    "limits that standard values can meet");
    return options;
}

}  // namespace

const Solver kRcClock{"rc-clock", "RC clock of a converter",
                      "Resistor and capacitor for a converter that makes its own clock, and how long it then takes.",
                      inputs, run};

}  // namespace fg::solving
