#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {voltage("input_max_V", "Highest voltage that can come"), voltage("limit_V", "Most the converter may see"),
            tolerance(), resistance("impedance_max_ohm", "Source impedance the converter accepts", 10e3),
            current("current_max_A", "Current it may draw", 1e-3)};
}

// U = U0 · Rb/(Rt + Rb), highest with Rb at the top and Rt at the bottom of its tolerance; seen from the pin Rt ∥ Rb.
Options run(const Parameters& in, Series series) {
    const double input = in.numberOr("input_max_V", 0), limit = in.numberOr("limit_V", 0),
                 t = in.numberOr("tolerance", 0);
    const double impedanceMax = in.numberOr("impedance_max_ohm", 0), currentMax = in.numberOr("current_max_A", 0);
    if (!(limit > 0)) return fail(ErrorCode::Range, "limit_V", plainNumber(limit), "a limit above 0 V");
    if (!(input > limit))
        return fail(ErrorCode::Domain, "input_max_V", text(input, Quantity::Voltage),
                    "more than the limit of " + text(limit, Quantity::Voltage) + "; nothing has to be divided");
    std::vector<SizingOption> options;
    const std::vector<double> values = preferredValues(series, {100, 1e6});
    std::size_t top = 0;
    for (const double bottom : values) {
        const auto worstOf = [&](double rt) { return input * bottom * (1 + t) / (bottom * (1 + t) + rt * (1 - t)); };
        // The needed top resistor grows with the bottom one, so the search goes on where it stood.
        while (top < values.size() && worstOf(values[top]) > limit) ++top;
        if (top == values.size()) break;
        const double rt = values[top], nominal = input * bottom / (rt + bottom);
        SizingOption option;
        const double impedance = rt * bottom / (rt + bottom) * (1 + t), drawn = input / ((rt + bottom) * (1 - t));
        option.values = {{"top_ohm", rt}, {"bottom_ohm", bottom}};
        option.nominal = {{"output_V", nominal}, {"range_used", nominal / limit}};
        option.worst = {
            {"output_V", worstOf(rt)}, {"impedance_ohm", impedance}, {"current_A", drawn}, {"power_W", input * drawn}};
        const bool tooHigh = impedance > impedanceMax, tooMuch = drawn > currentMax;
        option.fits = !tooHigh && !tooMuch;
        option.merit = nominal / limit - 1e-3 * std::log10(drawn);
        option.why =
            fmt::format("{} at most at the pin, {} under the limit; uses {} of it; {} seen from the pin{}; draws {}{}",
                        text(worstOf(rt), Quantity::Voltage), text(limit - worstOf(rt), Quantity::Voltage),
                        percent(nominal / limit), text(impedance, Quantity::Resistance),
                        tooHigh ? ", more than the converter accepts (add a capacitor or a follower)" : "",
                        text(drawn, Quantity::Current), tooMuch ? ", more than wanted" : "");
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "limit_V", text(limit, Quantity::Voltage),
                    "a limit that standard values up to 1 MΩ can reach");
    return options;
}

}  // namespace

const Solver kDivider{"divider", "Divider for a higher voltage",
                      "Brings a higher voltage under the converter's limit, never above it at the worst of tolerances.",
                      inputs, run};

}  // namespace fg::solving
