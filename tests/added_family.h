#pragma once

// A formula family that the product does not have, in one file: a PTC that rises by a fixed share a degree,
// R = R0 · exp(k · t).

#include "numeric/formula_transfer.h"
#include "sensors/family.h"

namespace fg::test {

template <class N>
struct ExponentialPtcFormula {
    N r0{}, k{};
    NothingFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"r0_ohm", "R0", "ohm"}, self.r0);
        visit(Symbol{"share_per_K", "k", "1/K"}, self.k);
    }
    [[nodiscard]] N forward(const N& t) const { return step("R", "ohm", "made up", r0 * exp(k * t)); }
    [[nodiscard]] N inverse(const N& r) const {
        return require(r > 0, [&] { return step("t", "degC", "made up", log(r / r0) / k); });
    }
    [[nodiscard]] Interval range() const { return {-50, 150}; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return "Exponential PTC"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Temperature); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Resistance); }
};

inline MadeSensor makeExponentialPtc(const Parameters& parameters, const SensorContext&) {
    ExponentialPtcFormula<double> ptc;
    const auto r0 = parameters.requireNumber("r0_ohm"), k = parameters.requireNumber("share_per_K");
    if (!r0) return tl::unexpected(r0.error());
    if (!k) return tl::unexpected(k.error());
    ptc.r0 = *r0;
    ptc.k = *k;
    return makeTransfer<ExponentialPtcFormula>(ptc);
}

inline SensorFamily exponentialPtc() {
    return {.id = "exponential-ptc",
            .title = "Exponential PTC",
            .output = Quantity::Resistance,
            .parameters = [](Quantity) -> std::vector<ParameterSpec> {
                return {{.id = "r0_ohm",
                         .label = "R0, at 0 °C",
                         .quantity = Quantity::Resistance,
                         .toleranceId = "r0_tolerance",
                         .tolerance = ToleranceKind::Relative,
                         .example = 1000.0},
                        {.id = "share_per_K", .label = "Share per kelvin", .unitSuffix = "1/K", .example = 0.01}};
            },
            .make = makeExponentialPtc};
}

}  // namespace fg::test
