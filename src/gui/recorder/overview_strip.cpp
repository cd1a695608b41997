#include "recorder/overview_strip.h"

#include "paint/marks.h"
#include "recorder/time_text.h"
#include "theme/theme.h"

#include <algorithm>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {

OverviewStrip::OverviewStrip(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("recorder.overview"));
    setAccessibleName(tr("The whole recording"));
    setFixedHeight(px(30));
}

void OverviewStrip::setSpans(TimeSpan span, TimeSpan whole, const std::vector<TimeMark>& marks) {
    m_span = span;
    m_whole = whole;
    m_marks = marks;
    setFixedHeight(px(30));
    update();
}

QRectF OverviewStrip::bar() const {
    return {QPointF(px(112), px(4)), QPointF(std::max<double>(width() - px(64), px(122)), height() - px(6))};
}

void OverviewStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const QRectF box = bar();
    painter.setFont(Theme::instance().text(12));
    painter.setPen(colours().ink2);
    painter.drawText(QRectF(0, 0, box.left() - px(8), height()), Qt::AlignRight | Qt::AlignVCenter,
                     tr("whole recording"));
    painter.drawText(QRectF(box.right() + px(8), 0, px(56), height()), Qt::AlignLeft | Qt::AlignVCenter,
                     lengthText(m_whole));
    painter.fillRect(box, colours().field);
    paintFrame(painter, box, colours().rule);
    const auto xOf = [&](Micros time_us) {
        return box.left() + box.width() * static_cast<double>(time_us - m_whole.from_us) /
                                static_cast<double>(std::max<Micros>(1, m_whole.to_us - m_whole.from_us));
    };
    for (const TimeMark& mark : m_marks) {
        const double x = xOf(mark.span.from_us), end = xOf(mark.span.to_us);
        if (mark.kind == MarkKind::Gap)
            painter.fillRect(QRectF(x, box.top() + 1, std::max(1.0, end - x), box.height() - 1), colours().ground);
        else
            painter.fillRect(QRectF(x, box.top() + 3, 2, box.height() - 6), colours().ink2);
    }
    const QRectF shown(QPointF(xOf(m_span.from_us), box.top()), QPointF(xOf(m_span.to_us), box.bottom()));
    QColor wash = colours().brassWash;
    wash.setAlpha(120);
    painter.fillRect(shown, wash);
    paintFrame(painter, shown.width() < 3 ? shown.adjusted(-1, 0, 2, 0) : shown, colours().brass, 2);
}

void OverviewStrip::moveTo(double x) {
    const QRectF box = bar();
    const double part = std::clamp((x - box.left()) / box.width(), 0.0, 1.0);
    const Micros middle_us =
        m_whole.from_us + static_cast<Micros>(part * static_cast<double>(m_whole.to_us - m_whole.from_us));
    const Micros half_us = (m_span.to_us - m_span.from_us) / 2;
    emit spanWanted({middle_us - half_us, middle_us + half_us});
}

void OverviewStrip::mousePressEvent(QMouseEvent* event) { moveTo(event->position().x()); }
void OverviewStrip::mouseMoveEvent(QMouseEvent* event) { moveTo(event->position().x()); }

}  // namespace fg::gui
