#include "rack/gauge_tile.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "paint/text_painter.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {

GaugeTile::GaugeTile(Workbench& workbench, std::int64_t id, int number, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_id(id), m_number(number) {
    setObjectName(QStringLiteral("rack.gauge.%1").arg(number));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(px(86));
    setAttribute(Qt::WA_OpaquePaintEvent);  // it paints all of itself: nothing behind it has to be
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

const GaugeView* GaugeTile::view() const {
    const auto& views = m_workbench.views();
    const auto it = std::find_if(views.begin(), views.end(), [&](const GaugeView& view) { return view.id() == m_id; });
    return it == views.end() ? nullptr : &*it;
}

bool GaugeTile::isChosen() const {
    return m_isGaugeShown && m_workbench.current() && m_workbench.current()->id() == m_id;
}

void GaugeTile::setGaugeShown(bool isShown) {
    m_isGaugeShown = isShown;
    refresh();
}

void GaugeTile::refresh() {
    const GaugeView* gauge = view();
    if (!gauge) return update();
    const QString spoken = tr("%1: %2").arg(qs(gauge->spec().name), qs(gauge->textAt(Stage::Reading).joined()));
    const Evaluation* evaluation = gauge->evaluation();
    const LiveAlarms::State alarm = m_workbench.alarms().stateOf(m_id);
    const QString frame = QStringLiteral("%1|%2|%3|%4|%5|%6")
                              .arg(qs(gauge->spec().name))
                              .arg(static_cast<int>(gauge->origin()))
                              .arg(gauge->isStale() ? std::floor(gauge->age_s()) : -1)
                              .arg(isChosen())
                              .arg(evaluation ? static_cast<int>(evaluation->at(Stage::Reading).clip) : -1)
                              .arg(gauge->problem().has_value() ? 1 : (alarm.isOn ? 2 : 0));
    const bool isOther = m_shown.changesTo(frame), isNumber = m_shownNumber.changesTo(spoken),
               isState = m_shownState.changesTo(qs(gauge->textAt(Stage::Reading).uncertainty) + QLatin1Char('|') +
                                                alarm.text + QString::number(alarm.isHeld)),
               isMark =
                   m_shownMark.changesTo(QString::number(std::round(gauge->positionInSpan().value_or(-1) * height())));
    if (isNumber) setAccessibleName(spoken);
    if (isOther) return update();
    // While it is live only what moves is painted again.
    if (isNumber) update(numberArea());
    if (isState) update(stateArea());
    if (isMark) update(markArea());
}

QRect GaugeTile::markArea() const { return {px(4), 0, px(28), height() - 1}; }
QRect GaugeTile::numberArea() const { return {px(32), px(24), width() - px(32), px(34)}; }
QRect GaugeTile::stateArea() const { return {px(32), px(58), width() - px(32), px(20)}; }

void GaugeTile::paintState(QPainter& painter, const GaugeView& gauge) const {
    const Palette& p = colours();
    const ReadingText text = gauge.textAt(Stage::Reading);
    const double x = px(36), y = px(70);
    const auto marked = [&](Severity severity, const QString& words) {
        paintSeverity(painter, severity, QRectF(x, y - px(10), px(12), px(12)));
        painter.setFont(Theme::instance().text(12, true));
        painter.setPen(p.ink);
        paintText(painter, QPointF(x + px(18), y), words);
    };
    if (gauge.problem()) return marked(Severity::Fault, tr("Not complete"));
    if (!gauge.evaluation()) return marked(Severity::Fault, tr("No value"));
    const Clip clip = gauge.evaluation()->at(Stage::Reading).clip;
    if (clip != Clip::None)
        return marked(Severity::Fault, clip == Clip::AtLeast ? tr("At least: clipped") : tr("At most: clipped"));
    if (std::isnan(gauge.evaluation()->reading())) return marked(Severity::Fault, tr("No value"));
    if (gauge.isStale()) return marked(Severity::Doubt, tr("Stale: %1 s old").arg(std::floor(gauge.age_s())));
    if (const LiveAlarms::State alarm = m_workbench.alarms().stateOf(m_id); alarm.isOn) {
        // Its mark says alarm where there is no room for the word.
        const QString words = alarm.isHeld ? tr("Alarm was on") : tr("Alarm: %1").arg(alarm.text);
        const bool fits = textWidth(Theme::instance().text(12, true), words) <= width() - x - px(18);
        return marked(Severity::Doubt, fits || alarm.isHeld ? words : alarm.text);
    }
    if (gauge.origin() == Origin::Tried) {
        painter.setFont(Theme::instance().text(12, true));
        painter.setPen(p.ink);
        paintText(painter, QPointF(x, y), tr("tried value"));
        return;
    }
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    if (gauge.origin() == Origin::Example)
        paintText(painter, QPointF(x, y), tr("no live value"));
    else if (!text.uncertainty.empty())
        paintText(painter, QPointF(x, y), QStringLiteral("± %1 %2").arg(qs(text.uncertainty), qs(text.value.unit)));
}

void GaugeTile::paintName(QPainter& painter, const GaugeView& gauge, bool isChosen) const {
    const Palette& p = colours();
    painter.setFont(Theme::instance().text(13, isChosen));
    painter.setPen(p.ink);
    const QString name = fittedText(painter.font(), qs(gauge.spec().name), width() - px(36) - px(26));
    paintText(painter, QPointF(px(36), px(20)), name);
    if (m_number > 9) return;
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink3);
    paintText(painter, QRectF(0, px(8), width() - px(8), px(16)), Qt::AlignRight | Qt::AlignVCenter,
              QString::number(m_number));
}

void GaugeTile::paintReading(QPainter& painter, const GaugeView& gauge) const {
    const Palette& p = colours();
    const bool isExample = gauge.origin() == Origin::Example;
    const ReadingText text = gauge.textAt(Stage::Reading);
    const QString unit = qs(text.value.unit);
    const QString digits = isExample ? QStringLiteral("–") : qs(text.sign + text.value.digits);
    NumberStyle style;
    style.size = 26;
    style.unitSize = 13;
    style.ink = gauge.isStale() || isExample ? p.ink3 : p.ink;
    while (style.size > 15 && numberWidth(digits, unit, style) > width() - px(42)) style.size -= 1;
    paintNumber(painter, QPointF(px(36), px(49)), digits, unit, style);
}

void GaugeTile::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    const Palette& p = colours();
    const GaugeView* gauge = view();
    if (!gauge) return;
    const QRegion& region = event->region();
    const bool chosen = isChosen();
    for (const QRect& piece : region) painter.fillRect(piece, chosen ? p.sheet : p.rack);
    if (chosen) painter.fillRect(QRect(0, 0, px(4), height()), p.brass);
    paintRule(painter, 0, width(), height() - 1, p.rule);
    const bool isExample = gauge->origin() == Origin::Example;
    const auto position = isExample ? std::nullopt : gauge->positionInSpan();
    if (region.intersects(markArea()))
        paintGaugeMark(painter, QRectF(px(13), px(11), px(14), height() - px(24)), p.of(gauge->spec().quantity).line,
                       position, gauge->isStale());
    if (region.intersects(QRect(px(32), 0, width(), px(24)))) paintName(painter, *gauge, chosen);
    if (region.intersects(numberArea())) paintReading(painter, *gauge);
    if (region.intersects(stateArea())) paintState(painter, *gauge);
    if (hasFocus()) {
        painter.setPen(QPen(p.ink, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(rect()).adjusted(6.5, 3.5, -3.5, -4.5));
    }
}

void GaugeTile::mousePressEvent(QMouseEvent*) { choose(); }

void GaugeTile::choose() {
    m_workbench.selectGauge(m_id);
    emit chosen();
}

void GaugeTile::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Space || event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return choose();
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
