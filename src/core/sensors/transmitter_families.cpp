// Transmitters and sensors that follow their supply: 4–20 mA loops, shares of the supply, compensated humidity.

#include "sensors/current_loop.h"
#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "units/number_format.h"

#include <array>

namespace fg {

template <class N>
std::string CurrentLoopFormula<N>::refusal(double current_A) const {
    if (!std::isfinite(current_A) || !current_loop::isFault(current_A)) return {};
    return fmt::format("{} is no value of a 4–20 mA loop: {}",
                       shortEngineering(current_A, Quantity::Current, 3).joined(),
                       current_A < current_loop::kSpanLow_A
                           ? "at 3.6 mA and below the transmitter has failed, or the loop is open or not fed"
                           : "at 21 mA and above the transmitter has failed, or the loop is short-circuited");
}

/// What the formula below knows besides numbers.
struct TransmitterFixed : StraightFixed {
    std::string_view lowId, highId, slopeUnit;
};

/// A three-wire transmitter that follows its supply: shares of it at both ends of the span, usually 10 % and 90 %.
template <class N>
struct TransmitterTerms {
    N low{}, high{}, lowRatio{}, highRatio{}, supply{};
    TransmitterFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        const std::string_view unit = self.fixed.argument.unit;
        visit(Symbol{self.fixed.lowId, "x1", unit}, self.low);
        visit(Symbol{self.fixed.highId, "x2", unit}, self.high);
        visit(Symbol{"low_ratio", "k1", ""}, self.lowRatio);
        visit(Symbol{"high_ratio", "k2", ""}, self.highRatio);
        visit(Symbol{"source_V", "Us", "V"}, self.supply);
    }
    [[nodiscard]] N slope() const {
        return step("s", fixed.slopeUnit, "shares of the supply at both ends of the span",
                    (highRatio * supply - lowRatio * supply) / (high - low));
    }
    [[nodiscard]] N offset() const { return aside("U0", "V", lowRatio * supply - slope() * low); }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }
};

/// Vout = Vs·(0.0062·RHs + 0.16), RHs = RH·(1.0546 − 0.00216·t): the humidity part reads low when it is warm.
template <class N>
struct HumidityTerms {
    N slopeStated{}, offsetStated{}, t{}, gain{}, gainPerDegree{}, supply{};
    StraightFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"slope_per_percent", "slope", "1/%RH"}, self.slopeStated);
        visit(Symbol{"offset_ratio", "offset", ""}, self.offsetStated);
        visit(Symbol{"temperature_degC", "t", "degC"}, self.t);
        visit(Symbol{"temperature_gain", "g0", ""}, self.gain);
        visit(Symbol{"temperature_slope_per_degC", "g1", "1/°C"}, self.gainPerDegree);
        visit(Symbol{"source_V", "Us", "V"}, self.supply);
    }
    [[nodiscard]] N slope() const {
        const N warm = step("g", "", "gain of the part at the air's temperature", gain + gainPerDegree * t);
        return step("s", "V/%RH", "slope at this temperature and supply", slopeStated * warm * supply);
    }
    [[nodiscard]] N offset() const { return step("U0", "V", "follows its supply", offsetStated * supply); }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }
};

