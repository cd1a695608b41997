#include "wiring/divider.h"

#include "units/number_format.h"
#include "wiring/kind_rows.h"

#include <array>

namespace fg {

Expected<Divider> divider(SensorSide side, double fixed_ohm, double source_V, DividerExtras extras) {
    if (!(fixed_ohm > 0) || !std::isfinite(fixed_ohm))
        return fail(ErrorCode::Range, "wiring.fixed_ohm", plainNumber(fixed_ohm), "a resistance above 0 Ω");
    if (!(source_V > 0) || !std::isfinite(source_V))
        return fail(ErrorCode::Range, "wiring.source_V", plainNumber(source_V), "a voltage above 0 V");
    if (!(extras.lead_ohm >= 0) || !std::isfinite(extras.lead_ohm))
        return fail(ErrorCode::Range, "wiring.lead_ohm", plainNumber(extras.lead_ohm), "a resistance of 0 Ω or above");
    if (!(extras.parallel_ohm >= 0) || !std::isfinite(extras.parallel_ohm))
        return fail(ErrorCode::Range, "wiring.parallel_ohm", plainNumber(extras.parallel_ohm),
                    "a resistance above 0 Ω, or 0 for none");
    Divider made;
    made.fixedResistor = fixed_ohm;
    made.source = source_V;
    made.parallel = extras.parallel_ohm;
    made.lead = extras.lead_ohm;
    made.fixed.side = side;
    made.fixed.hasParallel = extras.parallel_ohm > 0;
    made.fixed.hasLead = extras.lead_ohm > 0;
    return made;
}

namespace {

DividerExtras extrasOf(const Parameters& wiring) {
    return {wiring.numberOr("lead_ohm", 0), wiring.numberOr("parallel_ohm", 0)};
}

MadeNetwork make(const Parameters& parameters, const WiringContext& context) {
    const auto feed = feedOf("divider", parameters, context);
    if (!feed) return tl::unexpected(feed.error());
    const std::string side = parameters.textOr("sensor_side", "low");
    if (side != "low" && side != "high")
        return fail(ErrorCode::Unknown, "wiring.sensor_side", "“" + side + "”",
                    "“low” (sensor to ground) or “high” (sensor to the source)");
    const auto fixed = parameters.requireNumber("fixed_ohm");
    if (!fixed) return tl::unexpected(fixed.error().within("wiring"));
    return divider(side == "low" ? SensorSide::Low : SensorSide::High, *fixed, feed->voltage_V, extrasOf(parameters))
        .map([](const Divider& made) { return makeTransfer<DividerFormula>(made); });
}

std::vector<ParameterSpec> parameters() {
    return {{.id = "fixed_ohm",
             .label = "R1",
             .quantity = Quantity::Resistance,
             .toleranceId = "fixed_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 10000.0},
            supplySpec("Source"),
            {.id = "parallel_ohm",
             .label = "Rp, linearising",
             .quantity = Quantity::Resistance,
             .defaultValue = 0.0,
             .toleranceId = "parallel_tolerance",
             .tolerance = ToleranceKind::Relative},
            leadSpec()};
}

/// Both arms side by side, as the pin sees them.
double sourceImpedance_ohm(const Parameters& wiring, double sensor_ohm) {
    const DividerExtras extras = extrasOf(wiring);
    double branch = sensor_ohm + extras.lead_ohm;
    if (extras.parallel_ohm > 0) branch = parallelOf(branch, extras.parallel_ohm);
    return parallelOf(branch, wiring.numberOr("fixed_ohm", 0));
}

template <class N>
std::optional<N> current_A(const Parameters& wiring, const N& source_V, const N& sensor_ohm) {
    const auto fixed = wiring.number("fixed_ohm");
    if (!fixed) return std::nullopt;
    return dividerCurrent_A(sensor_ohm, *fixed, source_V, extrasOf(wiring));
}
std::optional<double> currentValue_A(const Parameters& wiring, double source_V, double sensor_ohm) {
    return current_A(wiring, source_V, sensor_ohm);
}

Hookup hookup(const Parameters& wiring) {
    const bool isLow = wiring.textOr("sensor_side", "low") == "low";
    return {isLow ? "{pin}" : "{source}",
            isLow ? "ground" : "{pin}",
            {isLow ? "{fixed_ohm} between {source} and {pin}" : "{fixed_ohm} between {pin} and ground",
             "{parallel_ohm} across the sensor"}};
}

const std::array kRows{WiringKind{.id = "divider",
                                  .title = "Divider with a fixed resistor",
                                  .input = Quantity::Resistance,
                                  .output = Quantity::Voltage,
                                  .parameters = parameters,
                                  .make = make,
                                  .sourceImpedance_ohm = sourceImpedance_ohm,
                                  .sensorCurrent_A = currentValue_A,
                                  .recordedCurrent = current_A<Recorded>,
                                  .hookup = hookup,
                                  .hangsOnSource = true}};

}  // namespace

std::span<const WiringKind> dividerKinds() { return kRows; }

}  // namespace fg
