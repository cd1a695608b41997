// Room `wiring`: the networks between a sensor and a converter pin. Each is a Transfer from the sensor's signal to the
// pin's voltage.
#pragma once

#include "numeric/formula_transfer.h"
#include "units/error.h"

namespace fg {

/// Which resistor of the divider is the sensor.
enum class SensorSide {
    Low,  ///< sensor to ground, fixed resistor to the source: U = Us · R/(R + Rf)
    High  ///< sensor to the source, fixed resistor to ground: U = Us · Rf/(R + Rf)
};

/// What may stand around the sensor in its divider besides the fixed resistor.
struct DividerExtras {
    double lead_ohm = 0;      ///< both wires of its cable, in series with it
    double parallel_ohm = 0;  ///< linearising resistor across sensor and cable; 0: none
};

/// What the formula below knows besides numbers.
struct DividerFixed {
    SensorSide side = SensorSide::Low;
    bool hasParallel = false, hasLead = false;
};

/// A resistive sensor in a two-resistor divider, no load at the tap; its branch is (R + Rlead), or that in parallel
/// with Rp.
///
/// forward: sensor resistance in Ω (0 … ∞) to tap voltage in V (0 … Us). inverse: NaN at and beyond the voltages that
/// no resistance gives (below 0, at or above the source for a low-side sensor). Exact for a converter whose input draws
/// no current. Source: Ohm's and Kirchhoff's laws.
template <class N>
struct DividerFormula {
    N fixedResistor{}, source{}, parallel{}, lead{};
    DividerFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(Symbol{"fixed_ohm", "Rf", "ohm"}, self.fixedResistor);
        visit(Symbol{"source_V", "Us", "V"}, self.source);
        visit(Symbol{"parallel_ohm", "Rp", "ohm"}, self.parallel);
        visit(Symbol{"lead_ohm", "Rlead", "ohm"}, self.lead);
    }

    [[nodiscard]] N forward(const N& r) const {
        N branch = fixed.hasLead ? step("Rwired", "ohm", "resistance of the cable in series", r + lead) : r;
        if (fixed.hasParallel)
            branch = choose(
                isInfinite(branch), [&] { return parallel; },
                [&] {
                    return step("Rbranch", "ohm", "resistor in parallel", branch * parallel / (branch + parallel));
                });
        if (fixed.side == SensorSide::High)
            return step("U", "V", kSource, source * fixedResistor / (branch + fixedResistor));
        // an open sensor leaves the tap at the source
        return choose(
            isInfinite(branch), [&] { return source; },
            [&] { return step("U", "V", kSource, source * branch / (branch + fixedResistor)); });
    }

    [[nodiscard]] N inverse(const N& u) const {
        const std::string_view name = fixed.hasParallel ? "Rbranch" : (fixed.hasLead ? "Rwired" : "R");
        const N across = source - u;
        const N branch = step(name, "ohm", kSource,
                              fixed.side == SensorSide::Low ? fixedResistor * u / across : fixedResistor * across / u);
        N r = branch;
        if (fixed.hasParallel)
            r = require(branch < parallel, [&] {
                return step(fixed.hasLead ? "Rwired" : "R", "ohm", "resistor in parallel taken off",
                            branch * parallel / (parallel - branch));
            });
        if (fixed.hasLead) r = step("R", "ohm", "resistance of the cable taken off", r - lead);
        return require(r >= 0 && r < std::numeric_limits<double>::infinity(), [&] { return r; });
    }

    [[nodiscard]] Interval range() const { return {0, std::numeric_limits<double>::infinity()}; }
    [[nodiscard]] bool isRising() const { return fixed.side == SensorSide::Low; }
    [[nodiscard]] std::string title() const {
        return fixed.side == SensorSide::Low ? "Divider, sensor to ground" : "Divider, sensor to source";
    }
    [[nodiscard]] Symbol argument() const { return symbolOf(Quantity::Resistance); }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Voltage); }

  private:
    static constexpr std::string_view kSource = "voltage divider (Ohm, Kirchhoff)";
};

using Divider = DividerFormula<double>;

/// Errors: Range at wiring.fixed_ohm, wiring.source_V (above 0), wiring.lead_ohm, wiring.parallel_ohm (0 or above).
[[nodiscard]] Expected<Divider> divider(SensorSide side, double fixed_ohm, double source_V, DividerExtras extras = {});

/// The current through the sensor itself, not through a resistor across it.
template <class N>
[[nodiscard]] N dividerCurrent_A(const N& sensor_ohm, double fixed_ohm, const N& source_V, DividerExtras extras) {
    const N own_ohm = sensor_ohm + extras.lead_ohm;
    if (extras.parallel_ohm <= 0) return source_V / (own_ohm + fixed_ohm);
    return source_V * extras.parallel_ohm /
           (own_ohm * extras.parallel_ohm + fixed_ohm * (own_ohm + extras.parallel_ohm));
}

}  // namespace fg
