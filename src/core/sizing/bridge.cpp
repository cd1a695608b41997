#include "sizing/solver_rows.h"

#include <array>

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {{"span_V_per_V", "Output at full scale, per volt", Quantity::Voltage, "/V", {}},
            {"full_scale_Pa", "Full scale of the bridge", Quantity::Pressure, "", {}},
            {"wanted_Pa", "Highest pressure wanted; 0: its full scale", Quantity::Pressure, "", 0.0},
            {"zero_V_per_V", "Largest output at zero, per volt", Quantity::Voltage, "/V", 0.0},
            ratio("span_tolerance", "Tolerance of the output", 0.0),
            voltage("excitation_V", "Excitation, also the converter's reference"),
            voltage("excitation_max_V", "Most the bridge stands; 0: not known", 0.0),
            ratio("full_scale_of_reference", "Converter's full scale at gain 1, of the reference", 0.5),
            ratio("noise_free_bits", "Bits free of noise", 17.0),
            ratio("gain_min", "Lowest gain of the converter", 32.0),
            ratio("gain_max", "Highest gain of the converter; doubling from the lowest", 128.0)};
}

// Full scale of the converter is ± fraction · Uexc/gain; it must take span and zero at their largest.
Options run(const Parameters& in, Series) {
    const double span = in.numberOr("span_V_per_V", 0), fullScale = in.numberOr("full_scale_Pa", 0),
                 zero = in.numberOr("zero_V_per_V", 0);
    const double wanted = in.numberOr("wanted_Pa", 0) > 0 ? in.numberOr("wanted_Pa", 0) : fullScale;
    const double excitation = in.numberOr("excitation_V", 0), limit = in.numberOr("excitation_max_V", 0),
                 fraction = in.numberOr("full_scale_of_reference", 0);
    if (!(span > 0)) return fail(ErrorCode::Range, "span_V_per_V", plainNumber(span), "an output above 0");
    if (!(fullScale > 0)) return fail(ErrorCode::Range, "full_scale_Pa", plainNumber(fullScale), "a pressure above 0");
    if (!(excitation > 0))
        return fail(ErrorCode::Range, "excitation_V", plainNumber(excitation), "a voltage above 0 V");
    if (limit > 0 && excitation > limit)
        return fail(ErrorCode::Domain, "excitation_V", text(excitation, Quantity::Voltage),
                    "at most the bridge's " + text(limit, Quantity::Voltage));
    std::vector<SizingOption> options;
    const double lowest = in.numberOr("gain_min", 0);
    if (!(lowest > 0) || !(in.numberOr("gain_max", 0) >= lowest))
        return fail(ErrorCode::Range, "gain_min", plainNumber(lowest), "a gain above 0, not above gain_max");
    for (double gain = lowest; gain <= in.numberOr("gain_max", 0); gain *= 2) {
        const double range = fraction * excitation / gain, signal = excitation * span * wanted / fullScale;
        const double highest = signal * (1 + in.numberOr("span_tolerance", 0)) + excitation * zero;
        const double step_Pa =
            2 * range / std::exp2(in.numberOr("noise_free_bits", 0)) / (excitation * span / fullScale);
        SizingOption option;
        option.values = {{"gain", gain}};
        option.nominal = {{"converter_range_V", range}, {"signal_V", signal}, {"range_used", signal / range}};
        option.worst = {{"highest_V", highest}, {"headroom_V", range - highest}, {"step_Pa", step_Pa}};
        option.fits = highest <= range;
        option.merit = gain;
        option.why = fmt::format("± {} against at most {}: {}; smallest step free of noise {}",
                                 text(range, Quantity::Voltage), text(highest, Quantity::Voltage),
                                 option.fits ? percent(highest / range) + " used" : std::string("it would clip"),
                                 engineering(step_Pa, Quantity::Pressure, 3).joined());
        options.push_back(std::move(option));
    }
    return options;
}

}  // namespace

const Solver kBridge{
    "bridge", "Gain for a bridge",
    "The highest gain that takes the bridge's span and zero at their worst, and the smallest step it gives.", inputs,
    run};

}  // namespace fg::solving
