#pragma once

// A network that the product does not have, in one file: a current mirror drives the sensor, U = M · I0 · R.

#include "numeric/formula_transfer.h"
#include "wiring/kind.h"

#include <limits>

namespace fg::test {

template <class N>
struct MirrorFormula {
    N current{}, ratio{};
    NothingFixed fixed{};
    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"mirror_A", "I0", "A"}, self.current);
        visit(Symbol{"mirror_ratio", "M", ""}, self.ratio);
    }
    [[nodiscard]] N forward(const N& r) const { return step("U", "V", "made up", ratio * current * r); }
    [[nodiscard]] N inverse(const N& u) const { return step("R", "ohm", "made up", u / (ratio * current)); }
    [[nodiscard]] Interval range() const { return {0, std::numeric_limits<double>::infinity()}; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return "Current mirror"; }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Resistance); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Voltage); }
};

inline WiringKind mirror() {
    return {.id = "mirror",
            .title = "Current mirror",
            .input = Quantity::Resistance,
            .output = Quantity::Voltage,
            .parameters = []() -> std::vector<ParameterSpec> {
                return {{.id = "mirror_A",
                         .label = "Current",
                         .quantity = Quantity::Current,
                         .toleranceId = "mirror_tolerance",
                         .tolerance = ToleranceKind::Relative,
                         .example = 0.001},
                        {.id = "mirror_ratio", .label = "Ratio", .defaultValue = 1.0}};
            },
            .make = [](const Parameters& parameters, const WiringContext&) -> MadeNetwork {
                MirrorFormula<double> made;
                const auto current = parameters.requireNumber("mirror_A");
                if (!current) return tl::unexpected(current.error().within("wiring"));
                made.current = *current;
                made.ratio = parameters.numberOr("mirror_ratio", 1);
                return makeTransfer<MirrorFormula>(made);
            },
            .sensorCurrent_A = [](const Parameters& wiring, double, double) { return wiring.number("mirror_A"); },
            .hookup = [](const Parameters&) -> Hookup {
                return {"{pin}, and the mirror's output", "ground"};
            }};
}

}  // namespace fg::test
