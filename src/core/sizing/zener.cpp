#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {voltage("supply_min_V", "Supply, at least"),
            voltage("supply_max_V", "Supply, at most"),
            voltage("zener_V", "Voltage of the zener or shunt reference"),
            ratio("zener_tolerance", "Its tolerance", 0.02),
            current("zener_min_A", "Least current it regulates at", 1e-3),
            current("zener_max_A", "Most current it stands", 20e-3),
            current("load_min_A", "Load, at least", 0.0),
            current("load_max_A", "Load, at most"),
            tolerance("tolerance", "Tolerance of the resistor", 0.05)};
}

// R(1 + t) ≤ (Us,min − Uz,max)/(Iz,min + IL,max), so that it always regulates; R(1 − t) ≥ (Us,max − Uz,min)/(Iz,max +
// IL,min), so that it never gets too much, with the load gone.
Options run(const Parameters& in, Series series) {
    const double low = in.numberOr("supply_min_V", 0), high = in.numberOr("supply_max_V", 0),
                 t = in.numberOr("tolerance", 0);
    const double zener = in.numberOr("zener_V", 0), band = in.numberOr("zener_tolerance", 0), top = zener * (1 + band),
                 bottom = zener * (1 - band);
    const double loadMin = in.numberOr("load_min_A", 0), loadMax = in.numberOr("load_max_A", 0);
    if (!(high >= low))
        return fail(ErrorCode::Range, "supply_max_V", text(high, Quantity::Voltage), "not below the least supply");
    if (!(loadMax >= loadMin))
        return fail(ErrorCode::Range, "load_max_A", text(loadMax, Quantity::Current), "not below the least load");
    if (!(low > top))
        return fail(ErrorCode::Domain, "supply_min_V", text(low, Quantity::Voltage),
                    "more than the reference's " + text(top, Quantity::Voltage));
    const double most = (low - top) / (in.numberOr("zener_min_A", 0) + loadMax) / (1 + t);
    const double least = (high - bottom) / (in.numberOr("zener_max_A", 0) + loadMin) / (1 - t);
    if (!(least <= most))
        return fail(ErrorCode::Domain, "zener_max_A",
                    fmt::format("no resistor is both below {} and above {}", text(most, Quantity::Resistance),
                                text(least, Quantity::Resistance)),
                    "a steadier supply, a smaller load or a reference that stands more current");
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {least, most})) {
        SizingOption option;
        const double zenerLeast = (low - top) / (ohm * (1 + t)) - loadMax,
                     zenerMost = (high - bottom) / (ohm * (1 - t)) - loadMin;
        const double power = (high - bottom) * (high - bottom) / (ohm * (1 - t));
        option.values = {{"series_ohm", ohm}};
        option.nominal = {{"current_A", ((low + high) / 2 - zener) / ohm}};
        option.worst = {{"zener_least_A", zenerLeast},
                        {"zener_most_A", zenerMost},
                        {"resistor_W", power},
                        {"zener_W", zenerMost * top}};
        option.merit = ohm;  // the largest wastes least
        option.why = fmt::format(
            "the reference keeps {} at the lowest supply and full load, gets at most {}; {} mW in the resistor",
            text(zenerLeast, Quantity::Current), text(zenerMost, Quantity::Current), significantDigits(1e3 * power, 2));
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "tolerance", "no value of the series in the window", "a finer series");
    return options;
}

}  // namespace

const Solver kZener{"zener", "Series resistor of a shunt or zener reference",
                    "Regulates at the lowest supply and full load, survives the highest with none.", inputs, run};

}  // namespace fg::solving
