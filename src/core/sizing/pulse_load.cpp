#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {current("low_max_A", "Low current, at most"),
            current("high_min_A", "High current, at least"),
            current("high_max_A", "High current, at most"),
            voltage("threshold_V", "Threshold of the input"),
            voltage("threshold_band_V", "The threshold lies within ±", 0.0),
            voltage("margin_V", "Margin wanted on either side", 0.05),
            voltage("supply_V", "Supply, at least"),
            voltage("sensor_min_V", "Least the sensor needs across it", 2.0),
            resistance("load_ohm", "Resistor to be judged; 0: find one", 0.0),
            tolerance()};
}

// Low: IL,max · R(1 + t) ≤ Uth − band − margin; high: IH,min · R(1 − t) ≥ Uth + band + margin; sensor: IH,max · R(1 +
// t) ≤ Us − Umin.
Options run(const Parameters& in, Series series) {
    const double lowMax = in.numberOr("low_max_A", 0), highMin = in.numberOr("high_min_A", 0),
                 highMax = in.numberOr("high_max_A", 0);
    const double threshold = in.numberOr("threshold_V", 0), band = in.numberOr("threshold_band_V", 0),
                 margin = in.numberOr("margin_V", 0);
    const double t = in.numberOr("tolerance", 0), left = in.numberOr("supply_V", 0) - in.numberOr("sensor_min_V", 0);
    if (!(lowMax > 0) || !(highMin > lowMax) || !(highMax >= highMin))
        return fail(ErrorCode::Range, "high_min_A", text(highMin, Quantity::Current),
                    "low current < least high current ≤ most high current");
    const double least = (threshold + band + margin) / (highMin * (1 - t));
    const double byLow = (threshold - band - margin) / (lowMax * (1 + t)), bySensor = left / (highMax * (1 + t));
    const double most = std::min(byLow, bySensor);
    const double given = in.numberOr("load_ohm", 0);
    if (!(least <= most) && !(given > 0))
        return fail(ErrorCode::Domain, bySensor < byLow ? "supply_V" : "threshold_V",
                    fmt::format("a window of {} … {}", text(least, Quantity::Resistance),
                                text(std::max(most, 0.0), Quantity::Resistance)),
                    bySensor < byLow ? "a higher supply, a lower threshold or a sensor that needs less"
                                     : "a narrower threshold or a smaller margin");
    std::vector<SizingOption> options;
    for (const double ohm : given > 0 ? std::vector{given} : preferredValues(series, {least, std::max(least, most)})) {
        SizingOption option;
        const double low = lowMax * ohm * (1 + t), high = highMin * ohm * (1 - t), top = highMax * ohm * (1 + t);
        const double marginLow = threshold - band - low, marginHigh = high - threshold - band;
        option.values = {{"load_ohm", ohm}};
        option.nominal = {{"window_low_ohm", least}, {"window_high_ohm", most}};
        option.worst = {{"low_V", low},
                        {"high_V", high},
                        {"margin_low_V", marginLow},
                        {"margin_high_V", marginHigh},
                        {"sensor_V", in.numberOr("supply_V", 0) - top}};
        option.merit = std::min(marginLow, marginHigh);
        const double margin_V = margin * (1 - 1e-9);
        const bool sensorLives = in.numberOr("supply_V", 0) - top >= in.numberOr("sensor_min_V", 0) * (1 - 1e-9);
        option.fits = marginLow >= margin_V && marginHigh >= margin_V && sensorLives;
        if (!option.fits) {
            option.why = "does not work: ";
            if (marginLow < margin_V)
                option.why += fmt::format("low goes up to {} against the threshold's {}; ",
                                          text(low, Quantity::Voltage), text(threshold - band, Quantity::Voltage));
            if (marginHigh < margin_V)
                option.why += fmt::format("high may be {} only against {}; ", text(high, Quantity::Voltage),
                                          text(threshold + band, Quantity::Voltage));
            if (!sensorLives)
                option.why += fmt::format("the sensor keeps {} only; ",
                                          text(in.numberOr("supply_V", 0) - top, Quantity::Voltage));
            option.why += least <= most ? fmt::format("anything from {} to {} works", text(least, Quantity::Resistance),
                                                      text(most, Quantity::Resistance))
                                        : std::string("no resistor works here");
            options.push_back(std::move(option));
            continue;
        }
        option.why = fmt::format(
            "low stays below {}, high above {}: {} and {} clear of the threshold; the sensor keeps {}; anything from "
            "{} to {} works",
            text(low, Quantity::Voltage), text(high, Quantity::Voltage), text(marginLow, Quantity::Voltage),
            text(marginHigh, Quantity::Voltage), text(in.numberOr("supply_V", 0) - top, Quantity::Voltage),
            text(least, Quantity::Resistance), text(most, Quantity::Resistance));
        options.push_back(std::move(option));
    }
    if (options.empty())
        return fail(ErrorCode::Domain, "tolerance",
                    fmt::format("no value of the series in {} … {}", text(least, Quantity::Resistance),
                                text(most, Quantity::Resistance)),
                    "a finer series");
    return options;
}

}  // namespace

const Solver kPulseLoad{
    "pulse-load", "Resistor that makes current pulses readable",
    "The window of resistors at which an input tells the two currents apart and the sensor keeps its voltage.", inputs,
    run};

}  // namespace fg::solving
