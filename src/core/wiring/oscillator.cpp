// RC oscillators around a capacitive sensor, and the period of a frequency.
//
//   astable timer       f = 1/(ln 2 · (R1 + 2 R2) · (C + Cstray))     its period  T = ln 2 · (R1 + 2 R2) · (C + Cstray)
//   period              T = 1/f
//
// Source: the charging of a capacitor between one and two thirds of the supply; data sheets of such timers, "astable
// operation".

#include "numeric/straight_formula.h"
#include "units/number_format.h"
#include "wiring/kind_rows.h"

#include <array>
#include <numbers>

namespace fg {
constexpr double kInfinite = std::numeric_limits<double>::infinity();

template <class N>
[[nodiscard]] N chargeOhm(const N& charge, const N& discharge) {
    return constant<N>(std::numbers::ln2, "", "ln(2)") * (charge + 2 * discharge);
}

/// y = 1/(factor · (x + stray)); x + stray above 0, else NaN.
template <class N>
struct OscillatorFormula {
    N charge{}, discharge{}, stray{};
    NothingFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"charge_ohm", "R1", "ohm"}, self.charge);
        visit(Symbol{"discharge_ohm", "R2", "ohm"}, self.discharge);
        visit(Symbol{"stray_F", "Cstray", "F"}, self.stray);
    }
    [[nodiscard]] N forward(const N& c) const {
        const N all = c + stray;
        return require(all > 0, [&] { return step("f", "Hz", kSource, 1 / (chargeOhm(charge, discharge) * all)); });
    }
    [[nodiscard]] N inverse(const N& f) const {
        return require(f > 0, [&] {
            const N c = step("C", "F", kSource, 1 / (chargeOhm(charge, discharge) * f) - stray);
            return require(c > 0, [&] { return c; });
        });
    }
    [[nodiscard]] Interval range() const { return {0, kInfinite}; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return std::string(kSource); }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Capacitance); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Frequency); }

  private:
    static constexpr std::string_view kSource = "RC oscillator, astable timer";
};

template <class N>
struct OscillatorPeriodTerms {
    N charge{}, discharge{}, stray{};
    StraightFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        OscillatorFormula<N>::each(self, visit);
    }
    [[nodiscard]] N slope() const { return chargeOhm(charge, discharge); }
    [[nodiscard]] N offset() const { return chargeOhm(charge, discharge) * stray; }
    [[nodiscard]] bool hasOffset() const { return nominal(stray) != 0; }
    [[nodiscard]] std::string title() const { return std::string(fixed.source); }
};

namespace {

template <class N>
struct PeriodFormula {
    NothingFixed fixed{};
    template <class Self, class Visit>
    static void each(Self&, Visit) {}
    [[nodiscard]] N forward(const N& f) const {
        return require(f > 0, [&] { return step("T", "s", kSource, 1 / f); });
    }
    [[nodiscard]] N inverse(const N& period) const {
        return require(period > 0, [&] { return step("f", "Hz", kSource, 1 / period); });
    }
    [[nodiscard]] Interval range() const { return {0, kInfinite}; }
    [[nodiscard]] bool isRising() const { return false; }
    [[nodiscard]] std::string title() const { return std::string(kSource); }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Frequency); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Time); }

  private:
    static constexpr std::string_view kSource = "The period of the frequency";
};

MadeNetwork makePeriod(const Parameters&, const WiringContext&) { return makeTransfer<PeriodFormula>({}); }

/// Charge and discharge resistor and stray capacitance, checked.
template <class Formula>
Expected<Formula> timer(Formula made, const Parameters& parameters) {
    const auto charge = parameters.requireNumber("charge_ohm"), discharge = parameters.requireNumber("discharge_ohm");
    if (!charge) return tl::unexpected(charge.error().within("wiring"));
    if (!discharge) return tl::unexpected(discharge.error().within("wiring"));
    made.charge = *charge;
    made.discharge = *discharge;
    made.stray = parameters.numberOr("stray_F", 0);
    if (!(made.charge >= 0) || !std::isfinite(made.charge))
        return fail(ErrorCode::Range, "wiring.charge_ohm", plainNumber(*charge), "a resistance of 0 Ω or above");
    if (!(made.discharge > 0) || !std::isfinite(made.discharge))
        return fail(ErrorCode::Range, "wiring.discharge_ohm", plainNumber(*discharge), "a resistance above 0 Ω");
    if (!(made.stray >= 0) || !std::isfinite(made.stray))
        return fail(ErrorCode::Range, "wiring.stray_F", plainNumber(made.stray), "a capacitance of 0 F or above");
    return made;
}

MadeNetwork makeOscillator(const Parameters& parameters, const WiringContext&) {
    return timer(OscillatorFormula<double>{}, parameters).map([](const auto& made) {
        return makeTransfer<OscillatorFormula>(made);
    });
}

// The same oscillator timed over one period, straight in C.
MadeNetwork makeOscillatorPeriod(const Parameters& parameters, const WiringContext&) {
    Straight<OscillatorPeriodTerms>::Formula<double> network;
    static_cast<StraightFixed&>(network.fixed) = {
        symbolOf(Quantity::Capacitance), symbolOf(Quantity::Time), {0, kInfinite}, "Period of an RC oscillator"};
    return timer(network, parameters).map([](const auto& made) {
        return makeTransfer<Straight<OscillatorPeriodTerms>::Formula>(made);
    });
}

std::vector<ParameterSpec> countedParameters() { return {supplySpec()}; }

std::vector<ParameterSpec> oscillatorParameters() {
    const auto resistor = [](const char* id, const char* label, const char* toleranceId) {
        return ParameterSpec{.id = id,
                             .label = label,
                             .quantity = Quantity::Resistance,
                             .toleranceId = toleranceId,
                             .tolerance = ToleranceKind::Relative,
                             .example = 10000.0};
    };
    return {resistor("discharge_ohm", "R2", "discharge_tolerance"),
            resistor("charge_ohm", "R1", "charge_tolerance"),
            {.id = "stray_F",
             .label = "Stray capacitance",
             .quantity = Quantity::Capacitance,
             .defaultValue = 0.0,
             .toleranceId = "stray_tolerance",
             .tolerance = ToleranceKind::Relative},
            supplySpec()};
}

Hookup timed(const Parameters&) {
    return {"the threshold pins of the oscillator; its output goes to {pin}",
            "ground",
            {"{charge_ohm} from the oscillator's supply to its discharge pin",
             "{discharge_ohm} from the discharge pin to the threshold pins"}};
}
Hookup toTimer(const Parameters&) { return {"{pin}", "ground"}; }

const std::array kRows{
    WiringKind{.id = "oscillator",
               .title = "RC oscillator",
               .input = Quantity::Capacitance,
               .output = Quantity::Frequency,
               .parameters = oscillatorParameters,
               .make = makeOscillator,
               .hookup = timed},
    WiringKind{.id = "oscillator-period",
               .title = "RC oscillator, its period timed",
               .input = Quantity::Capacitance,
               .output = Quantity::Time,
               .parameters = oscillatorParameters,
               .make = makeOscillatorPeriod,
               .hookup = timed},
    WiringKind{.id = "period",
               .title = "To a timer of the period",
               .input = Quantity::Frequency,
               .output = Quantity::Time,
               .parameters = countedParameters,
               .make = makePeriod,
               .hookup = toTimer},
};

}  // namespace

std::span<const WiringKind> oscillatorKinds() { return kRows; }

}  // namespace fg
