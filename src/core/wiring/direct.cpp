// The sensor's output goes straight to the converter: what comes in goes out. V for a pin or a bridge's difference, Hz
// and pulses for counters.

#include "units/number_format.h"
#include "wiring/kind_rows.h"

#include <array>
#include <limits>

namespace fg {
namespace {

struct DirectFixed {
    Quantity quantity = Quantity::Voltage;
};

template <class N>
struct DirectFormula {
    DirectFixed fixed{};
    template <class Self, class Visit>
    static void each(Self&, Visit) {}
    [[nodiscard]] N forward(const N& signal) const { return signal; }
    [[nodiscard]] N inverse(const N& arriving) const { return arriving; }
    [[nodiscard]] StraightInverse straightInverse() const { return {}; }
    /// A voltage may have either sign; a frequency or a count may not.
    [[nodiscard]] Interval range() const {
        return {fixed.quantity == Quantity::Voltage ? -std::numeric_limits<double>::infinity() : 0,
                std::numeric_limits<double>::infinity()};
    }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const {
        return fixed.quantity == Quantity::Voltage ? "Straight to the pin" : "Straight to the counter";
    }
    [[nodiscard]] Symbol argument() const { return symbolOf(fixed.quantity); }
    [[nodiscard]] Symbol result() const { return symbolOf(fixed.quantity); }
};

MadeNetwork straight(Quantity quantity) {
    DirectFormula<double> made;
    made.fixed.quantity = quantity;
    return makeTransfer<DirectFormula>(made);
}

MadeNetwork makeVoltage(const Parameters&, const WiringContext&) { return straight(Quantity::Voltage); }
MadeNetwork makeCounted(const Parameters&, const WiringContext&) { return straight(Quantity::Frequency); }

// The resistor only has to let the pin tell two currents apart; the count goes through unchanged.
MadeNetwork makePulseLoad(const Parameters& parameters, const WiringContext&) {
    const auto load = parameters.requireNumber("load_ohm");
    if (!load) return tl::unexpected(load.error().within("wiring"));
    if (!(*load > 0)) return fail(ErrorCode::Range, "wiring.load_ohm", plainNumber(*load), "a resistance above 0 Ω");
    return straight(Quantity::Count);
}

std::vector<ParameterSpec> parameters() { return {supplySpec()}; }
std::vector<ParameterSpec> pulseLoadParameters() {
    return {{.id = "load_ohm",
             .label = "RL",
             .quantity = Quantity::Resistance,
             .toleranceId = "load_tolerance",
             .tolerance = ToleranceKind::Relative,
             .example = 10000.0},
            supplySpec()};
}

Hookup toPin(const Parameters&) { return {"{pin}", "ground"}; }
Hookup toPair(const Parameters&) { return {"the + input of {pin}", "the − input of {pin}"}; }
Hookup toPulsePin(const Parameters&) {
    return {"{pin}", "ground", {"{load_ohm} between {pin} and ground: the part is read by its current"}};
}

const std::array kRows{
    WiringKind{.id = "direct",
               .title = "Straight to the pin",
               .input = Quantity::Voltage,
               .output = Quantity::Voltage,
               .parameters = parameters,
               .make = makeVoltage,
               .hookup = toPin},
    WiringKind{.id = "bridge",
               .title = "Bridge to a differential input",
               .input = Quantity::Voltage,
               .output = Quantity::Voltage,
               .parameters = parameters,
               .make = makeVoltage,
               .hookup = toPair,
               .isDifferential = true},
    WiringKind{.id = "frequency",
               .title = "Straight to a counter",
               .input = Quantity::Frequency,
               .output = Quantity::Frequency,
               .parameters = parameters,
               .make = makeCounted,
               .hookup = toPin},
    WiringKind{.id = "pulse-load",
               .title = "Resistor that makes pulses readable",
               .input = Quantity::Count,
               .output = Quantity::Count,
               .parameters = pulseLoadParameters,
               .make = makePulseLoad,
               .hookup = toPulsePin},
};

}  // namespace

std::span<const WiringKind> directKinds() { return kRows; }

}  // namespace fg
