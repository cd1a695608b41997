// What is drawn over the traces: markers, the cursor, the place it is compared with, the chosen stretch.

#include "paint/number_painter.h"
#include "recorder/time_text.h"
#include "recorder/trace_plot.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QPainter>

namespace fg::gui {

void TracePlot::paintMarks(QPainter& painter) const {
    const QRectF box = area();
    int letter = 0;
    double taken = box.left();
    for (const TimeMark& mark : m_marks) {
        const double x = xOf(mark.span.from_us), end = xOf(mark.span.to_us);
        if (mark.kind == MarkKind::Gap) {
            const QRectF away =
                QRectF(QPointF(x, box.top()), QPointF(std::max(end, x + 1), box.bottom())).intersected(box);
            painter.fillRect(away, colours().ground);
            continue;
        }
        if (mark.kind == MarkKind::Alarm) {
            const QRectF bar = QRectF(QPointF(x, box.top() + px(4)), QPointF(std::max(end, x + 2), box.top() + px(9)))
                                   .intersected(box);
            painter.fillRect(bar, colours().ink);
            continue;
        }
        const QChar name(QLatin1Char(static_cast<char>('A' + letter++ % 26)));
        if (x < box.left() || x > box.right()) continue;
        painter.setPen(QPen(colours().ink2, 1, Qt::DotLine));
        painter.drawLine(QPointF(x, box.top() - px(6)), QPointF(x, box.bottom()));
        const QRectF square(std::max(x - px(8), taken), box.top() - px(36), px(17), px(17));
        painter.fillRect(square, colours().ink);
        painter.setPen(colours().sheet);
        painter.setFont(Theme::instance().text(12, true));
        painter.drawText(square, Qt::AlignCenter, name);
        painter.setFont(Theme::instance().text(12));
        painter.setPen(colours().ink);
        const QFontMetricsF metrics(painter.font());
        const double room = std::min(px(120) * 1.0, width() - square.right() - px(10));
        const QString text = metrics.elidedText(qs(mark.text).simplified(), Qt::ElideRight, static_cast<int>(room));
        painter.drawText(QPointF(square.right() + px(5), square.bottom() - px(4)), text);
        taken = square.right() + px(9) + metrics.horizontalAdvance(text);
    }
}

void TracePlot::paintOther(QPainter& painter) const {
    const QRectF box = area();
    const double x = m_other ? xOf(*m_other) : -1;
    if (x < box.left() || x > box.right()) return;
    painter.setPen(QPen(colours().ink, 1.5, Qt::DashLine));
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    for (const SeenTrack& trace : m_traces) {
        const Axis* axis = axisOf(trace);
        if (!axis || !trace.atOther || std::isnan(trace.atOther->value)) continue;
        const double y = yOf(*axis, trace.atOther->value);
        painter.setBrush(colours().field);
        painter.setPen(QPen(colours().of(axis->quantity).line, 1.5));
        if (y >= box.top() && y <= box.bottom()) painter.drawEllipse(QPointF(x, y), px(4), px(4));
    }
    const QString text = clockText(*m_other);
    const NumberStyle style{.size = 12, .ink = colours().sheet};
    QRectF tag(0, 0, numberWidth(text, {}, style) + px(12), px(20));
    tag.moveCenter(QPointF(x, box.bottom() + px(13)));
    // The cursor's own tag is as wide: where both would overlap this one gives way.
    if (const double cursor = m_cursor ? xOf(*m_cursor) : -1e9; std::abs(cursor - x) < tag.width() + 2)
        tag.moveCenter(QPointF(cursor + (x < cursor ? -1 : 1) * (tag.width() + 2), box.bottom() + px(13)));
    painter.fillRect(tag, colours().ink);
    paintNumber(painter, QPointF(tag.left() + px(6), tag.bottom() - px(5)), text, {}, style);
}

void TracePlot::paintCursor(QPainter& painter) const {
    const QRectF box = area();
    if (m_selection) {
        QColor wash = colours().brassWash;
        wash.setAlpha(140);
        const QRectF chosen =
            QRectF(QPointF(xOf(m_selection->from_us), box.top()), QPointF(xOf(m_selection->to_us), box.bottom()));
        painter.fillRect(chosen.intersected(box), wash);
        painter.setPen(QPen(colours().brass, 1));
        for (const double x : {chosen.left(), chosen.right()})
            if (x >= box.left() && x <= box.right()) painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    }
    if (!m_cursor) return;
    const double x = xOf(*m_cursor);
    if (x < box.left() || x > box.right()) return;
    painter.setPen(QPen(colours().brass, 2));
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    for (const SeenTrack& trace : m_traces) {
        const Axis* axis = axisOf(trace);
        if (!axis || !trace.atCursor || std::isnan(trace.atCursor->value)) continue;
        painter.setBrush(colours().of(axis->quantity).line);
        painter.setPen(QPen(colours().field, 1.5));
        const double y = yOf(*axis, trace.atCursor->value);
        if (y >= box.top() && y <= box.bottom()) painter.drawEllipse(QPointF(x, y), px(4.5), px(4.5));
    }
    const QString text = clockText(*m_cursor);
    const NumberStyle style{.size = 12, .bold = true, .ink = colours().onBrass};
    QRectF tag(0, 0, numberWidth(text, {}, style) + px(12), px(20));
    tag.moveCenter(QPointF(x, box.bottom() + px(13)));
    painter.fillRect(tag, colours().brass);
    paintNumber(painter, QPointF(tag.left() + px(6), tag.bottom() - px(5)), text, {}, style);
}

}  // namespace fg::gui
