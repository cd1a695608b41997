#include "recorder/cursor_panel.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "paint/text_painter.h"
#include "recorder/limit_text.h"
#include "recorder/time_text.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <cmath>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr int kHead = 30, kRow = 58;

ReadingText textOf(const SeenTrack& trace) {
    return recordedText(trace, trace.atCursor.value_or(Reading{std::nan("")}), trace.expanded);
}

}  // namespace

CursorPanel::CursorPanel(RecordingDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
    setObjectName(QStringLiteral("recorder.cursor"));
    refresh();
}

void CursorPanel::refresh() {
    setFixedHeight(px(kHead) + px(kRow) * std::max(1, static_cast<int>(m_desk.seen().size())));
    setAccessibleName(summary());
    update();
}

QString CursorPanel::summary() const {
    QStringList all;
    for (const SeenTrack& trace : m_desk.seen())
        all << QStringLiteral("%1: %2").arg(qs(trace.spec.name), qs(textOf(trace).joined()));
    return all.join(QStringLiteral("; "));
}

QString CursorPanel::changeOf(const SeenTrack& trace) const {
    if (trace.sinceOther) {
        const Unit& unit = trace.spec.readingUnit();
        const double difference = unit.differenceFromCanonical(trace.sinceOther->difference);
        const double scatter = trace.statistics ? unit.differenceFromCanonical(trace.statistics->series.scatter) : 0;
        return tr("%1 %2, %3 per h")
            .arg(qs(signedDigits(difference, scatter > 0 ? decimalsFor(scatter) : 2)), qs(unit.symbol),
                 qs(significantDigits(unit.differenceFromCanonical(trace.sinceOther->perHour()), 2)));
    }
    if (trace.fromBeside) {
        // What the board says, against what the gauge itself reads.
        const auto size = m_desk.selection() ? trace.fromBeside->mean : trace.fromBeside->atCursor;
        const Unit& unit = trace.spec.readingUnit();
        if (size)
            return (m_desk.selection() ? tr("on average %1 %2 from %3") : tr("%1 %2 from %3"))
                .arg(qs(signedDigits(unit.differenceFromCanonical(*size), 2)), qs(unit.symbol),
                     qs(trace.fromBeside->name));
    }
    if (!m_desk.selection() || !trace.statistics) return {};
    const Unit& unit = trace.spec.readingUnit();
    const double change = trace.statistics->changeOver(m_desk.selection()->seconds());
    return tr("over the selection %1 %2")
        .arg(qs(signedDigits(unit.differenceFromCanonical(change),
                             decimalsFor(unit.differenceFromCanonical(trace.statistics->series.scatter)))),
             qs(unit.symbol));
}

void CursorPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    painter.fillRect(rect(), p.sheet);
    painter.setFont(Theme::instance().caption());
    painter.setPen(p.ink2);
    const bool isBetween = m_desk.cursor() && m_desk.other();
    const QString title = isBetween         ? tr("Cursor, since %1").arg(clockText(*m_desk.other()))
                          : m_desk.other()  ? tr("Set the cursor too")
                          : m_desk.cursor() ? tr("Cursor")
                                            : tr("At the end");
    const Micros at_us = m_desk.cursor().value_or(m_desk.span().to_us);
    const QString clock = m_desk.recording() ? clockText(at_us) : QString();
    const double room = width() - px(36) - numberWidth(clock, {}, {.size = 14});
    const bool isShort = isBetween && textWidth(painter.font(), title) > room;
    paintText(painter, QPointF(px(14), px(20)), isShort ? tr("Since %1").arg(clockText(*m_desk.other())) : title);
    paintNumberRight(painter, QPointF(width() - px(14), px(21)), clock, {}, {.size = 14});
    double top = px(kHead);
    if (m_desk.seen().empty()) {
        painter.setFont(Theme::instance().text(13));
        painter.setPen(p.ink2);
        painter.drawText(QRectF(px(14), top, width() - px(28), px(kRow)), Qt::AlignLeft | Qt::TextWordWrap,
                         m_desk.recording() ? tr("Choose a gauge above the plot.") : tr("Nothing is recorded yet."));
    }
    for (const SeenTrack& trace : m_desk.seen()) {
        paintRule(painter, 0, width(), top, p.line);
        painter.fillRect(QRectF(0, top, px(4), px(kRow)), p.of(trace.spec.quantity).line);
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        // What changed is read whole; the name has what is left.
        const QString change = changeOf(trace);
        const double nameRoom = width() - px(36) - textWidth(painter.font(), change);
        paintText(painter, QPointF(px(14), top + px(18)), fittedText(painter.font(), qs(trace.spec.name), nameRoom));
        paintText(painter, QRectF(0, top, width() - px(14), px(26)), Qt::AlignRight | Qt::AlignVCenter, change);
        const ReadingText text = textOf(trace);
        const QString digits = trace.problem ? QStringLiteral("–") : qs(text.sign + text.value.digits);
        paintNumber(painter, QPointF(px(14), top + px(46)), digits, qs(text.value.unit), {.size = 26, .bold = true});
        if (!text.uncertainty.empty() && trace.atCursor && trace.atCursor->clip == Clip::None)
            paintNumberRight(painter, QPointF(width() - px(14), top + px(44)),
                             QStringLiteral("± ") + qs(text.uncertainty), qs(text.value.unit),
                             {.size = 14, .ink = p.ink2});
        top += px(kRow);
    }
}

}  // namespace fg::gui
