// Networks whose output is in proportion to the sensor's signal: U = offset + factor · signal.
//
//   load, shunt        U = I · RL                      transimpedance  U = I · Rf
//   attenuator         U = U0 · Rb/(Rt + Rb)           amplifier       U = U0 · G + Uoffset
//   current source     U = R · I0 + Rlead · I0
//
// Source: Ohm's law; the ideal operational amplifier for the two active ones.

#include "numeric/straight_formula.h"
#include "units/number_format.h"
#include "wiring/kind_rows.h"

#include <array>

namespace fg {
/// What the formula below knows besides numbers.
struct ResistorFixed : StraightFixed {
    Symbol resistor;
};

/// A current through one resistor.
template <class N>
struct ResistorTerms {
    N resistance{};
    ResistorFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(self.fixed.resistor, self.resistance);
    }
    [[nodiscard]] N slope() const { return resistance; }
    [[nodiscard]] N offset() const { return 0; }
    [[nodiscard]] bool hasOffset() const { return false; }
    [[nodiscard]] std::string title() const { return std::string(fixed.source); }
};

template <class N>
struct AttenuatorTerms {
    N top{}, bottom{};
    StraightFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"top_ohm", "Rt", "ohm"}, self.top);
        visit(Symbol{"bottom_ohm", "Rb", "ohm"}, self.bottom);
    }
    [[nodiscard]] N slope() const { return bottom / (top + bottom); }
    [[nodiscard]] N offset() const { return 0; }
    [[nodiscard]] bool hasOffset() const { return false; }
    [[nodiscard]] std::string title() const { return std::string(fixed.source); }
};

/// What the formula below knows besides numbers.
struct AmplifierFixed : StraightFixed {
    bool hasOffset = false;
};

template <class N>
struct AmplifierTerms {
    N gain{}, offsetVoltage{};
    AmplifierFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"gain", "G", ""}, self.gain);
        visit(Symbol{"offset_V", "Uoff", "V"}, self.offsetVoltage);
    }
    [[nodiscard]] N slope() const { return gain; }
    [[nodiscard]] N offset() const { return offsetVoltage; }
    [[nodiscard]] bool hasOffset() const { return fixed.hasOffset; }
    [[nodiscard]] std::string title() const { return std::string(fixed.source); }
};

/// What the formula below knows besides numbers.
struct CurrentSourceFixed : StraightFixed {
    bool hasLead = false;
};

template <class N>
struct CurrentSourceTerms {
    N current{}, lead{};
    CurrentSourceFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"excitation_A", "I0", "A"}, self.current);
        visit(Symbol{"lead_ohm", "Rlead", "ohm"}, self.lead);
    }
    [[nodiscard]] N slope() const { return current; }
    [[nodiscard]] N offset() const { return current * lead; }
    [[nodiscard]] bool hasOffset() const { return fixed.hasLead; }
    [[nodiscard]] std::string title() const { return std::string(fixed.source); }
};

