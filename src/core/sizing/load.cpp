#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {current("low_A", "Current at the low end of the span"),
            current("high_A", "Current at the high end"),
            voltage("limit_V", "Full scale of the converter"),
            tolerance(),
            voltage("supply_V", "Supply of the sensor", 0.0),
            voltage("sensor_min_V", "Least the sensor needs across it", 0.0),
            ratio("bits", "Bits of the converter", 10.0)};
}

// U = I · R at the highest current and resistance must stay below full scale and leave the sensor its voltage.
Options run(const Parameters& in, Series series) {
    const double low = in.numberOr("low_A", 0), high = in.numberOr("high_A", 0), limit = in.numberOr("limit_V", 0),
                 t = in.numberOr("tolerance", 0);
    const double supply = in.numberOr("supply_V", 0), across = in.numberOr("sensor_min_V", 0),
                 codes = std::exp2(in.numberOr("bits", 10));
    if (!(high > low))
        return fail(ErrorCode::Range, "high_A", text(high, Quantity::Current), "more current than at the low end");
    const double ceiling = supply > 0 ? std::min(limit, supply - across) : limit;
    if (!(ceiling > 0))
        return fail(ErrorCode::Range, supply > 0 ? "supply_V" : "limit_V", text(ceiling, Quantity::Voltage),
                    "a voltage left for the resistor");
    const double most = ceiling / high / (1 + t);
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {most / 10, most})) {
        SizingOption option;
        const double used = (high - low) * ohm / limit;
        option.values = {{"load_ohm", ohm}};
        option.nominal = {{"low_V", low * ohm}, {"high_V", high * ohm}, {"range_used", used}};
        option.worst = {{"high_V", high * ohm * (1 + t)},
                        {"codes_over_span", (high - low) * ohm * (1 - t) / limit * codes},
                        {"power_W", high * high * ohm * (1 + t)}};
        option.merit = used;
        option.why = fmt::format("{} to {}; at most {} of the {} there are; {} codes over the span",
                                 text(low * ohm, Quantity::Voltage), text(high * ohm, Quantity::Voltage),
                                 text(high * ohm * (1 + t), Quantity::Voltage), text(ceiling, Quantity::Voltage),
                                 fixedDigits((high - low) * ohm * (1 - t) / limit * codes, 0));
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "high_A", text(high, Quantity::Current),
                    "a current for which a standard resistor exists");
    return options;
}

}  // namespace

const Solver kLoad{"load", "Load for a current output",
                   "Turns a sensor's current into a voltage that fills the converter and leaves the sensor enough.",
                   inputs, run};

}  // namespace fg::solving
