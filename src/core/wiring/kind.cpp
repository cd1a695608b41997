#include "wiring/kind.h"

#include "units/number_format.h"
#include "wiring/direct.h"
#include "wiring/divider.h"
#include "wiring/proportional.h"
#include "wiring/reciprocal.h"

#include <fmt/format.h>
#include <array>
#include <numbers>

namespace fg {
namespace {

const ParameterSpec kSupplySpec{"source_V", "Supply of the sensor", Quantity::Voltage,      "",
                                0.0,        "source_tolerance",     ToleranceKind::Relative};

const ParameterSpec kLeadSpec{"lead_ohm", "Cable, both wires", Quantity::Resistance,   "",
                              0.0,        "lead_tolerance",    ToleranceKind::Relative};

DividerExtras dividerExtras(const Parameters& parameters) {
    return {parameters.numberOr("lead_ohm", 0), parameters.numberOr("parallel_ohm", 0)};
}

Expected<std::unique_ptr<Transfer>> makeDivider(const Parameters& parameters, const WiringContext& context) {
    const auto feed = feedOf("divider", parameters, context);
    if (!feed) return tl::unexpected(feed.error());
    const std::string side = parameters.textOr("sensor_side", "low");
    if (side != "low" && side != "high")
        return fail(ErrorCode::Unknown, "wiring.sensor_side", "“" + side + "”",
                    "“low” (sensor to ground) or “high” (sensor to the source)");
    const auto fixed = parameters.requireNumber("fixed_ohm");
    if (!fixed) return tl::unexpected(fixed.error().within("wiring"));
    return Divider::make(side == "low" ? SensorSide::Low : SensorSide::High, *fixed, feed->voltage_V,
                         dividerExtras(parameters))
        .map([](Divider divider) { return makeTransfer(divider); });
}

std::vector<ParameterSpec> dividerParameters() {
    return {{"fixed_ohm", "R1", Quantity::Resistance, "", {}, "fixed_tolerance", ToleranceKind::Relative},
            {"source_V", "Source", Quantity::Voltage, "", 0.0, "source_tolerance", ToleranceKind::Relative},
            {"parallel_ohm", "Rp, linearising", Quantity::Resistance, "", 0.0, "parallel_tolerance",
             ToleranceKind::Relative},
            kLeadSpec};
}

Expected<std::unique_ptr<Transfer>> makeDirect(const Parameters&, const WiringContext&) {
    return makeTransfer(Direct{true});
}

std::vector<ParameterSpec> directParameters() {
    return {
        {"source_V", "Supply of the sensor", Quantity::Voltage, "", 0.0, "source_tolerance", ToleranceKind::Relative}};
}

using MadeNetwork = Expected<std::unique_ptr<Transfer>>;

MadeNetwork finished(Expected<Proportional> network) {
    return std::move(network).map([](Proportional&& made) { return makeTransfer(std::move(made)); });
}

std::string ohms(double resistance_ohm) { return shortEngineering(resistance_ohm, Quantity::Resistance).joined(); }

/// A current through one resistor: a load, a shunt, or the feedback of an amplifier.
MadeNetwork makeCurrentResistor(const Parameters& parameters, const char* field, const char* title) {
    const auto resistance = parameters.requireNumber(field);
    if (!resistance) return tl::unexpected(resistance.error().within("wiring"));
    return finished(Proportional::make(*resistance, 0, Quantity::Current, title, ohms(*resistance), field));
}

MadeNetwork makeLoad(const Parameters& parameters, const WiringContext&) {
    return makeCurrentResistor(parameters, "load_ohm", "Load resistor to ground");
}
MadeNetwork makeTransimpedance(const Parameters& parameters, const WiringContext&) {
    return makeCurrentResistor(parameters, "feedback_ohm", "Transimpedance amplifier");
}

MadeNetwork makeAttenuator(const Parameters& parameters, const WiringContext&) {
    const auto top = parameters.requireNumber("top_ohm"), bottom = parameters.requireNumber("bottom_ohm");
    if (!top) return tl::unexpected(top.error().within("wiring"));
    if (!bottom) return tl::unexpected(bottom.error().within("wiring"));
    if (!(*top >= 0))
        return fail(ErrorCode::Range, "wiring.top_ohm", plainNumber(*top), "a resistance of 0 Ω or above");
    if (!(*bottom > 0))
        return fail(ErrorCode::Range, "wiring.bottom_ohm", plainNumber(*bottom), "a resistance above 0 Ω");
    return finished(Proportional::make(*bottom / (*top + *bottom), 0, Quantity::Voltage, "Divider for a higher voltage",
                                       ohms(*bottom) + "/(" + ohms(*top) + " + " + ohms(*bottom) + ")", "bottom_ohm"));
}

MadeNetwork makeAmplifier(const Parameters& parameters, const WiringContext&) {
    const auto gain = parameters.requireNumber("gain");
    if (!gain) return tl::unexpected(gain.error().within("wiring"));
    return finished(Proportional::make(*gain, parameters.numberOr("offset_V", 0), Quantity::Voltage, "Amplifier",
                                       "gain " + plainNumber(*gain), "gain"));
}

MadeNetwork makeCurrentSource(const Parameters& parameters, const WiringContext&) {
    const auto current = parameters.requireNumber("excitation_A");
    if (!current) return tl::unexpected(current.error().within("wiring"));
    const double lead = parameters.numberOr("lead_ohm", 0);
    if (!(lead >= 0))
        return fail(ErrorCode::Range, "wiring.lead_ohm", plainNumber(lead), "a resistance of 0 Ω or above");
    return finished(Proportional::make(*current, *current * lead, Quantity::Resistance,
                                       "Current source through the sensor",
                                       shortEngineering(*current, Quantity::Current).joined(), "excitation_A"));
}

std::vector<ParameterSpec> loadParameters() {
    return {{"load_ohm", "RL", Quantity::Resistance, "", {}, "load_tolerance", ToleranceKind::Relative}, kSupplySpec};
}
std::vector<ParameterSpec> transimpedanceParameters() {
    return {{"feedback_ohm", "Rf", Quantity::Resistance, "", {}, "feedback_tolerance", ToleranceKind::Relative},
            kSupplySpec};
}
std::vector<ParameterSpec> attenuatorParameters() {
    return {{"top_ohm", "Rt", Quantity::Resistance, "", {}, "top_tolerance", ToleranceKind::Relative},
            {"bottom_ohm", "Rb", Quantity::Resistance, "", {}, "bottom_tolerance", ToleranceKind::Relative},
            kSupplySpec};
}
std::vector<ParameterSpec> amplifierParameters() {
    return {{"gain", "Gain", Quantity::Ratio, "", {}, "gain_tolerance", ToleranceKind::Relative},
            {"offset_V", "Offset", Quantity::Voltage, "", 0.0, "offset_tolerance_V", ToleranceKind::Absolute},
            kSupplySpec};
}
std::vector<ParameterSpec> currentSourceParameters() {
    return {{"excitation_A", "Current", Quantity::Current, "", {}, "excitation_tolerance", ToleranceKind::Relative},
            kLeadSpec,
            kSupplySpec};
}

MadeNetwork makeCounted(const Parameters&, const WiringContext&) { return makeTransfer(Direct{false}); }

std::vector<ParameterSpec> countedParameters() { return {kSupplySpec}; }

// The resistor only has to let the pin tell two currents apart; the count goes through unchanged.
std::vector<ParameterSpec> pulseLoadParameters() {
    return {{"load_ohm", "RL", Quantity::Resistance, "", {}, "load_tolerance", ToleranceKind::Relative}, kSupplySpec};
}

MadeNetwork makePulseLoad(const Parameters& parameters, const WiringContext&) {
    const auto load = parameters.requireNumber("load_ohm");
    if (!load) return tl::unexpected(load.error().within("wiring"));
    if (!(*load > 0)) return fail(ErrorCode::Range, "wiring.load_ohm", plainNumber(*load), "a resistance above 0 Ω");
    return makeTransfer(Direct{false});
}

MadeNetwork reciprocal(Expected<Reciprocal> network) {
    return std::move(network).map([](Reciprocal&& made) { return makeTransfer(std::move(made)); });
}

MadeNetwork makePeriod(const Parameters&, const WiringContext&) {
    return reciprocal(Reciprocal::make(1, 0, Quantity::Frequency, Quantity::Time, "The period of the frequency", ""));
}

struct Astable {
    double ohm;  ///< ln 2 · (R1 + 2 R2)
    double stray_F;
    std::string text;
};

Expected<Astable> astable(const Parameters& parameters) {
    const auto charge = parameters.requireNumber("charge_ohm"), discharge = parameters.requireNumber("discharge_ohm");
    if (!charge) return tl::unexpected(charge.error().within("wiring"));
    if (!discharge) return tl::unexpected(discharge.error().within("wiring"));
    if (!(*charge >= 0))
        return fail(ErrorCode::Range, "wiring.charge_ohm", plainNumber(*charge), "a resistance of 0 Ω or above");
    if (!(*discharge > 0))
        return fail(ErrorCode::Range, "wiring.discharge_ohm", plainNumber(*discharge), "a resistance above 0 Ω");
    return Astable{std::numbers::ln2 * (*charge + 2 * *discharge), parameters.numberOr("stray_F", 0),
                   fmt::format("ln 2 × ({} + 2 × {})", ohms(*charge), ohms(*discharge))};
}

MadeNetwork makeOscillator(const Parameters& parameters, const WiringContext&) {
    const auto timer = astable(parameters);
    if (!timer) return tl::unexpected(timer.error());
    return reciprocal(Reciprocal::make(timer->ohm, timer->stray_F, Quantity::Capacitance, Quantity::Frequency,
                                       "RC oscillator, astable timer", timer->text + " × "));
}

// The same oscillator timed over one period: T = ln 2 · (R1 + 2 R2) · (C + Cstray), straight in C.
MadeNetwork makeOscillatorPeriod(const Parameters& parameters, const WiringContext&) {
    const auto timer = astable(parameters);
    if (!timer) return tl::unexpected(timer.error());
    return finished(Proportional::make(timer->ohm, timer->ohm * timer->stray_F, Quantity::Capacitance,
                                       "Period of an RC oscillator", timer->text, "discharge_ohm", Quantity::Time));
}

std::vector<ParameterSpec> oscillatorParameters() {
    return {{"discharge_ohm", "R2", Quantity::Resistance, "", {}, "discharge_tolerance", ToleranceKind::Relative},
            {"charge_ohm", "R1", Quantity::Resistance, "", {}, "charge_tolerance", ToleranceKind::Relative},
            {"stray_F", "Stray capacitance", Quantity::Capacitance, "", 0.0, "stray_tolerance",
             ToleranceKind::Relative},
            kSupplySpec};
}

const std::array kKinds{
    WiringKind{"direct", "Straight to the pin", Quantity::Voltage, Quantity::Voltage, directParameters, makeDirect},
    WiringKind{"attenuator", "Divider for a higher voltage", Quantity::Voltage, Quantity::Voltage, attenuatorParameters,
               makeAttenuator},
    WiringKind{"amplifier", "Amplifier", Quantity::Voltage, Quantity::Voltage, amplifierParameters, makeAmplifier},
    WiringKind{"divider", "Divider with a fixed resistor", Quantity::Resistance, Quantity::Voltage, dividerParameters,
               makeDivider},
    WiringKind{"current-source", "Current source", Quantity::Resistance, Quantity::Voltage, currentSourceParameters,
               makeCurrentSource},
    WiringKind{"load", "Load or shunt resistor", Quantity::Current, Quantity::Voltage, loadParameters, makeLoad},
    WiringKind{"transimpedance", "Transimpedance amplifier", Quantity::Current, Quantity::Voltage,
               transimpedanceParameters, makeTransimpedance},
    WiringKind{"bridge", "Bridge to a differential input", Quantity::Voltage, Quantity::Voltage, directParameters,
               makeDirect},
    WiringKind{"oscillator", "RC oscillator", Quantity::Capacitance, Quantity::Frequency, oscillatorParameters,
               makeOscillator},
    WiringKind{"oscillator-period", "RC oscillator, its period timed", Quantity::Capacitance, Quantity::Time,
               oscillatorParameters, makeOscillatorPeriod},
    WiringKind{"frequency", "Straight to a counter", Quantity::Frequency, Quantity::Frequency, countedParameters,
               makeCounted},
    WiringKind{"period", "To a timer of the period", Quantity::Frequency, Quantity::Time, countedParameters,
               makePeriod},
    WiringKind{"pulse-load", "Resistor that makes pulses readable", Quantity::Count, Quantity::Count,
               pulseLoadParameters, makePulseLoad},
};

}  // namespace

std::span<const WiringKind> wiringKinds() { return kKinds; }

const WiringKind* findWiringKind(std::string_view id) {
    for (const WiringKind& kind : kKinds)
        if (kind.id == id) return &kind;
    return nullptr;
}

Expected<Feed> feedOf(std::string_view kind, const Parameters& wiring, const WiringContext& context) {
    const auto said = wiring.text("source");
    const auto voltage = wiring.number("source_V");
    const bool isRail = said ? *said == "rail" : voltage.value_or(0) > 0;
    if (said && *said != "rail" && *said != "reference")
        return fail(ErrorCode::Unknown, "wiring.source", "“" + *said + "”",
                    "“reference” (the converter's own) or “rail” (with source_V)");
    if (isRail) {
        if (!voltage) return tl::unexpected(wiring.requireNumber("source_V").error().within("wiring"));
        if (!(*voltage > 0))
            return fail(ErrorCode::Range, "wiring.source_V", plainNumber(*voltage), "a voltage above 0 V");
        return Feed{*voltage, false};
    }
    if (said || context.isReferenceSupply || kind == "divider") return Feed{context.reference_V, true};
    return Feed{};
}

std::optional<double> sensorCurrent_A(std::string_view kind, const Parameters& wiring, double source_V,
                                      double sensor_ohm) {
    if (kind == "current-source") return wiring.number("excitation_A");
    const auto fixed_ohm = wiring.number("fixed_ohm");
    if (kind != "divider" || !fixed_ohm) return std::nullopt;
    return Divider::sensorCurrent_A(sensor_ohm, *fixed_ohm, source_V, dividerExtras(wiring));
}

}  // namespace fg
