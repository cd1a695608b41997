#include "bench_page/round_view.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <algorithm>
#include <array>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kRoundRow = 26, kRoundHead = 24, kNames = 200, kTimes = 190;

constexpr double kBusTime = 74;

QString secondsText(double s) { return qs(engineering(s, Quantity::Time, 3).joined()); }

/// A round step that puts four to eight ticks on the axis.
double tickStep(double total) {
    double decade = 1e-6;
    while (decade * 10 < total / 4) decade *= 10;
    for (const double factor : std::array{1.0, 2.0, 5.0, 10.0})
        if (total / (decade * factor) <= 7) return decade * factor;
    return decade * 10;
}

}  // namespace

RoundView::RoundView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("bench.round"));
    setAccessibleName(tr("One round of readings"));
}

void RoundView::show(const PlanSchedule& schedule) {
    m_schedule = schedule;
    setFixedHeight(px(2 * kRoundHead + kRoundRow * static_cast<double>(schedule.rows.size()) + 6));
    update();
}

void RoundView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    painter.fillRect(rect(), p.sheet);
    if (m_schedule.rows.empty()) return;
    const double left = px(kNames), right = width() - px(kTimes), total = std::max(m_schedule.busy_s, 1e-6);
    const double bottom = px(kRoundHead) + px(kRoundRow) * static_cast<double>(m_schedule.rows.size());
    const auto x = [&](double t) { return left + (right - left) * t / total; };
    painter.fillRect(QRectF(left, px(kRoundHead), right - left, bottom - px(kRoundHead)), p.field);
    painter.setFont(Theme::instance().text(12));
    const double step = tickStep(total);
    for (double t = 0; t <= total * 1.0001; t += step) {
        painter.setPen(p.line);
        painter.drawLine(QPointF(x(t), px(kRoundHead)), QPointF(x(t), bottom));
        painter.setPen(p.ink2);
        painter.drawText(QRectF(x(t) - px(40), bottom + px(2), px(80), px(18)), Qt::AlignHCenter | Qt::AlignTop,
                         t == 0 ? QStringLiteral("0") : secondsText(t));
    }
    painter.setPen(p.ink2);
    painter.drawText(QRectF(right + px(6), 0, px(kTimes - 8), px(kRoundHead - 4)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("not sooner than"));
    painter.drawText(QRectF(right + px(6), 0, px(kBusTime), px(kRoundHead - 4)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("on its line"));
    painter.drawText(QRectF(left, 0, right - left, px(kRoundHead - 4)), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("filled: the processor talks to it; hatched: it converts by itself"));
    for (std::size_t i = 0; i < m_schedule.rows.size(); ++i) {
        const PlanRow& row = m_schedule.rows[i];
        const double top = px(kRoundHead) + px(kRoundRow) * static_cast<double>(i);
        paintRule(painter, 0, width(), top + px(kRoundRow) - 1, p.line);
        painter.setFont(Theme::instance().text(13));
        painter.setPen(p.ink);
        painter.drawText(QRectF(0, top, px(kNames - 8), px(kRoundRow)), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(qs(row.who), Qt::ElideRight, px(kNames - 8)));
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        if (row.segments.empty())
            painter.drawText(QRectF(left + px(6), top, right - left, px(kRoundRow)), Qt::AlignLeft | Qt::AlignVCenter,
                             tr("its converter's time is not stated"));
        for (const PlanSegment& segment : row.segments) {
            const QRectF bar(x(segment.from_s), top + px(6), std::max(2.0, x(segment.to_s) - x(segment.from_s)),
                             px(13));
            if (segment.kind == PlanSegment::Kind::Convert) {
                painter.fillRect(bar, QBrush(p.ink2, Qt::BDiagPattern));
                paintFrame(painter, bar, p.rule);
            } else {
                painter.fillRect(bar, p.ink);
            }
        }
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        painter.drawText(QRectF(right + px(6), top, px(kBusTime), px(kRoundRow)), Qt::AlignRight | Qt::AlignVCenter,
                         row.bus_s > 0 ? secondsText(row.bus_s) : QStringLiteral("–"));
        painter.drawText(QRectF(right + px(6), top, px(kTimes - 8), px(kRoundRow)), Qt::AlignRight | Qt::AlignVCenter,
                         row.least_s > 0 ? secondsText(row.least_s) : QStringLiteral("–"));
    }
}

}  // namespace fg::gui
