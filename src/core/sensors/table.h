#pragma once

#include "numeric/formula_transfer.h"
#include "numeric/polyline.h"
#include "sensors/ntc_beta.h"
#include "sensors/parameters.h"
#include "units/error.h"

#include <memory>

namespace fg {

/// How a table is read between its points.
enum class Interpolation {
    Linear,     ///< straight between neighbours
    Thermistor  ///< ln R straight over 1/T, as a thermistor runs: within 0.12 °C between points 20 °C apart (tests)
};

struct TableFixed {
    // Shared, so that copies are cheap: a Transfer is copied into its bulk loop.
    std::shared_ptr<const Polyline> byX;  ///< transformed, over x
    std::shared_ptr<const Polyline> byY;  ///< the same pairs turned round, over y
    Interpolation interpolation = Interpolation::Linear;
    Symbol argument, result;
    Interval range;
    bool isRising = false;
};

/// A sensor given by a table of pairs (measurand, output), strictly monotonic in both columns after sorting.
///
/// Units: canonical, as everywhere. NaN outside the table: it does not extrapolate, because nothing is known there.
/// Source: the table's own document (manufacturer's R–T table, output table of a curved analog part, a maker's
/// measurement).
template <class N>
struct TableFormula {
    TableFixed fixed{};

    template <class Self, class Visit>
    static void each(Self&, Visit) {}  // nobody gives a tolerance of a single pair

    [[nodiscard]] N forward(const N& x) const {
        const auto [id, name, unit] = fixed.result;
        if (fixed.interpolation == Interpolation::Linear)
            return step(name, unit, kLinear, lookup(*fixed.byX, x, fixed.argument.unit, unit));
        const N y = step("y", "1/K", kThermistor, -1 / (x + constant<N>(kKelvinAt0degC, "K")));
        const N lnR = step("ln_R", "", kThermistor, lookup(*fixed.byX, y, "1/K", ""));
        return step(name, unit, kThermistor, exp(lnR));
    }
    [[nodiscard]] N inverse(const N& y) const {
        const auto [id, name, unit] = fixed.argument;
        if (fixed.interpolation == Interpolation::Linear)
            return step(name, unit, kLinear, lookup(*fixed.byY, y, fixed.result.unit, unit));
        const N lnR = step("ln_R", "", kThermistor, log(y));
        // A thermistor's table is kept as (−1/T, ln R): nearly a straight line, and still ascending with temperature.
        const N inverse_T = step("y", "1/K", kThermistor, lookup(*fixed.byY, lnR, "", "1/K"));
        return step(name, unit, kThermistor, -1 / inverse_T - constant<N>(kKelvinAt0degC, "K"));
    }

    [[nodiscard]] Interval range() const { return fixed.range; }
    [[nodiscard]] bool isRising() const { return fixed.isRising; }
    [[nodiscard]] std::string title() const { return "Table"; }
    [[nodiscard]] Symbol argument() const { return fixed.argument; }
    [[nodiscard]] Symbol result() const { return fixed.result; }

  private:
    static constexpr std::string_view kLinear = "table of the part, straight between two of its points",
                                      kThermistor = "table of the part, ln R straight over −1/T";
};

using Table = TableFormula<double>;

/// At least two points; errors name `field` and the pair that breaks the order. Thermistor needs temperatures above
/// absolute zero and resistances above 0 Ω.
[[nodiscard]] Expected<Table> tableThrough(std::vector<Point> points, Quantity measurand, Quantity output,
                                           Interpolation interpolation, const std::string& field);

}  // namespace fg
