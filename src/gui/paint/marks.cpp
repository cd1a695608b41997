#include "paint/marks.h"

#include "theme/theme.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <QPolygonF>

namespace fg::gui {

QString severityWord(Severity severity) {
    switch (severity) {
        case Severity::Fault:
            return QStringLiteral("Fault");
        case Severity::Doubt:
            return QStringLiteral("Doubt");
        case Severity::Hint:
            return QStringLiteral("Hint");
        case Severity::Care:
            return QStringLiteral("Care");
    }
    return {};
}

void paintSeverity(QPainter& painter, Severity severity, const QRectF& box) {
    const Palette& p = colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF c = box.center();
    const double r = box.width() / 2;
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.ink);
    switch (severity) {
        case Severity::Fault:
            painter.drawRect(box);
            painter.setBrush(p.sheet);
            painter.drawRect(QRectF(c.x() - 0.6 * r, c.y() - 0.18 * r, 1.2 * r, 0.36 * r));
            break;
        case Severity::Doubt:
            painter.drawPolygon(
                QPolygonF({{c.x(), box.top()}, {box.right(), box.bottom()}, {box.left(), box.bottom()}}));
            painter.setBrush(p.sheet);
            painter.drawRect(QRectF(c.x() - 0.11 * r, c.y() - 0.30 * r, 0.22 * r, 0.68 * r));
            painter.drawRect(QRectF(c.x() - 0.11 * r, c.y() + 0.55 * r, 0.22 * r, 0.22 * r));
            break;
        case Severity::Hint:
            painter.setPen(QPen(p.ink, std::max(1.3, r / 5)));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolygon(QPolygonF({{c.x(), box.top() + 0.5},
                                           {box.right() - 0.5, c.y()},
                                           {c.x(), box.bottom() - 0.5},
                                           {box.left() + 0.5, c.y()}}));
            break;
        case Severity::Care: {
            QPolygonF hexagon;
            for (int i = 0; i < 6; ++i)
                hexagon << c + (r - 0.5) *
                                   QPointF(std::cos(i * std::numbers::pi / 3), std::sin(i * std::numbers::pi / 3));
            painter.setPen(QPen(p.ink, std::max(1.3, r / 5)));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolygon(hexagon);
            painter.drawLine(QPointF(c.x() - 0.4 * r, c.y()), QPointF(c.x() + 0.4 * r, c.y()));
            break;
        }
    }
    painter.restore();
}

void paintGaugeMark(QPainter& painter, const QRectF& box, const QColor& colour, std::optional<double> position,
                    bool hollow) {
    painter.save();
    painter.setPen(QPen(colour, 1));
    const double x = std::floor(box.left()) + 0.5;
    constexpr int kTicks = 11;
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    for (int i = 0; i < kTicks; ++i) {
        const double y = std::floor(box.bottom() - i * box.height() / (kTicks - 1)) + 0.5;
        const bool major = i % 5 == 0;
        painter.drawLine(QPointF(x, y), QPointF(x + (major ? 0.62 : 0.35) * box.width(), y));
    }
    if (position) {
        const double y = box.bottom() - std::clamp(*position, 0.0, 1.0) * box.height();
        const double size = 0.62 * box.width();
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(hollow ? QBrush(Qt::NoBrush) : QBrush(colour));
        painter.drawPolygon(QPolygonF({{x + 0.42 * box.width(), y},
                                       {x + 0.42 * box.width() + size, y - 0.62 * size},
                                       {x + 0.42 * box.width() + size, y + 0.62 * size}}));
    }
    painter.restore();
}

void paintFrame(QPainter& painter, const QRectF& box, const QColor& colour, double width) {
    painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    painter.setBrush(Qt::NoBrush);
    const double half = width / 2;
    painter.drawRect(box.adjusted(half, half, -half, -half));
}

void paintRule(QPainter& painter, double x1, double x2, double y, const QColor& colour) {
    painter.setPen(QPen(colour, 1));
    painter.drawLine(QPointF(x1, std::floor(y) + 0.5), QPointF(x2, std::floor(y) + 0.5));
}

}  // namespace fg::gui
