// Bridges of strain gauges: millivolts between two wires, in proportion to excitation and load.

#include "sensors/family_rows.h"
#include "sensors/straight_line.h"
#include "units/number_format.h"

#include <array>

namespace fg {
/// What the formula below knows besides numbers.
struct BridgeFixed : StraightFixed {
    std::string_view spanId, fullScaleId, zeroId, perVolt, slopeUnit;
    bool isStatedInVolts = false;
};

/// U = Uexc · (zero + span · x/xFS), span and zero stated per volt of excitation, or both at one excitation.
template <class N>
struct BridgeTerms {
    N span{}, fullScale{}, zero{}, excitation{}, statedAt{};
    BridgeFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        const auto& f = self.fixed;
        visit(Symbol{f.spanId, "span", f.perVolt}, self.span);
        visit(Symbol{f.fullScaleId, "xFS", f.argument.unit}, self.fullScale);
        visit(Symbol{f.zeroId, "zero", f.perVolt}, self.zero);
        visit(Symbol{"source_V", "Uexc", "V"}, self.excitation);
        visit(Symbol{"stated_at_V", "Un", "V"}, self.statedAt);
    }
    [[nodiscard]] N slope() const {
        return step("s", fixed.slopeUnit, "bridge: in proportion to excitation and load",
                    excitation * perVolt(span) / fullScale);
    }
    [[nodiscard]] N offset() const {
        return step("U0", "V", "output at zero at this excitation", excitation * perVolt(zero));
    }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }

  private:
    [[nodiscard]] N perVolt(const N& stated) const { return fixed.isStatedInVolts ? stated / statedAt : stated; }
};

namespace {

MadeSensor makeLine(Straight<BridgeTerms>::Formula<double> line, const Parameters& parameters,
                    const SensorContext& context) {
    if (!(context.supply_V > 0))
        return fail(ErrorCode::Missing, "wiring.source_V", "nothing", "the excitation of the bridge");
    line.fixed.fullScaleId = idWithUnit("full_scale_", context.measurand);
    const std::string fullScaleId(line.fixed.fullScaleId);
    const auto fullScale = parameters.requireNumber(fullScaleId);
    if (!fullScale) return tl::unexpected(fullScale.error());
    if (!(*fullScale > 0)) return fail(ErrorCode::Range, fullScaleId, plainNumber(*fullScale), "a full scale above 0");
    line.fullScale = *fullScale;
    line.excitation = context.supply_V;
    line.fixed.argument = symbolOf(context.measurand);
    line.fixed.result = symbolOf(Quantity::Voltage);
    line.fixed.slopeUnit = slopeUnit(Quantity::Voltage, context.measurand);
    line.fixed.range = context.range;
    line.fixed.source = "part's transfer function: y = offset + slope · x";
    return wrapSensor<Straight<BridgeTerms>::Formula>(
        checkedLine(line, std::string(line.fixed.spanId), "zero_V_per_V"));
}

MadeSensor makeBridge(const Parameters& parameters, const SensorContext& context) {
    const auto span = parameters.requireNumber("span_V_per_V");
    if (!span) return tl::unexpected(span.error());
    Straight<BridgeTerms>::Formula<double> line;
    line.span = *span;
    line.zero = parameters.numberOr("zero_V_per_V", 0);
    line.statedAt = 1;
    line.fixed.spanId = "span_V_per_V";
    line.fixed.zeroId = "zero_V_per_V";
    line.fixed.perVolt = "V/V";
    return makeLine(line, parameters, context);
}

MadeSensor makeBridgeMillivolt(const Parameters& parameters, const SensorContext& context) {
    const auto numbers = numbersOf(parameters, "span_V", "stated_at_V");
    if (!numbers) return tl::unexpected(numbers.error());
    Straight<BridgeTerms>::Formula<double> line;
    line.span = (*numbers)[0];
    line.statedAt = (*numbers)[1];
    if (!(line.statedAt > 0))
        return fail(ErrorCode::Range, "stated_at_V", plainNumber(line.statedAt), "an excitation above 0 V");
    line.zero = parameters.numberOr("zero_V", 0);
    line.fixed.spanId = "span_V";
    line.fixed.zeroId = "zero_V";
    line.fixed.perVolt = "V";
    line.fixed.isStatedInVolts = true;
    return makeLine(line, parameters, context);
}

ParameterSpec fullScaleSpec(Quantity measurand) {
    return {.id = std::string(idWithUnit("full_scale_", measurand)),
            .label = "Full scale",
            .quantity = measurand,
            .example = usualSpan(measurand).high};
}

std::vector<ParameterSpec> bridgeParameters(Quantity measurand) {
    return {{.id = "span_V_per_V",
             .label = "Output at full scale",
             .quantity = Quantity::Voltage,
             .unitSuffix = "/V",
             .toleranceId = "span_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 0.002},
            fullScaleSpec(measurand),
            {.id = "zero_V_per_V",
             .label = "Output at zero",
             .quantity = Quantity::Voltage,
             .unitSuffix = "/V",
             .defaultValue = 0.0,
             .toleranceId = "zero_tolerance_V_per_V",
             .tolerance = ToleranceKind::Absolute}};
}

std::vector<ParameterSpec> bridgeMillivoltParameters(Quantity measurand) {
    return {{.id = "span_V",
             .label = "Output at full scale",
             .quantity = Quantity::Voltage,
             .toleranceId = "span_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 0.1},
            {.id = "stated_at_V", .label = "Stated at an excitation of", .quantity = Quantity::Voltage, .example = 5.0},
            fullScaleSpec(measurand),
            {.id = "zero_V",
             .label = "Output at zero",
             .quantity = Quantity::Voltage,
             .defaultValue = 0.0,
             .toleranceId = "zero_tolerance_V",
             .tolerance = ToleranceKind::Absolute}};
}

const std::array kRows{
    SensorFamily{.id = "bridge",
                 .title = "Bridge, mV/V at full scale",
                 .output = Quantity::Voltage,
                 .parameters = bridgeParameters,
                 .make = makeBridge,
                 .confusedWith = {"bridge-millivolt"},
                 .first = {.wiring = "bridge", .converter = "hx711"}},
    SensorFamily{.id = "bridge-millivolt",
                 .title = "Bridge, mV at full scale",
                 .output = Quantity::Voltage,
                 .parameters = bridgeMillivoltParameters,
                 .make = makeBridgeMillivolt,
                 .confusedWith = {"bridge"},
                 .first = {.wiring = "bridge", .converter = "hx711"}},
};

}  // namespace

std::span<const SensorFamily> bridgeFamilies() { return kRows; }

}  // namespace fg
