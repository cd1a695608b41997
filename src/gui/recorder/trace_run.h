#pragma once

#include <cstdint>
#include <QColor>
#include <QPainter>
#include <vector>

namespace fg::gui {

/// A column of a trace as it is drawn, in the plot's coordinates.
struct PlotColumn {
    double x = 0, top = 0, bottom = 0;
    std::uint32_t count = 0;  ///< samples in it
};

/// Columns that are joined by a line.
using TraceRun = std::vector<PlotColumn>;

/// Paints a line through them: as an area where many samples stand side by side, else stroked. That of a difference is
/// thinner, and dashed where it is stroked.
void paintRun(QPainter& painter, const TraceRun& run, const QColor& colour, bool isDifference);

}  // namespace fg::gui