namespace {

MadeSensor makeCurrentLoop(const Parameters& parameters, const SensorContext& context) {
    CurrentLoopFormula<double> loop;
    loop.fixed.lowId = idWithUnit("low_", context.measurand);
    loop.fixed.highId = idWithUnit("high_", context.measurand);
    const auto ends = numbersOf(parameters, loop.fixed.lowId, loop.fixed.highId);
    if (!ends) return tl::unexpected(ends.error());
    loop.low = (*ends)[0];
    loop.high = (*ends)[1];
    if (loop.low == loop.high || !std::isfinite(loop.low) || !std::isfinite(loop.high))
        return fail(ErrorCode::Range, std::string(loop.fixed.highId),
                    fmt::format("both ends at {}", plainNumber(loop.high)), "two different values of the measurand");
    loop.fixed.argument = symbolOf(context.measurand);
    loop.fixed.slopeUnit = slopeUnit(Quantity::Current, context.measurand);
    loop.fixed.range = context.range;
    loop.fixed.isRising = loop.high > loop.low;
    return makeTransfer<CurrentLoopFormula>(loop);
}

std::vector<ParameterSpec> currentLoopParameters(Quantity measurand) {
    return {{.id = std::string(idWithUnit("low_", measurand)),
             .label = "Value at 4 mA",
             .quantity = measurand,
             .example = usualSpan(measurand).low},
            {.id = std::string(idWithUnit("high_", measurand)),
             .label = "Value at 20 mA",
             .quantity = measurand,
             .example = usualSpan(measurand).high}};
}

MadeSensor makeTransmitter(const Parameters& parameters, const SensorContext& context) {
    Straight<TransmitterTerms>::Formula<double> line;
    line.fixed.lowId = idWithUnit("low_", context.measurand);
    line.fixed.highId = idWithUnit("high_", context.measurand);
    const auto ends = numbersOf(parameters, line.fixed.lowId, line.fixed.highId);
    if (!ends) return tl::unexpected(ends.error());
    if (!(context.supply_V > 0)) return missingSupply();
    line.low = (*ends)[0];
    line.high = (*ends)[1];
    line.lowRatio = parameters.numberOr("low_ratio", 0.1);
    line.highRatio = parameters.numberOr("high_ratio", 0.9);
    line.supply = context.supply_V;
    if (line.low == line.high)
        return fail(ErrorCode::Range, std::string(line.fixed.highId),
                    fmt::format("two points at {}", plainNumber(line.high)), "two different values of the measurand");
    if (line.lowRatio == line.highRatio)
        return fail(ErrorCode::Range, "high_ratio", fmt::format("{} at both ends", plainNumber(line.highRatio)),
                    "an output that changes");
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(Quantity::Voltage);
    line.fixed.slopeUnit = slopeUnit(Quantity::Voltage, context.measurand);
    line.fixed.range = context.range;
    line.fixed.source = "straight line between the ends of the span";
    return wrapSensor<Straight<TransmitterTerms>::Formula>(
        checkedLine(line, std::string(line.fixed.highId), std::string(line.fixed.highId)));
}

std::vector<ParameterSpec> transmitterParameters(Quantity measurand) {
    return {{.id = std::string(idWithUnit("low_", measurand)),
             .label = "Value at the low end",
             .quantity = measurand,
             .example = 0.0},
            {.id = std::string(idWithUnit("high_", measurand)),
             .label = "Value at the high end",
             .quantity = measurand,
             .example = 1e6},
            {.id = "low_ratio", .label = "Output there, of the supply", .defaultValue = 0.1},
            {.id = "high_ratio", .label = "Output at the high end, of the supply", .defaultValue = 0.9}};
}

MadeSensor makeHumidity(const Parameters& parameters, const SensorContext& context) {
    if (!(context.supply_V > 0)) return missingSupply();
    const auto numbers = numbersOf(parameters, "slope_per_percent", "offset_ratio");
    if (!numbers) return tl::unexpected(numbers.error());
    Straight<HumidityTerms>::Formula<double> line;
    line.slopeStated = (*numbers)[0];
    line.offsetStated = (*numbers)[1];
    line.t = parameters.numberOr("temperature_degC", 25);
    line.gain = parameters.numberOr("temperature_gain", 1);
    line.gainPerDegree = parameters.numberOr("temperature_slope_per_degC", 0);
    line.supply = context.supply_V;
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(Quantity::Voltage);
    line.fixed.range = context.range;
    line.fixed.source = "part's transfer function, temperature compensated";
    return wrapSensor<Straight<HumidityTerms>::Formula>(checkedLine(line, "slope_per_percent", "offset_ratio"));
}

std::vector<ParameterSpec> humidityParameters(Quantity) {
    return {{.id = "slope_per_percent",
             .label = "Slope, of the supply",
             .unitSuffix = "/%RH",
             .toleranceId = "slope_tolerance",
             .tolerance = ToleranceKind::Relative},
            {.id = "offset_ratio", .label = "At 0 %RH, of the supply"},
            {.id = "temperature_degC",
             .label = "Temperature of the air",
             .quantity = Quantity::Temperature,
             .defaultValue = 25.0,
             .toleranceId = "temperature_tolerance_K",
             .tolerance = ToleranceKind::Absolute},
            {.id = "temperature_gain", .label = "Gain at 0 °C", .defaultValue = 1.0},
            {.id = "temperature_slope_per_degC", .label = "Gain per °C", .unitSuffix = "/°C", .defaultValue = 0.0}};
}

const std::array kRows{
    SensorFamily{.id = "current-loop",
                 .title = "4–20 mA transmitter",
                 .output = Quantity::Current,
                 .parameters = currentLoopParameters,
                 .make = makeCurrentLoop,
                 .confusedWith = {"linear-current", "ratiometric-transmitter"},
                 // 20 mA through 150 Ω use most of 3.3 V.
                 .first = {.wiringParameters = {{"load_ohm", 150.0}, {"source_V", 24.0}}}},
    SensorFamily{.id = "ratiometric-transmitter",
                 .title = "Transmitter that follows its supply",
                 .output = Quantity::Voltage,
                 .parameters = transmitterParameters,
                 .make = makeTransmitter,
                 .confusedWith = {"current-loop", "linear-voltage"}},
    SensorFamily{.id = "humidity-compensated",
                 .title = "Ratiometric humidity, temperature compensated",
                 .output = Quantity::Voltage,
                 .parameters = humidityParameters,
                 .make = makeHumidity,
                 .confusedWith = {"linear-voltage"}},
};

}  // namespace

std::span<const SensorFamily> transmitterFamilies() { return kRows; }

}  // namespace fg
