#include "converters/kind.h"

#include "units/number_format.h"

#include <algorithm>
#include <array>
#include <string_view>

namespace fg {
namespace {

Expected<std::string> textOf(const Parameters& parameters, const std::string& name, const std::string& otherwise) {
    const auto it = parameters.all().find(name);
    if (it == parameters.all().end()) return otherwise;
    if (const auto* text = std::get_if<std::string>(&it->second)) return *text;
    return fail(ErrorCode::Syntax, "converter." + name, "a number", "a text");
}

/// One of two words; true for the second.
Expected<bool> isSecond(const Parameters& parameters, const std::string& name, const std::string& first,
                        const std::string& second) {
    const auto text = textOf(parameters, name, first);
    if (!text) return tl::unexpected(text.error());
    if (*text != first && *text != second)
        return fail(ErrorCode::Unknown, "converter." + name, "“" + *text + "”", "“" + first + "” or “" + second + "”");
    return *text == second;
}

Expected<int> bitsOf(const Parameters& parameters, std::optional<double> otherwise = {}) {
    const auto bits =
        otherwise && !parameters.has("bits") ? Expected<double>(*otherwise) : parameters.requireNumber("bits");
    if (!bits) return tl::unexpected(bits.error().within("converter"));
    if (*bits != std::floor(*bits) || !(std::abs(*bits) < 1000))
        return fail(ErrorCode::Range, "converter.bits", plainNumber(*bits), "a whole number, 1 to 32 bits");
    return static_cast<int>(*bits);
}

std::vector<ParameterSpec> adcParameters() {
    return {{"bits", "Bits", Quantity::Count, "", {}},
            {"reference_V", "Vref, nominal", Quantity::Voltage, "", {}, "reference_tolerance", ToleranceKind::Relative},
            {"reference_measured_V", "Vref, measured", Quantity::Voltage, "", 0.0, "reference_measured_tolerance",
             ToleranceKind::Relative},
            {"full_scale_of_reference", "Full scale, of Vref", Quantity::Ratio, "", 1.0},
            {"gain", "Gain", Quantity::Ratio, "", 1.0, "gain_tolerance", ToleranceKind::Relative},
            {"input_max_V", "Most the pin may see", Quantity::Voltage, "", 0.0},
            {"supply_V", "Its own supply", Quantity::Voltage, "", 0.0},
            {"input_above_supply_V", "Its pins stand its supply and", Quantity::Voltage, "", -1.0},
            {"error_LSB", "Total unadjusted error", Quantity::Ratio, "LSB", 0.0},
            {"noise_V", "Noise at its input, rms", Quantity::Voltage, "", 0.0},
            {"rate_Hz", "Conversions a second", Quantity::Frequency, "", 0.0},
            {"source_impedance_max_ohm", "Most the source may have", Quantity::Resistance, "", 0.0},
            {"clamp_current_max_A", "Most its clamp diodes take", Quantity::Current, "", 0.0},
            {"acquisition_s", "Acquisition time", Quantity::Time, "", 0.0},
            {"sample_capacitor_F", "Sampling capacitor", Quantity::Capacitance, "", 0.0},
            {"setup_clock_Hz", "Clock of its controller", Quantity::Frequency, "", 0.0}};
}

std::vector<std::string> adcWords() {
    return {"code_law",   "rounding", "polarity", "word", "reference_kind", "nonlinearity_code_LSB",
            "setup_part", "setup"};
}

// Counts of the signal during a gate: one count is 1/gate. A gate that is not in step with the signal loses or gains up
// to half a count beside the rounding, together the triangle of ± 1 count.
std::vector<ParameterSpec> counterParameters() {
    return {{"gate_s", "Gate time", Quantity::Time, "", {}, "gate_tolerance", ToleranceKind::Relative},
            {"bits", "Bits of the counter", Quantity::Count, "", 16.0},
            {"error_LSB", "Gate not in step with the signal", Quantity::Ratio, "LSB", 0.5}};
}

Expected<Converter> makeGateCounter(const Parameters& parameters) {
    const auto gate = parameters.requireNumber("gate_s");
    if (!gate) return tl::unexpected(gate.error().within("converter"));
    const auto bits = bitsOf(parameters, 16);
    if (!bits) return tl::unexpected(bits.error());
    return Converter::makeCounter({.bits = *bits, .kind = StepKind::Gate, .gate_s = *gate});
}

std::vector<ParameterSpec> timerParameters() {
    return {{"clock_Hz", "Clock", Quantity::Frequency, "", {}, "clock_tolerance", ToleranceKind::Relative},
            {"periods", "Periods timed together", Quantity::Count, "", 1.0},
            {"bits", "Bits of the timer", Quantity::Count, "", 16.0},
            {"error_LSB", "Clock not in step with the signal", Quantity::Ratio, "LSB", 0.5}};
}

Expected<Converter> makeTimer(const Parameters& parameters) {
    const auto clock = parameters.requireNumber("clock_Hz");
    if (!clock) return tl::unexpected(clock.error().within("converter"));
    const auto bits = bitsOf(parameters, 16);
    if (!bits) return tl::unexpected(bits.error());
    const double periods = parameters.numberOr("periods", 1);
    if (!(periods >= 1) || periods != std::floor(periods))
        return fail(ErrorCode::Range, "converter.periods", plainNumber(periods),
                    "a whole number of periods, 1 or more");
    return Converter::makeCounter({.bits = *bits, .kind = StepKind::Clock, .clock_Hz = *clock, .periods = periods});
}

std::vector<ParameterSpec> pulsesParameters() { return {{"bits", "Bits of the counter", Quantity::Count, "", 12.0}}; }

Expected<Converter> makePulses(const Parameters& parameters) {
    const auto bits = bitsOf(parameters, 12);
    if (!bits) return tl::unexpected(bits.error());
    return Converter::makeCounter({.bits = *bits});
}

std::vector<std::string> noWords() { return {}; }

const std::array kKinds{
    ConverterKind{"adc", "Analog-to-digital converter", Quantity::Voltage, adcParameters, adcWords, makeAdc},
    ConverterKind{"counter", "Counter with a gate time", Quantity::Frequency, counterParameters, noWords,
                  makeGateCounter},
    ConverterKind{"timer", "Timer of the period", Quantity::Time, timerParameters, noWords, makeTimer},
    ConverterKind{"pulses", "Counter of pulses", Quantity::Count, pulsesParameters, noWords, makePulses},
};

}  // namespace

std::span<const ConverterKind> converterKinds() { return kKinds; }

const ConverterKind* findConverterKind(std::string_view id) {
    for (const ConverterKind& kind : kKinds)
        if (kind.id == id) return &kind;
    return nullptr;
}

double reservoir_F(double sample_F, double bits) { return sample_F * std::exp2(bits + 1); }

bool isReferenceSupply(const Parameters& parameters) {
    const std::string kind = parameters.textOr("reference_kind", "");
    return kind == "supply" || kind == "unregulated";
}

double effectiveReference_V(const Parameters& parameters) {
    const double measured = parameters.numberOr("reference_measured_V", 0);
    return measured > 0 ? measured : parameters.numberOr("reference_V", 0);
}

std::string_view codeLawName(CodeLaw law) { return law == CodeLaw::PowerOfTwo ? "2^n" : "2^n-1"; }

Expected<Converter> makeAdc(const Parameters& parameters) {
    AdcDesign design;
    const auto bits = bitsOf(parameters);
    if (!bits) return tl::unexpected(bits.error());
    if (*bits > 24) return fail(ErrorCode::Range, "converter.bits", std::to_string(*bits), "1 to 24 bits");
    design.bits = *bits;
    const auto referenceKind = textOf(parameters, "reference_kind", "");
    if (!referenceKind) return tl::unexpected(referenceKind.error());
    if (constexpr std::array<std::string_view, 5> kinds{"", "supply", "unregulated", "internal", "external"};
        std::find(kinds.begin(), kinds.end(), *referenceKind) == kinds.end())
        return fail(ErrorCode::Unknown, "converter.reference_kind", "“" + *referenceKind + "”",
                    "“supply”, “unregulated”, “internal” or “external”");
    if (const double measured = parameters.numberOr("reference_measured_V", 0); measured < 0)
        return fail(ErrorCode::Range, "converter.reference_measured_V", plainNumber(measured),
                    "a voltage above 0 V, or 0 where it was not measured");
    design.reference_V = effectiveReference_V(parameters);
    design.isMeasured = parameters.numberOr("reference_measured_V", 0) > 0;
    if (!(design.reference_V > 0))
        if (const auto nominal = parameters.requireNumber("reference_V"); !nominal)
            return tl::unexpected(nominal.error().within("converter"));
    const auto law = isSecond(parameters, "code_law", "2^n", "2^n-1");
    if (!law) return tl::unexpected(law.error());
    design.law = *law ? CodeLaw::PowerOfTwoMinusOne : CodeLaw::PowerOfTwo;
    const auto down = isSecond(parameters, "rounding", "nearest", "down");
    if (!down) return tl::unexpected(down.error());
    design.rounding = *down ? Rounding::Down : Rounding::Nearest;
    const auto bipolar = isSecond(parameters, "polarity", "unipolar", "bipolar");
    if (!bipolar) return tl::unexpected(bipolar.error());
    design.polarity = *bipolar ? Polarity::Bipolar : Polarity::Unipolar;
    const auto word = textOf(parameters, "word", "right-justified");
    if (!word) return tl::unexpected(word.error());
    const auto format = wordFormatFromName(*word);
    if (!format) return tl::unexpected(format.error());
    design.word = *format;
    design.gain = parameters.numberOr("gain", 1);
    design.referenceFraction = parameters.numberOr("full_scale_of_reference", 1);
    if (parameters.has("nonlinearity_code_LSB")) {
        const auto points = parameters.requirePoints("nonlinearity_code_LSB");
        if (!points) return tl::unexpected(points.error().within("converter"));
        design.nonlinearity = *points;
    }
    return Converter::makeAdc(design);
}

}  // namespace fg