namespace {

constexpr double kInfinite = std::numeric_limits<double>::infinity();

/// Names and signal of one such network.
StraightFixed straightFixed(Quantity input, std::string_view source) {
    Symbol argument = symbolOf(input);
    if (input == Quantity::Voltage) argument.name = "U0";
    return {argument, symbolOf(Quantity::Voltage), {input == Quantity::Resistance ? 0 : -kInfinite, kInfinite}, source};
}

/// The network if its factor is above 0.
template <template <class> class Terms>
MadeNetwork checked(typename Straight<Terms>::template Formula<double> network, const std::string& field) {
    if (!(network.slope() > 0) || !std::isfinite(network.slope()))
        return fail(ErrorCode::Range, "wiring." + field, plainNumber(network.slope()), "values above 0");
    if (!std::isfinite(network.offset()))
        return fail(ErrorCode::Range, "wiring.offset_V", plainNumber(network.offset()), "a voltage");
    return makeTransfer<Straight<Terms>::template Formula>(network);
}

MadeNetwork makeCurrentResistor(const Parameters& parameters, const char* field, const char* symbol,
                                std::string_view source) {
    const auto resistance = parameters.requireNumber(field);
    if (!resistance) return tl::unexpected(resistance.error().within("wiring"));
    Straight<ResistorTerms>::Formula<double> network;
    network.resistance = *resistance;
    static_cast<StraightFixed&>(network.fixed) = straightFixed(Quantity::Current, source);
    network.fixed.resistor = {field, symbol, "ohm"};
    return checked<ResistorTerms>(network, field);
}
MadeNetwork makeLoad(const Parameters& parameters, const WiringContext&) {
    return makeCurrentResistor(parameters, "load_ohm", "RL", "Load resistor to ground");
}
MadeNetwork makeTransimpedance(const Parameters& parameters, const WiringContext&) {
    return makeCurrentResistor(parameters, "feedback_ohm", "Rf", "Transimpedance amplifier");
}

MadeNetwork makeAttenuator(const Parameters& parameters, const WiringContext&) {
    const auto top = parameters.requireNumber("top_ohm"), bottom = parameters.requireNumber("bottom_ohm");
    if (!top) return tl::unexpected(top.error().within("wiring"));
    if (!bottom) return tl::unexpected(bottom.error().within("wiring"));
    if (!(*top >= 0))
        return fail(ErrorCode::Range, "wiring.top_ohm", plainNumber(*top), "a resistance of 0 Ω or above");
    if (!(*bottom > 0))
        return fail(ErrorCode::Range, "wiring.bottom_ohm", plainNumber(*bottom), "a resistance above 0 Ω");
    Straight<AttenuatorTerms>::Formula<double> network;
    network.top = *top;
    network.bottom = *bottom;
    static_cast<StraightFixed&>(network.fixed) = straightFixed(Quantity::Voltage, "Divider for a higher voltage");
    return checked<AttenuatorTerms>(network, "bottom_ohm");
}

MadeNetwork makeAmplifier(const Parameters& parameters, const WiringContext&) {
    const auto gain = parameters.requireNumber("gain");
    if (!gain) return tl::unexpected(gain.error().within("wiring"));
    Straight<AmplifierTerms>::Formula<double> network;
    network.gain = *gain;
    network.offsetVoltage = parameters.numberOr("offset_V", 0);
    static_cast<StraightFixed&>(network.fixed) = straightFixed(Quantity::Voltage, "Amplifier");
    network.fixed.hasOffset = network.offsetVoltage != 0 || parameters.numberOr("offset_tolerance_V", 0) > 0;
    return checked<AmplifierTerms>(network, "gain");
}

MadeNetwork makeCurrentSource(const Parameters& parameters, const WiringContext&) {
    const auto current = parameters.requireNumber("excitation_A");
    if (!current) return tl::unexpected(current.error().within("wiring"));
    Straight<CurrentSourceTerms>::Formula<double> network;
    network.current = *current;
    network.lead = parameters.numberOr("lead_ohm", 0);
    if (!(network.lead >= 0))
        return fail(ErrorCode::Range, "wiring.lead_ohm", plainNumber(network.lead), "a resistance of 0 Ω or above");
    static_cast<StraightFixed&>(network.fixed) =
        straightFixed(Quantity::Resistance, "Current source through the sensor");
    network.fixed.hasLead = network.lead > 0;
    return checked<CurrentSourceTerms>(network, "excitation_A");
}

ParameterSpec resistorSpec(const char* id, const char* label, const char* toleranceId) {
    return {.id = id,
            .label = label,
            .quantity = Quantity::Resistance,
            .toleranceId = toleranceId,
            .tolerance = ToleranceKind::Relative,
            .example = 10000.0};
}
std::vector<ParameterSpec> loadParameters() { return {resistorSpec("load_ohm", "RL", "load_tolerance"), supplySpec()}; }
std::vector<ParameterSpec> transimpedanceParameters() {
    return {resistorSpec("feedback_ohm", "Rf", "feedback_tolerance"), supplySpec()};
}
std::vector<ParameterSpec> attenuatorParameters() {
    return {resistorSpec("top_ohm", "Rt", "top_tolerance"), resistorSpec("bottom_ohm", "Rb", "bottom_tolerance"),
            supplySpec()};
}
std::vector<ParameterSpec> amplifierParameters() {
    return {{.id = "gain",
             .label = "Gain",
             .toleranceId = "gain_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 10.0},
            {.id = "offset_V",
             .label = "Offset",
             .quantity = Quantity::Voltage,
             .defaultValue = 0.0,
             .toleranceId = "offset_tolerance_V",
             .tolerance = ToleranceKind::Absolute},
            supplySpec()};
}
std::vector<ParameterSpec> currentSourceParameters() {
    return {{.id = "excitation_A",
             .label = "Current",
             .quantity = Quantity::Current,
             .toleranceId = "excitation_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 0.001},
            leadSpec(),
            supplySpec()};
}

double attenuatorImpedance_ohm(const Parameters& wiring, double) {
    return parallelOf(wiring.numberOr("top_ohm", 0), wiring.numberOr("bottom_ohm", 0));
}
double loadImpedance_ohm(const Parameters& wiring, double) { return wiring.numberOr("load_ohm", 0); }
std::optional<double> sourceCurrent_A(const Parameters& wiring, double, double) {
    return wiring.number("excitation_A");
}
std::optional<Recorded> recordedSourceCurrent(const Parameters& wiring, const Recorded&, const Recorded&) {
    const auto excitation = wiring.number("excitation_A");
    return excitation ? std::optional<Recorded>(*excitation) : std::nullopt;
}

Hookup throughAttenuator(const Parameters&) {
    return {"{top_ohm}, whose other end is {pin}", "ground", {"{bottom_ohm} between {pin} and ground"}};
}
Hookup throughAmplifier(const Parameters&) {
    return {"the input of the amplifier; its output goes to {pin}", "ground"};
}
Hookup fromCurrentSource(const Parameters&) { return {"{pin}, and the current source beside it", "ground"}; }
Hookup overLoad(const Parameters&) { return {"{pin}", "ground", {"{load_ohm} between {pin} and ground"}}; }
Hookup intoTransimpedance(const Parameters&) {
    return {"the inverting input of the amplifier; its output goes to {pin}",
            "ground",
            {"{feedback_ohm} from the amplifier's output to its inverting input"}};
}

const std::array kRows{
    WiringKind{.id = "attenuator",
               .title = "Divider for a higher voltage",
               .input = Quantity::Voltage,
               .output = Quantity::Voltage,
               .parameters = attenuatorParameters,
               .make = makeAttenuator,
               .sourceImpedance_ohm = attenuatorImpedance_ohm,
               .hookup = throughAttenuator},
    WiringKind{.id = "amplifier",
               .title = "Amplifier",
               .input = Quantity::Voltage,
               .output = Quantity::Voltage,
               .parameters = amplifierParameters,
               .make = makeAmplifier,
               .hookup = throughAmplifier},
    WiringKind{.id = "current-source",
               .title = "Current source",
               .input = Quantity::Resistance,
               .output = Quantity::Voltage,
               .parameters = currentSourceParameters,
               .make = makeCurrentSource,
               .sensorCurrent_A = sourceCurrent_A,
               .recordedCurrent = recordedSourceCurrent,
               .hookup = fromCurrentSource},
    WiringKind{.id = "load",
               .title = "Load or shunt resistor",
               .input = Quantity::Current,
               .output = Quantity::Voltage,
               .parameters = loadParameters,
               .make = makeLoad,
               .sourceImpedance_ohm = loadImpedance_ohm,
               .hookup = overLoad},
    WiringKind{.id = "transimpedance",
               .title = "Transimpedance amplifier",
               .input = Quantity::Current,
               .output = Quantity::Voltage,
               .parameters = transimpedanceParameters,
               .make = makeTransimpedance,
               .hookup = intoTransimpedance},
};

}  // namespace

std::span<const WiringKind> proportionalKinds() { return kRows; }

}  // namespace fg
