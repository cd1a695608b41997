#pragma once

#include <memory>
#include "numeric/polyline.h"
#include "numeric/transfer.h"
#include "sensors/parameters.h"
#include "units/error.h"

namespace fg {

/// How a table is read between its points.
enum class Interpolation {
    Linear,     ///< straight between neighbours
    Thermistor  ///< ln R straight over 1/T, as a thermistor runs: within 0.12 °C between points 20 °C apart (tests)
};

/// A sensor given by a table of pairs (measurand, output), strictly monotonic in both columns after sorting.
///
/// Units: canonical, as everywhere. NaN outside the table: it does not extrapolate, because nothing is known there.
/// Source: the table's own document (manufacturer's R–T table, output table of a curved analog part, a maker's
/// measurement).
class Table {
  public:
    /// At least two points; errors name `field` and the pair that breaks the order. Thermistor needs temperatures above
    /// absolute zero and resistances above 0 Ω.
    [[nodiscard]] static Expected<Table> make(std::vector<Point> points, Quantity measurand, Quantity output,
                                              Interpolation interpolation, const std::string& field);

    [[nodiscard]] double forward(double measurand) const;
    [[nodiscard]] double inverse(double output) const;
    [[nodiscard]] Interval range() const { return m_range; }
    [[nodiscard]] bool isRising() const { return m_rising; }
    [[nodiscard]] std::string title() const { return "Table"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double output) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double measurand) const;

  private:
    Table() = default;
    [[nodiscard]] double toX(double measurand) const;
    [[nodiscard]] double fromX(double x) const;
    [[nodiscard]] double toY(double output) const;
    [[nodiscard]] double fromY(double y) const;

    // Shared, so that copies are cheap: a Transfer is copied into its bulk loop.
    std::shared_ptr<const Polyline> m_byX;  // transformed, over x
    std::shared_ptr<const Polyline> m_byY;  // the same pairs turned round, over y
    Interpolation m_interpolation = Interpolation::Linear;
    Quantity m_measurand = Quantity::Temperature;
    Quantity m_output = Quantity::Resistance;
    Interval m_range;
    bool m_rising = false;
};

}  // namespace fg
