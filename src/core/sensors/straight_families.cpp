// Straight lines whose slope is stated: voltages, currents, frequencies and pulses in proportion to the measurand.

#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "units/number_format.h"

#include <array>

namespace fg {
/// What the formula below knows besides numbers.
struct PointAndSlopeFixed : StraightFixed {
    std::string_view slopeId, atId, slopeUnit;
};

// U = Uat + slope · (x − at): the "750 mV at 25 °C" form, a diode at a fixed current, a chip's sensor corrected at one
// point.
template <class N>
struct PointAndSlopeTerms {
    N value{}, at{}, slopeStated{};
    PointAndSlopeFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"value_V", "U1", "V"}, self.value);
        visit(Symbol{self.fixed.atId, "x1", self.fixed.argument.unit}, self.at);
        visit(Symbol{self.fixed.slopeId, "slope", self.fixed.slopeUnit}, self.slopeStated);
    }
    [[nodiscard]] N slope() const { return slopeStated; }
    [[nodiscard]] N offset() const { return step("U0", "V", "the line at 0", value - slopeStated * at); }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }
};

namespace {

constexpr std::string_view kTransferFunction = "part's transfer function: y = offset + slope · x";

/// The names of one such family's parameters.
struct Names {
    Quantity output;
    std::string_view slope, offset;  ///< slope without its unit: "slope_V_per_"
};
constexpr Names kVoltage{Quantity::Voltage, "slope_V_per_", "offset_V"};
constexpr Names kCurrent{Quantity::Current, "slope_A_per_", "offset_A"};
constexpr Names kFrequency{Quantity::Frequency, "slope_Hz_per_", "offset_Hz"};
constexpr Names kPulses{Quantity::Count, "pulses_per_", "pulses_at_0"};

template <const Names& names>
MadeSensor makeLinear(const Parameters& parameters, const SensorContext& context) {
    const auto slopeId = idWithUnit(names.slope, context.measurand);
    const auto slope = parameters.requireNumber(std::string(slopeId));
    if (!slope) return tl::unexpected(slope.error());
    Straight<LinearTerms>::Formula<double> line;
    line.slopeStated = *slope;
    line.offsetStated = parameters.numberOr(std::string(names.offset), 0);
    line.statedAt = parameters.numberOr("ratiometric_at_V", 0);
    line.supply = context.supply_V;
    line.fixed.isRatiometric = line.statedAt != 0;
    if (!(line.statedAt >= 0))
        return fail(
            ErrorCode::Range, "ratiometric_at_V", plainNumber(line.statedAt),
            "the supply in V at which slope and offset are stated, or 0 for a part that does not follow its supply");
    if (line.fixed.isRatiometric && !(line.supply > 0)) return missingSupply();
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(names.output);
    line.fixed.slope = {slopeId, "slope", slopeUnit(names.output, context.measurand)};
    line.fixed.offset = {names.offset, "offset", line.fixed.result.unit};
    line.fixed.range = context.range;
    line.fixed.source = kTransferFunction;
    return wrapSensor<Straight<LinearTerms>::Formula>(
        checkedLine(line, std::string(slopeId), std::string(names.offset)));
}

template <const Names& names>
std::vector<ParameterSpec> linearParameters(Quantity measurand) {
    const std::string symbol(canonicalUnit(measurand).symbol);
    const double top = usualSpan(measurand).high;
    const bool isPulses = names.output == Quantity::Count;
    // Some three volts, 0.3 mA or 50 kHz at the top of the usual span.
    const double example = isPulses                            ? 16
                           : names.output == Quantity::Voltage ? 3.0 / top
                           : names.output == Quantity::Current ? 0.0003 / top
                                                               : 50000 / top;
    ParameterSpec slope{.id = std::string(idWithUnit(names.slope, measurand)),
                        .label = isPulses ? "Pulses per " + symbol : "Slope",
                        .quantity = isPulses ? Quantity::Ratio : names.output,
                        .unitSuffix = isPulses ? "" : "/" + symbol,
                        .toleranceId = isPulses ? "" : "slope_tolerance",
                        .tolerance = isPulses ? ToleranceKind::None : ToleranceKind::Relative,
                        .example = example};
    const std::string unit(canonicalUnit(names.output).id);
    ParameterSpec offset{.id = std::string(names.offset),
                         .label = std::string(isPulses                            ? "Pulses"
                                              : names.output == Quantity::Voltage ? "Voltage"
                                              : names.output == Quantity::Current ? "Current"
                                                                                  : "Frequency") +
                                  " at 0 " + symbol,
                         .quantity = isPulses ? Quantity::Ratio : names.output,
                         .defaultValue = isPulses ? std::optional<double>() : 0.0,
                         .toleranceId = isPulses ? "" : "offset_tolerance_" + unit,
                         .tolerance = isPulses ? ToleranceKind::None : ToleranceKind::Absolute};
    if (isPulses) offset.example = 800.0;
    if (names.output != Quantity::Voltage) return {slope, offset};
    offset.example = 0.0;
    return {slope,
            offset,
            {.id = "ratiometric_at_V",
             .label = "Follows its supply, stated at",
             .quantity = Quantity::Voltage,
             .defaultValue = 0.0}};
}

MadeSensor makePointAndSlope(const Parameters& parameters, const SensorContext& context) {
    Straight<PointAndSlopeTerms>::Formula<double> line;
    line.fixed.slopeId = idWithUnit("slope_V_per_", context.measurand);
    line.fixed.atId = idWithUnit("at_", context.measurand);
    const auto numbers = numbersOf(parameters, line.fixed.slopeId, "value_V");
    if (!numbers) return tl::unexpected(numbers.error());
    line.slopeStated = (*numbers)[0];
    line.value = (*numbers)[1];
    line.at = parameters.numberOr(std::string(line.fixed.atId), 25);
    line.fixed.slopeUnit = slopeUnit(Quantity::Voltage, context.measurand);
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(Quantity::Voltage);
    line.fixed.range = context.range;
    line.fixed.source = kTransferFunction;
    return wrapSensor<Straight<PointAndSlopeTerms>::Formula>(
        checkedLine(line, std::string(line.fixed.slopeId), "value_V"));
}

std::vector<ParameterSpec> pointAndSlopeParameters(Quantity measurand) {
    return {{.id = "value_V",
             .label = "Voltage at that point",
             .quantity = Quantity::Voltage,
             .toleranceId = "value_tolerance_V",
             .tolerance = ToleranceKind::Absolute,
             .example = 0.6},
            {.id = std::string(idWithUnit("at_", measurand)),
             .label = "The point",
             .quantity = measurand,
             .defaultValue = 25.0},
            {.id = std::string(idWithUnit("slope_V_per_", measurand)),
             .label = "Slope",
             .quantity = Quantity::Voltage,
             .unitSuffix = "/" + std::string(canonicalUnit(measurand).symbol),
             .toleranceId = "slope_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = -0.002}};
}

MadeSensor makeLineThroughPoints(const Parameters& parameters, const SensorContext& context) {
    const auto points = parameters.requirePoints("points_V");
    if (!points) return tl::unexpected(points.error());
    if (points->size() < 2)
        return fail(ErrorCode::Range, "points_V", std::to_string(points->size()) + " points",
                    "two points or more [value of the measurand, voltage in V]");
    const auto ends = endsOfLine(*points, "points_V");
    if (!ends) return tl::unexpected(ends.error());
    auto line =
        lineThroughPoints((*ends)[0], (*ends)[1], context.measurand, Quantity::Voltage, context.range, "points_V");
    if (line && points->size() > 2) line->fixed.source = "least-squares line through the points given";
    return wrapSensor<Straight<TwoPointTerms>::Formula>(line);
}

std::vector<ParameterSpec> lineThroughPointsParameters(Quantity measurand) {
    return {pointsSpec("points_V", "Points, two or more", {{0, 0.5}, {usualSpan(measurand).high, 2.5}})};
}

const std::array kRows{
    SensorFamily{.id = "linear-voltage",
                 .title = "Straight line, voltage",
                 .output = Quantity::Voltage,
                 .parameters = linearParameters<kVoltage>,
                 .make = makeLinear<kVoltage>,
                 .confusedWith = {"point-and-slope", "line-through-points"}},
    SensorFamily{.id = "line-through-points",
                 .title = "Straight line through points, voltage",
                 .output = Quantity::Voltage,
                 .parameters = lineThroughPointsParameters,
                 .make = makeLineThroughPoints,
                 .confusedWith = {"linear-voltage", "table-voltage"}},
    SensorFamily{.id = "point-and-slope",
                 .title = "Voltage at a point, and a slope",
                 .output = Quantity::Voltage,
                 .parameters = pointAndSlopeParameters,
                 .make = makePointAndSlope,
                 .confusedWith = {"linear-voltage", "calibration-words"}},
    SensorFamily{.id = "linear-current",
                 .title = "Straight line, current",
                 .output = Quantity::Current,
                 .parameters = linearParameters<kCurrent>,
                 .make = makeLinear<kCurrent>,
                 .confusedWith = {"current-loop"}},
    SensorFamily{.id = "linear-frequency",
                 .title = "Straight line, frequency",
                 .output = Quantity::Frequency,
                 .parameters = linearParameters<kFrequency>,
                 .make = makeLinear<kFrequency>,
                 .confusedWith = {"scaled-frequency"}},
    SensorFamily{.id = "linear-pulses",
                 .title = "Straight line, pulses",
                 .output = Quantity::Count,
                 .parameters = linearParameters<kPulses>,
                 .make = makeLinear<kPulses>,
                 .confusedWith = {"table-pulses"}},
};

}  // namespace

std::span<const SensorFamily> straightFamilies() { return kRows; }

}  // namespace fg
