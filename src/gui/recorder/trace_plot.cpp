#include "recorder/trace_plot.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "recorder/limit_text.h"
#include "recorder/time_text.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

namespace fg::gui {
namespace {

constexpr double kAxisWidth = 52, kRail = 44, kFoot = 26;
constexpr std::size_t kLeftAxes = 2;
constexpr int kMostSteps = 60;  // of a name that looks for a place

/// Text on a plate of the field, so that a line behind it does not disturb.
void paintPlate(QPainter& painter, const QPointF& at, const QStringList& lines, const QRectF& within, bool isFramed) {
    const QFontMetricsF metrics(painter.font());
    double width = 0;
    for (const QString& line : lines) width = std::max(width, metrics.horizontalAdvance(line));
    QRectF box(at, QSizeF(width + px(12), metrics.height() * static_cast<double>(lines.size()) + px(6)));
    box.moveLeft(
        std::clamp(box.left(), within.left() + 2, std::max(within.left() + 2, within.right() - box.width() - 2)));
    box.moveTop(
        std::clamp(box.top(), within.top() + 2, std::max(within.top() + 2, within.bottom() - box.height() - 2)));
    painter.fillRect(box, colours().field);
    if (isFramed) paintFrame(painter, box, colours().rule);
    painter.setPen(colours().ink);
    for (qsizetype i = 0; i < lines.size(); ++i)
        painter.drawText(QPointF(box.left() + px(6),
                                 box.top() + px(3) + metrics.ascent() + metrics.height() * static_cast<double>(i)),
                         lines[i]);
}

}  // namespace

TracePlot::TracePlot(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("recorder.plot"));
    setAccessibleName(tr("Traces over time"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(false);
    QWidget::setCursor(Qt::CrossCursor);
    connect(&Theme::instance(), &Theme::changed, this, [this] { update(); });
}

QSize TracePlot::minimumSizeHint() const { return {px(420), px(220)}; }

QRectF TracePlot::area() const {
    const std::size_t left = std::min(m_axes.size(), kLeftAxes), right = m_axes.size() - left;
    const double x = px(8) + px(kAxisWidth) * static_cast<double>(std::max<std::size_t>(left, 1));
    const double end = width() - px(kAxisWidth) * static_cast<double>(std::max<std::size_t>(right, 0)) - px(14);
    return {QPointF(x, px(kRail)),
            QPointF(std::max(end, x + 10), std::max<double>(height() - px(kFoot), px(kRail) + 10))};
}

std::size_t TracePlot::columns() const { return static_cast<std::size_t>(std::clamp(area().width(), 50.0, 4000.0)); }

double TracePlot::xOf(Micros time_us) const {
    const QRectF box = area();
    return box.left() + box.width() * static_cast<double>(time_us - m_span.from_us) /
                            static_cast<double>(m_span.to_us - m_span.from_us);
}

Micros TracePlot::timeAt(double x) const {
    const QRectF box = area();
    const double part = (x - box.left()) / box.width();
    return m_span.from_us + static_cast<Micros>(part * static_cast<double>(m_span.to_us - m_span.from_us));
}

double TracePlot::yOf(const Axis& axis, double canonical) const { return yOfShown(axis, axis.shown(canonical)); }

double TracePlot::yOfShown(const Axis& axis, double shown) const { return axis.placeIn(area(), shown); }

double TracePlot::Axis::placeIn(const QRectF& box, double shown) const {
    // Far outside it is cut off anyway; a painter does not like endless numbers.
    return box.bottom() - box.height() * std::clamp((shown - low) / (high - low), -10.0, 11.0);
}

void TracePlot::setTraces(const std::vector<SeenTrack>& traces, TimeSpan span) {
    m_traces = traces;
    m_seen = span;
    findAxes();
    update();
}

void TracePlot::setMarks(const std::vector<TimeMark>& marks) {
    m_marks = marks;
    update();
}

void TracePlot::setSpan(TimeSpan span, TimeSpan whole) {
    m_span = span;
    m_whole = whole;
    update();
}

void TracePlot::setCursor(std::optional<Micros> cursor, std::optional<Micros> other) {
    m_cursor = cursor;
    m_other = other;
    update();
}

void TracePlot::setSelection(std::optional<TimeSpan> selection) {
    m_selection = selection;
    update();
}

TracePlot::Axis& TracePlot::axisFor(const Unit& unit, Quantity quantity, bool isDifference) {
    const auto axis = std::find_if(m_axes.begin(), m_axes.end(), [&](const Axis& one) {
        return one.unit == &unit && one.isDifference == isDifference;
    });
    if (axis != m_axes.end()) return *axis;
    return m_axes.emplace_back(Axis{&unit, quantity, isDifference, {}, std::nan(""), std::nan("")});
}

void TracePlot::widenFor(Axis& axis, const TrackView& view) {
    for (const ViewColumn& column : view.columns) {
        if (!column.hasValue() || column.isAtLeast || column.isAtMost) continue;
        for (const double value : {axis.shown(column.least), axis.shown(column.most)}) {
            if (!(axis.low <= value)) axis.low = value;
            if (!(axis.high >= value)) axis.high = value;
        }
    }
}

std::vector<TracePlot::Line> TracePlot::lines() const {
    std::vector<Line> all;
    for (const SeenTrack& trace : m_traces) all.push_back({qs(trace.spec.name), &trace.view, axisOf(trace)});
    for (const SeenTrack& trace : m_traces)
        if (trace.fromBeside && !trace.fromBeside->view.columns.empty())
            all.push_back({tr("%1 less %2").arg(qs(trace.spec.name), qs(trace.fromBeside->name)),
                           &trace.fromBeside->view, axisOf(trace, true)});
    return all;
}

void TracePlot::findAxes() {
    m_axes.clear();
    for (const SeenTrack& trace : m_traces)
        widenFor(axisFor(trace.spec.readingUnit(), trace.spec.quantity, false), trace.view);
    for (const SeenTrack& trace : m_traces)
        if (trace.fromBeside && !trace.fromBeside->view.columns.empty()) {
            Axis& axis = axisFor(trace.spec.readingUnit(), trace.spec.quantity, true);
            widenFor(axis, trace.fromBeside->view);
            // Nought is what it is seen against.
            axis.low = std::min(axis.low, 0.0);
            axis.high = std::max(axis.high, 0.0);
        }
    // A limit near what was read is shown; an open lead that "reads" −78 °C does not squeeze everything else.
    for (const SeenTrack& trace : m_traces)
        for (const Stretch& one : trace.stretches) widenFor(trace, one);
    constexpr int kAbout = 6;
    for (Axis& axis : m_axes) {
        if (!(axis.low <= axis.high)) {
            axis.low = 0;
            axis.high = 1;
        }
        const double margin = std::max(0.04 * (axis.high - axis.low), 1e-6 * std::max(1.0, std::abs(axis.high)));
        // What was never below nought needs no scale below it.
        const double low = axis.low >= 0 ? std::max(0.0, axis.low - margin) : axis.low - margin;
        axis.ticks = ticksOver(low, axis.high + margin, kAbout);
        axis.low = axis.ticks.values.front();
        axis.high = axis.ticks.values.back();
    }
}

void TracePlot::widenFor(const SeenTrack& trace, const Stretch& stretch) {
    if (stretch.kind != Stretch::Kind::AtLeast && stretch.kind != Stretch::Kind::AtMost) return;
    Axis& axis = axisFor(trace.spec.readingUnit(), trace.spec.quantity, false);
    const double limit = axis.shown(stretch.limit);
    constexpr double kNear = 0.3;
    const double room = kNear * (axis.high - axis.low);
    if (std::isnan(axis.low)) axis.low = axis.high = limit;
    if (limit > axis.high && limit < axis.high + room) axis.high = limit;
    if (limit < axis.low && limit > axis.low - room) axis.low = limit;
}

const TracePlot::Axis* TracePlot::axisOf(const SeenTrack& trace, bool isDifference) const {
    const auto it = std::find_if(m_axes.begin(), m_axes.end(), [&](const Axis& one) {
        return one.unit == &trace.spec.readingUnit() && one.isDifference == isDifference;
    });
    return it == m_axes.end() ? nullptr : &*it;
}

void TracePlot::paintTimes(QPainter& painter) const {
    const QRectF box = area();
    const int most = std::max(2, static_cast<int>(box.width() / px(86)));
    const Micros step_us = timeStepOver(m_span.to_us - m_span.from_us, most);
    for (Micros at_us = firstTick(m_span.from_us, step_us); at_us <= m_span.to_us; at_us += step_us) {
        const double x = std::round(xOf(at_us)) + 0.5;
        painter.setPen(colours().line);
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
        const QString text = tickText(at_us, step_us);
        const NumberStyle style{.size = 12, .ink = colours().ink2};
        const double half = numberWidth(text, {}, style) / 2;
        if (x - half > 0 && x + half < width())
            paintNumber(painter, QPointF(x - half, box.bottom() + px(18)), text, {}, style);
    }
}

void TracePlot::paintAxes(QPainter& painter) const {
    const QRectF box = area();
    painter.setFont(Theme::instance().digits(12));
    const QFontMetricsF metrics(painter.font());
    for (std::size_t i = 0; i < m_axes.size(); ++i) {
        const Axis& axis = m_axes[i];
        const bool isLeft = i < kLeftAxes;
        const double out = px(kAxisWidth) * static_cast<double>(isLeft ? i : i - kLeftAxes);
        const double x = isLeft ? box.left() - out : box.right() + out;
        const QColor colour = colours().of(axis.quantity).line;
        for (const double value : axis.ticks.values) {
            const double y = yOfShown(axis, value);
            if (i == 0) {
                painter.setPen(colours().line);
                painter.drawLine(QPointF(box.left(), std::round(y) + 0.5), QPointF(box.right(), std::round(y) + 0.5));
            }
            const QString text = qs(fixedDigits(value, axis.ticks.decimals));
            const NumberStyle style{.size = 12, .ink = colour};
            const double base = y + metrics.capHeight() / 2;
            if (isLeft)
                paintNumberRight(painter, QPointF(x - px(7), base), text, {}, style);
            else
                paintNumber(painter, QPointF(x + px(7), base), text, {}, style);
        }
        painter.setPen(QPen(colour, 2));
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
        painter.setFont(Theme::instance().text(12, true));
        const QString unit = axis.isDifference ? tr("Δ %1").arg(qs(axis.unit->symbol)) : qs(axis.unit->symbol);
        const double width = QFontMetricsF(painter.font()).horizontalAdvance(unit);
        painter.drawText(QPointF(isLeft ? x - width - px(4) : x + px(4), box.top() - px(8)), unit);
        painter.setFont(Theme::instance().digits(12));
    }
}

std::vector<TraceRun> TracePlot::runsOf(const Line& line) const {
    const Axis& axis = *line.axis;
    const TrackView& view = *line.view;
    const std::size_t count = view.columns.size();
    const QRectF box = area();
    const double seen_us = static_cast<double>(m_seen.to_us - m_seen.from_us);
    const double perUs = box.width() / static_cast<double>(m_span.to_us - m_span.from_us);
    const double left = box.left() + perUs * static_cast<double>(m_seen.from_us - m_span.from_us);
    std::vector<TraceRun> runs;
    bool isOpen = false;
    std::size_t gap = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const ViewColumn& column = view.columns[i];
        if (column.count == 0) continue;
        const double since_us = seen_us * (static_cast<double>(i) + 0.5) / static_cast<double>(count);
        // A gap behind the last column that was drawn: the line is not joined over it.
        const Micros time_us = m_seen.from_us + static_cast<Micros>(since_us);
        for (; gap < view.gaps.size() && view.gaps[gap].to_us <= time_us; ++gap) isOpen = false;
        const double least = axis.shown(column.least), most = axis.shown(column.most);
        const double limit = column.isAtLeast ? most : least;
        const bool isBeyond = (column.isAtLeast || column.isAtMost) && (limit < axis.low || limit > axis.high);
        if (!column.hasValue() || isBeyond) {
            isOpen = false;
            continue;
        }
        if (!isOpen) runs.emplace_back();
        runs.back().push_back(
            {left + perUs * since_us, axis.placeIn(box, most), axis.placeIn(box, least), column.count});
        isOpen = true;
    }
    return runs;
}

void TracePlot::paintLine(QPainter& painter, const Line& line) const {
    const Axis* axis = line.axis;
    if (!axis || line.view->columns.empty()) return;
    const QColor colour = colours().of(axis->quantity).line;
    if (axis->isDifference) {
        const double nought = yOfShown(*axis, 0);
        painter.setPen(QPen(colour, 1, Qt::DotLine));
        painter.drawLine(QPointF(area().left(), nought), QPointF(area().right(), nought));
    }
    for (const TraceRun& run : runsOf(line)) paintRun(painter, run, colour, axis->isDifference);
}

void TracePlot::paintStretches(QPainter& painter, const SeenTrack& trace) const {
    const Axis* axis = axisOf(trace);
    if (!axis) return;
    const QRectF box = area();
    const QColor colour = colours().of(axis->quantity).line;
    for (const Stretch& one : trace.stretches) {
        const double left = std::max(box.left(), xOf(one.span.from_us)),
                     right = std::min(box.right(), xOf(one.span.to_us));
        if (right < box.left() || left > box.right()) continue;
        const bool isUp = one.kind == Stretch::Kind::AtLeast;
        if (!isUp && one.kind != Stretch::Kind::AtMost) {
            painter.fillRect(QRectF(left, box.top(), std::max(1.0, right - left), box.height()), colours().ground);
            continue;
        }
        const double y = std::clamp(yOf(*axis, one.limit), box.top(), box.bottom());
        const QRectF beyond(QPointF(left, isUp ? box.top() : y),
                            QPointF(std::max(right, left + 1), isUp ? y : box.bottom()));
        QColor hatch = colour;
        hatch.setAlpha(150);
        // Where the limit itself lies off the scale, all of the time is hatched.
        painter.fillRect(beyond.height() < 2 ? QRectF(left, box.top(), beyond.width(), box.height()) : beyond,
                         QBrush(hatch, Qt::BDiagPattern));
        painter.setPen(QPen(colour, 1.6, Qt::DashLine));
        painter.drawLine(QPointF(left, y), QPointF(right, y));
    }
}

void TracePlot::paintPlates(QPainter& painter, const SeenTrack& trace) const {
    const Axis* axis = axisOf(trace);
    if (!axis) return;
    const QRectF box = area();
    painter.setFont(Theme::instance().text(12));
    for (const Stretch& one : trace.stretches) {
        const double left = std::max(box.left(), xOf(one.span.from_us)),
                     right = std::min(box.right(), xOf(one.span.to_us));
        if (right - left < px(40)) continue;
        if (one.kind == Stretch::Kind::Missing || one.kind == Stretch::Kind::NoValue) {
            paintPlate(painter, QPointF(left, box.bottom() - px(60)),
                       {one.kind == Stretch::Kind::Missing ? tr("Nothing came") : tr("No value"),
                        QStringLiteral("%1, %2").arg(qs(trace.spec.name), lengthText(one.span))},
                       box, true);
            continue;
        }
        const bool isUp = one.kind == Stretch::Kind::AtLeast;
        const double y = yOf(*axis, one.limit);
        paintPlate(painter, QPointF(left, isUp ? y + px(8) : y - px(48)),
                   {(isUp ? tr("At least %1") : tr("At most %1")).arg(limitText(trace, one)),
                    tr("%1 … %2").arg(clockText(one.span.from_us).left(5), clockText(one.span.to_us).left(5))},
                   box, true);
    }
}

void TracePlot::paintName(QPainter& painter, const Line& line, std::vector<QRectF>& taken) const {
    const Axis* axis = line.axis;
    const TrackView& view = *line.view;
    const QRectF box = area();
    if (!axis) return;
    // On the line, in the first third where there is one.
    const std::size_t count = view.columns.size();
    for (std::size_t i = count / 12; i < count; ++i) {
        if (!view.columns[i].hasValue()) continue;
        const Micros time_us =
            m_seen.from_us + static_cast<Micros>(static_cast<double>(m_seen.to_us - m_seen.from_us) *
                                                 static_cast<double>(i) / static_cast<double>(count));
        const double x = xOf(time_us);
        if (x < box.left() || x > box.right() - px(90)) return;
        painter.setFont(Theme::instance().text(12, true));
        const QFontMetricsF metrics(painter.font());
        const double above = yOf(*axis, view.columns[i].most) - px(8) - metrics.ascent();
        QRectF plate(x + px(2), std::clamp(above, box.top() + px(2), box.bottom() - metrics.height() - px(2)),
                     metrics.horizontalAdvance(line.name) + px(8), metrics.height());
        // Where another name is, the next free place below it, or above where there is none.
        const auto isFree = [&](double top) {
            const QRectF there(QPointF(plate.left(), top), plate.size());
            return there.top() >= box.top() && there.bottom() <= box.bottom() &&
                   std::none_of(taken.begin(), taken.end(), [&](const QRectF& one) { return one.intersects(there); });
        };
        const double first = plate.top(), step = metrics.height() / 4;
        for (int steps = 0; steps < kMostSteps && !isFree(plate.top()); ++steps) plate.moveTop(first + step * steps);
        for (int steps = 0; steps < kMostSteps && !isFree(plate.top()); ++steps) plate.moveTop(first - step * steps);
        taken.push_back(plate);
        painter.fillRect(plate, colours().field);
        painter.setPen(colours().of(axis->quantity).line);
        painter.drawText(QPointF(plate.left() + px(4), plate.top() + metrics.ascent()), line.name);
        return;
    }
}

void TracePlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), colours().sheet);
    const QRectF box = area();
    painter.fillRect(box, colours().field);
    paintTimes(painter);
    paintAxes(painter);
    painter.setPen(QPen(colours().rule, 1));
    painter.drawLine(box.bottomLeft(), box.bottomRight());
    painter.save();
    painter.setClipRect(box);
    for (const SeenTrack& trace : m_traces) paintStretches(painter, trace);
    const std::vector<Line> all = lines();
    for (const Line& line : all) paintLine(painter, line);
    std::vector<QRectF> taken;
    for (const Line& line : all) paintName(painter, line, taken);
    for (const SeenTrack& trace : m_traces) paintPlates(painter, trace);
    painter.restore();
    paintMarks(painter);
    paintOther(painter);
    paintCursor(painter);
    if (hasFocus()) {
        painter.setPen(QPen(colours().ink, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(2, 2, -3, -3));
    }
}

}  // namespace fg::gui
