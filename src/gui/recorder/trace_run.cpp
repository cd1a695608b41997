#include "recorder/trace_run.h"

#include <algorithm>
#include <QPainterPath>
#include <QPolygonF>

namespace fg::gui {
namespace {

/// A line through so many columns that they stand side by side is filled as an area: to stroke its noise would take a
/// hundred times as long.
QPolygonF bandOf(std::vector<PlotColumn> run, double half) {
    for (std::size_t i = 1; i < run.size(); ++i) {
        // A step is joined: both columns reach to the middle of it.
        PlotColumn &before = run[i - 1], &here = run[i];
        if (here.top > before.bottom) here.top = before.bottom = (here.top + before.bottom) / 2;
        if (here.bottom < before.top) here.bottom = before.top = (here.bottom + before.top) / 2;
    }
    QPolygonF band;
    band.reserve(static_cast<qsizetype>(2 * run.size() + 4));
    for (const PlotColumn& one : run) band << QPointF(one.x, one.top - half);
    band << QPointF(run.back().x + half, run.back().top - half)
         << QPointF(run.back().x + half, run.back().bottom + half);
    for (auto it = run.rbegin(); it != run.rend(); ++it) band << QPointF(it->x, it->bottom + half);
    band << QPointF(run.front().x - half, run.front().bottom + half)
         << QPointF(run.front().x - half, run.front().top - half);
    return band;
}

QPainterPath strokeOf(const std::vector<PlotColumn>& run) {
    QPainterPath path;
    for (std::size_t i = 0; i < run.size(); ++i) {
        const PlotColumn& one = run[i];
        if (i == 0)
            path.moveTo(one.x, one.top);
        else
            path.lineTo(one.x, one.top);
        path.lineTo(one.x, one.bottom - one.top < 0.5 ? one.top + 0.01 : one.bottom);
    }
    return path;
}

}  // namespace

void paintRun(QPainter& painter, const TraceRun& run, const QColor& colour, bool isDifference) {
    constexpr double kSideBySide = 1.5, kMany = 2.5, kNoisy = 5, kDense = 8;
    const double width = isDifference ? 1.2 : 1.6, size = static_cast<double>(run.size());
    double height = 0, samples = 0;
    for (const PlotColumn& one : run) {
        height += one.bottom - one.top;
        samples += one.count;
    }
    const double apart = run.size() > 1 ? (run.back().x - run.front().x) / (size - 1) : kSideBySide + 1;
    if (apart <= kSideBySide && samples > kMany * size) {
        QColor ink = colour;
        if (isDifference) ink.setAlphaF(0.6F);
        painter.setPen(Qt::NoPen);
        painter.setBrush(ink);
        // Noise has no edge that could be smooth.
        painter.setRenderHint(QPainter::Antialiasing, height < kNoisy * size || samples < kDense * size);
        painter.drawPolygon(bandOf(run, width / 2), Qt::WindingFill);
        painter.setRenderHint(QPainter::Antialiasing, true);
        return;
    }
    painter.setPen(QPen(colour, width, isDifference ? Qt::DashLine : Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(strokeOf(run));
}

}  // namespace fg::gui
