#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {voltage("signal_low_V", "Signal at the low end of the span"),
            voltage("signal_high_V", "Signal at the high end"),
            ratio("units", "Width of the span, in units of the reading"),
            ratio("bits", "Bits of the converter", 10.0),
            voltage("supply_V", "Supply as reference", 5.0),
            ratio("supply_tolerance", "Tolerance of the supply", 0.05),
            voltage("internal_V", "Internal reference", 1.1),
            voltage("internal2_V", "Second internal reference; 0: none", 2.56),
            ratio("internal_tolerance", "Tolerance of the internal ones", 0.1),
            voltage("external_V", "Shunt or zener reference at the pin; 0: none", 2.5),
            ratio("external_tolerance", "Its tolerance", 0.005),
            ratio("codes_per_unit", "Whole codes a unit wanted of the divided one; 0: as many as fit", 0.0),
            resistance("pin_ohm", "Resistance of the reference pin to ground; 0: it draws nothing", 0.0),
            ratio("pin_tolerance", "It lies within ±", 0.0),
            ratio("halving", "1: the pin takes half of full scale", 0.0),
            tolerance("tolerance", "Tolerance of the resistors", 0.01)};
}

constexpr double kTop_ohm = 10e3, kTopLoaded_ohm = 1e3;

struct Candidate {
    std::string what;
    double fullScale_V, tolerance;
    NamedValues values;
};

/// A reference of one's own, divided to just above the signal: the smallest standard bottom resistor to 10 kΩ that
/// clears it, or the one that comes nearest to the codes a unit that are wanted.
void addDivided(std::vector<Candidate>& list, const Parameters& in, Series series, double needed_V, double factor) {
    const double source = in.numberOr("external_V", 0), t = in.numberOr("tolerance", 0),
                 own = in.numberOr("external_tolerance", 0);
    // A pin that draws current lies parallel to the bottom resistor; a lower top resistor makes it matter less.
    const double pin = in.numberOr("pin_ohm", 0), pinLeast = pin * (1 - in.numberOr("pin_tolerance", 0));
    const double top = pin > 0 ? kTopLoaded_ohm : kTop_ohm;
    const auto beside = [](double bottom, double pin_ohm) {
        return pin_ohm > 0 ? bottom * pin_ohm / (bottom + pin_ohm) : bottom;
    };
    // Whole codes a unit: full scale = 2^n/(codes a unit) units of the signal.
    const double perUnit_V = std::abs(in.numberOr("signal_high_V", 0) - in.numberOr("signal_low_V", 0)) /
                             std::max(in.numberOr("units", 1), 1e-300);
    const double codes = in.numberOr("codes_per_unit", 0),
                 aim_V = codes > 0 ? std::exp2(in.numberOr("bits", 10)) / codes * perUnit_V : 0;
    std::optional<Candidate> best;
    for (const double bottom : preferredValues(series, {100, 1e6})) {
        const double loaded = beside(bottom, pin), weakest = beside(bottom * (1 - t), pinLeast);
        const double nominal = source * loaded / (top + loaded);
        const double least = source * (1 - own) * weakest / (top * (1 + t) + weakest);
        if (factor * least < needed_V && !(aim_V > 0)) continue;
        Candidate one{aim_V > 0 ? "the external one divided for whole codes a unit" : "the external one divided",
                      factor * nominal,
                      1 - least / nominal,
                      {{"reference_V", nominal}, {"top_ohm", top}, {"bottom_ohm", bottom}}};
        const auto miss = [&](const Candidate& it) { return std::abs(it.fullScale_V - aim_V); };
        if (!best || (aim_V > 0 && miss(one) < miss(*best))) best = std::move(one);
        if (!(aim_V > 0)) break;
    }
    if (best) list.push_back(std::move(*best));
}

Options run(const Parameters& in, Series series) {
    const double low = in.numberOr("signal_low_V", 0), high = in.numberOr("signal_high_V", 0),
                 units = in.numberOr("units", 0);
    const double needed = std::max(low, high), width = std::abs(high - low), codes = std::exp2(in.numberOr("bits", 10));
    if (!(width > 0))
        return fail(ErrorCode::Range, "signal_high_V", text(high, Quantity::Voltage),
                    "another voltage than at the low end");
    if (!(units > 0)) return fail(ErrorCode::Range, "units", plainNumber(units), "a span above 0");
    std::vector<Candidate> list;
    const auto add = [&](const char* what, const char* id, const char* toleranceId, double factor) {
        const double volts = in.numberOr(id, 0);
        if (volts > 0) list.push_back({what, factor * volts, in.numberOr(toleranceId, 0), {{"reference_V", volts}}});
    };
    const double factor = in.numberOr("halving", 0) > 0 ? 2 : 1;
    add("the supply", "supply_V", "supply_tolerance", 1);
    add("the internal reference", "internal_V", "internal_tolerance", 1);
    add("the second internal reference", "internal2_V", "internal_tolerance", 1);
    add("the external reference", "external_V", "external_tolerance", factor);
    if (in.numberOr("external_V", 0) > 0) addDivided(list, in, series, needed, factor);
    std::vector<SizingOption> options;
    for (const Candidate& one : list) {
        SizingOption option;
        const double least = one.fullScale_V * (1 - one.tolerance), perUnit = width / one.fullScale_V * codes / units;
        option.values = one.values;
        option.nominal = {{"full_scale_V", one.fullScale_V},
                          {"codes_per_unit", perUnit},
                          {"range_used", width / one.fullScale_V}};
        option.worst = {{"headroom_V", least - needed},
                        {"codes_per_unit", perUnit / (1 + one.tolerance)},
                        {"scale_error", one.tolerance}};
        option.fits = least >= needed;
        option.merit = perUnit;
        option.why = fmt::format(
            "{}: {} codes per unit, {} of the range; at its lowest {} {} the signal; ± {} % of scale until it is "
            "measured",
            one.what, significantDigits(perUnit, 3), percent(width / one.fullScale_V),
            text(std::abs(least - needed), Quantity::Voltage), option.fits ? "above" : "BELOW",
            plainNumber(100 * one.tolerance, 2));
        options.push_back(std::move(option));
    }
    return options;
}

}  // namespace

const Solver kReference{"reference", "Choice of the reference",
                        "What each reference at hand gives in codes per unit over the wanted span, and its headroom.",
                        inputs, run};

}  // namespace fg::solving
