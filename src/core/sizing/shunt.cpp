#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

constexpr double kLive_A = 0.004, kFull_A = 0.020;

std::vector<ParameterSpec> inputs() {
    return {voltage("limit_V", "Full scale of the converter"),
            current("current_max_A", "Most a faulty loop can give", 0.022),
            tolerance("tolerance", "Tolerance of the shunt", 0.001),
            voltage("supply_V", "Supply of the loop", 24.0),
            voltage("transmitter_min_V", "Least the transmitter needs", 12.0),
            ratio("bits", "Bits of the converter", 12.0)};
}

// 4 mA … 20 mA through R; the fault current must stay readable, so that a fault is told from full scale.
Options run(const Parameters& in, Series series) {
    const double limit = in.numberOr("limit_V", 0), fault = in.numberOr("current_max_A", 0),
                 t = in.numberOr("tolerance", 0);
    const double left = in.numberOr("supply_V", 0) - in.numberOr("transmitter_min_V", 0),
                 codes = std::exp2(in.numberOr("bits", 12));
    if (!(fault >= kFull_A))
        return fail(ErrorCode::Range, "current_max_A", text(fault, Quantity::Current), "20 mA or more");
    if (!(left > 0))
        return fail(ErrorCode::Range, "supply_V", text(left, Quantity::Voltage), "more than the transmitter needs");
    const double most = std::min(limit, left) / fault / (1 + t);
    std::vector<SizingOption> options;
    for (const double ohm : preferredValues(series, {most / 10, most})) {
        SizingOption option;
        const double span = (kFull_A - kLive_A) * ohm;
        option.values = {{"shunt_ohm", ohm}};
        option.nominal = {{"at_4mA_V", kLive_A * ohm}, {"at_20mA_V", kFull_A * ohm}, {"range_used", span / limit}};
        option.worst = {{"highest_V", fault * ohm * (1 + t)},
                        {"codes_over_span", span * (1 - t) / limit * codes},
                        {"power_W", fault * fault * ohm * (1 + t)}};
        option.merit = span;
        option.why = fmt::format(
            "{} to {}; {} at a fault of {}; {} codes over the span; {} in the shunt; leaves the transmitter {}",
            text(kLive_A * ohm, Quantity::Voltage), text(kFull_A * ohm, Quantity::Voltage),
            text(fault * ohm * (1 + t), Quantity::Voltage), text(fault, Quantity::Current),
            fixedDigits(span * (1 - t) / limit * codes, 0), significantDigits(1e3 * fault * fault * ohm, 2) + " mW",
            text(in.numberOr("supply_V", 0) - fault * ohm * (1 + t), Quantity::Voltage));
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "limit_V", text(limit, Quantity::Voltage),
                    "a full scale for which a standard shunt exists");
    return options;
}

}  // namespace

const Solver kShunt{"shunt", "Shunt for 4–20 mA",
                    "Turns a loop's current into a voltage that leaves room for a fault and for the transmitter.",
                    inputs, run};

}  // namespace fg::solving
