#include "bench_page/bench_map.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <algorithm>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kBoxWidth = 112, kBoxHeight = 52, kGap = 8, kInset = 12, kHead = 28, kFoot = 38, kFreeHeight = 24,
                 kRailsHeight = 50;
constexpr int kDragDistance = 6;

/// A group with a line that runs under its places.
bool isLine(const PlanGroup& group) { return group.kind == GroupKind::I2c || group.kind == GroupKind::OneWire; }

QString footOf(const PlanGroup& group) {
    if (!isLine(group)) {
        const auto free = std::count_if(group.places.begin(), group.places.end(),
                                        [](const PlanPlace& place) { return place.isFree(); });
        return group.kind == GroupKind::Converter ? QObject::tr("%1 of %2 pins free").arg(free).arg(group.places.size())
                                                  : QString();
    }
    QString text = QObject::tr("%1 V").arg(qs(plainNumber(group.supply_V, 4)));
    if (group.cable_m > 0) text += QObject::tr(", %1 m of cable").arg(qs(plainNumber(group.cable_m, 4)));
    if (!group.pullUp) return text;
    text += QStringLiteral(", ") + qs(engineering(group.pullUp->capacitance_F, Quantity::Capacitance, 2).joined());
    if (group.pullUp->total_ohm > 0)
        text += QObject::tr(". Pull-ups together %1")
                    .arg(qs(shortEngineering(group.pullUp->total_ohm, Quantity::Resistance).joined()));
    return text + QStringLiteral(". ") +
           qs(group.pullUp->fault == LineFault::Missing ? group.pullUp->advice : group.pullUp->text);
}

}  // namespace

BenchMap::BenchMap(const Catalogue& catalogue, QWidget* parent) : QWidget(parent), m_catalogue(catalogue) {
    setObjectName(QStringLiteral("bench.map"));
    setAccessibleName(tr("The bench drawn"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
}

void BenchMap::show(const Bench& bench, const BenchPlan& plan) {
    m_bench = bench;
    m_plan = plan;
    m_dragged = -1;
    m_isDragging = false;
    arrange();
    update();
}

void BenchMap::arrange() {
    m_frames.clear();
    m_boxes.clear();
    const double inner = width() - 2 * px(kInset) - px(4);
    const int perRow = std::max(1, static_cast<int>((inner + px(kGap)) / (px(kBoxWidth) + px(kGap))));
    const double boxWidth = (inner - (perRow - 1) * px(kGap)) / perRow;
    m_railsHeight = m_plan.rails.empty() ? 0 : px(kRailsHeight);
    double y = px(4) + m_railsHeight;
    for (std::size_t g = 0; g < m_plan.groups.size(); ++g) {
        const PlanGroup& group = m_plan.groups[g];
        const QFontMetrics metrics(Theme::instance().text(12));
        const double foot =
            metrics.boundingRect(QRect(0, 0, static_cast<int>(inner), 500), Qt::TextWordWrap, footOf(group)).height() +
            px(12);
        double top = y + px(kHead);
        for (std::size_t first = 0; first < group.places.size(); first += static_cast<std::size_t>(perRow)) {
            const std::size_t end = std::min(group.places.size(), first + static_cast<std::size_t>(perRow));
            // A row of nothing but free places need not be as high.
            const bool isAllFree = std::all_of(group.places.begin() + static_cast<std::ptrdiff_t>(first),
                                               group.places.begin() + static_cast<std::ptrdiff_t>(end),
                                               [](const PlanPlace& place) { return place.isFree(); });
            const double rowHeight = px(isAllFree ? kFreeHeight : kBoxHeight);
            for (std::size_t i = first; i < end; ++i) {
                const QRectF area(px(2 + kInset) + static_cast<double>(i - first) * (boxWidth + px(kGap)), top,
                                  boxWidth, rowHeight);
                m_boxes.push_back(
                    {area, g, isLine(group) ? qs(group.line) : qs(group.places[i].label), &group.places[i]});
            }
            top += rowHeight + px(kGap);
        }
        const double height = top - px(kGap) - y + std::max(foot, px(kFoot) / 2.0);
        m_frames.push_back({QRectF(px(2), y, width() - px(4), height), g});
        y += height + px(kGap);
    }
    setMinimumHeight(static_cast<int>(y));
    m_focus = std::clamp(m_focus, 0, std::max(0, static_cast<int>(m_boxes.size()) - 1));
}

void BenchMap::resizeEvent(QResizeEvent*) { arrange(); }

QRectF BenchMap::boxOf(std::int64_t gauge) const {
    for (const Box& box : m_boxes)
        if (std::find(box.where->gauges.begin(), box.where->gauges.end(), gauge) != box.where->gauges.end())
            return box.area;
    return {};
}

QRectF BenchMap::boxOf(const QString& place) const {
    for (const Box& box : m_boxes)
        if (qs(box.where->label) == place) return box.area;
    return {};
}

int BenchMap::boxAt(QPointF at) const {
    for (std::size_t i = 0; i < m_boxes.size(); ++i)
        if (m_boxes[i].area.contains(at)) return static_cast<int>(i);
    return -1;
}

bool BenchMap::canMoveTo(std::int64_t gauge, const QString& place) const {
    const auto places = placesFor(m_bench, m_plan, gauge, m_catalogue);
    return std::find(places.begin(), places.end(), place.toStdString()) != places.end();
}

QString BenchMap::namesAt(const PlanPlace& place) const {
    QStringList names;
    for (const std::int64_t id : place.gauges)
        if (const BenchGauge* gauge = m_bench.find(id)) names << qs(gauge->spec.name);
    return names.join(QStringLiteral(", "));
}

QString BenchMap::railOf(std::int64_t gauge) const {
    for (const PlanRail& rail : m_plan.rails)
        for (const PlanLoad& load : rail.loads)
            if (load.gauge == gauge) return qs(rail.rail.name);
    return {};
}

// The supplies as bars across the top, each with what it must give.
void BenchMap::paintRails(QPainter& painter) const {
    if (m_plan.rails.empty()) return;
    const Palette& p = colours();
    const double each = (width() - px(4) - px(kGap) * static_cast<double>(m_plan.rails.size() - 1)) /
                        static_cast<double>(m_plan.rails.size());
    double x = px(2);
    for (const PlanRail& rail : m_plan.rails) {
        const QRectF area(x, px(4), each, m_railsHeight - px(kGap));
        painter.fillRect(area, p.sheet);
        paintFrame(painter, area, p.line);
        painter.fillRect(QRectF(area.left(), area.top(), area.width(), px(3)), p.ink);
        painter.setFont(Theme::instance().text(13, true));
        painter.setPen(p.ink);
        const double text = area.width() - 2 * px(kInset);
        painter.drawText(QPointF(area.left() + px(kInset), area.top() + px(19)),
                         painter.fontMetrics().elidedText(tr("Supply %1").arg(qs(rail.rail.name)), Qt::ElideRight,
                                                          static_cast<int>(text)));
        QString line = tr("peak %1").arg(qs(engineering(rail.peak_A, Quantity::Current, 3).joined()));
        if (rail.rail.limit_A > 0)
            line += tr(" of %1").arg(qs(engineering(rail.rail.limit_A, Quantity::Current, 3).joined()));
        if (rail.unknown > 0) line += tr(", %1 not known").arg(rail.unknown);
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        painter.drawText(QPointF(area.left() + px(kInset), area.top() + px(36)),
                         painter.fontMetrics().elidedText(line, Qt::ElideRight, static_cast<int>(text)));
        x += each + px(kGap);
    }
}

void BenchMap::paintFrameOf(QPainter& painter, const Frame& frame) const {
    const Palette& p = colours();
    const PlanGroup& group = m_plan.groups[frame.group];
    painter.fillRect(frame.area, p.sheet);
    paintFrame(painter, frame.area, p.line);
    painter.setFont(Theme::instance().text(13, true));
    painter.setPen(p.ink);
    painter.drawText(QPointF(frame.area.left() + px(kInset), frame.area.top() + px(19)), qs(group.title));
    double lowest = frame.area.top();
    for (const Box& box : m_boxes)
        if (box.group == frame.group) lowest = std::max(lowest, box.area.bottom());
    if (isLine(group)) {
        // The line itself, with a stub up to each place and its pull-up at the left end.
        const double y = lowest + px(5);
        painter.setPen(QPen(p.ink, 2));
        painter.drawLine(QPointF(frame.area.left() + px(kInset), y), QPointF(frame.area.right() - px(kInset), y));
        painter.setPen(QPen(p.ink, 1));
        for (const Box& box : m_boxes)
            if (box.group == frame.group && box.area.bottom() >= lowest - 1)
                painter.drawLine(QPointF(box.area.center().x(), box.area.bottom()), QPointF(box.area.center().x(), y));
    }
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    const double top = lowest + (isLine(group) ? px(8) : px(5));
    painter.drawText(QRectF(frame.area.left() + px(kInset), top, frame.area.width() - 2 * px(kInset),
                            frame.area.bottom() - top),
                     Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, footOf(group));
}

void BenchMap::paintBox(QPainter& painter, const Box& box, bool isFocused, bool isTarget) const {
    const Palette& p = colours();
    const PlanPlace& place = *box.where;
    if (isTarget) painter.fillRect(box.area, p.brassWash);
    if (place.isFree()) {
        painter.setPen(QPen(isTarget ? p.brass : p.line, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(box.area.adjusted(0.5, 0.5, -0.5, -0.5));
    } else {
        painter.fillRect(box.area, isTarget ? p.brassWash : p.field);
        paintFrame(painter, box.area, place.isTwice ? p.ink : p.rule, place.isTwice ? 2 : 1);
        const BenchGauge* gauge = place.gauges.empty() ? nullptr : m_bench.find(place.gauges.front());
        if (gauge)
            painter.fillRect(QRectF(box.area.left(), box.area.top(), px(4), box.area.height()),
                             p.of(gauge->spec.quantity).line);
    }
    const double x = box.area.left() + px(10), room = box.area.width() - px(16);
    painter.setFont(Theme::instance().digits(12));
    painter.setPen(p.ink2);
    painter.drawText(QPointF(x, box.area.top() + px(15)), qs(place.label));
    if (!place.gauges.empty() && !place.isTwice) {
        painter.setFont(Theme::instance().text(12));
        painter.drawText(QRectF(x, box.area.top() + px(2), room, px(17)), Qt::AlignRight | Qt::AlignVCenter,
                         railOf(place.gauges.front()));
    }
    if (place.isTwice)
        paintSeverity(painter, Severity::Fault,
                      QRectF(box.area.right() - px(19), box.area.top() + px(5), px(13), px(13)));
    painter.setFont(Theme::instance().text(12));
    if (place.isFree()) {
        painter.drawText(QPointF(x + px(30), box.area.top() + px(15)), tr("free"));
    } else {
        painter.setPen(p.ink);
        painter.drawText(QPointF(x, box.area.top() + px(31)),
                         painter.fontMetrics().elidedText(namesAt(place), Qt::ElideRight, static_cast<int>(room)));
        painter.setPen(p.ink2);
        painter.drawText(QPointF(x, box.area.top() + px(46)),
                         painter.fontMetrics().elidedText(qs(place.part), Qt::ElideRight, static_cast<int>(room)));
    }
    if (!isFocused) return;
    painter.setPen(QPen(p.brass, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(box.area.adjusted(1, 1, -1, -1));
}

void BenchMap::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintRails(painter);
    for (const Frame& frame : m_frames) paintFrameOf(painter, frame);
    const int under = m_isDragging ? boxAt(m_now) : -1;
    const std::int64_t moved = m_isDragging ? m_boxes[static_cast<std::size_t>(m_dragged)].where->gauges.front() : 0;
    for (std::size_t i = 0; i < m_boxes.size(); ++i) {
        const bool isTarget = static_cast<int>(i) == under && under != m_dragged && canMoveTo(moved, m_boxes[i].place);
        paintBox(painter, m_boxes[i], hasFocus() && static_cast<int>(i) == m_focus, isTarget);
    }
    if (!m_isDragging) return;
    Box ghost = m_boxes[static_cast<std::size_t>(m_dragged)];
    ghost.area.translate(m_now - m_from);
    painter.setOpacity(0.8);
    paintBox(painter, ghost, true, false);
}

void BenchMap::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    m_dragged = boxAt(event->position());
    if (m_dragged < 0) return;
    m_focus = m_dragged;
    m_from = m_now = event->position();
    if (m_boxes[static_cast<std::size_t>(m_dragged)].where->gauges.empty()) m_dragged = -1;
    update();
}

void BenchMap::mouseMoveEvent(QMouseEvent* event) {
    if (m_dragged < 0 || !(event->buttons() & Qt::LeftButton)) {
        const int at = boxAt(event->position());
        setToolTip(at >= 0 && !m_boxes[static_cast<std::size_t>(at)].where->isFree()
                       ? tr("%1: drag to another place, or click for a list")
                             .arg(namesAt(*m_boxes[static_cast<std::size_t>(at)].where))
                       : QString());
        return;
    }
    m_now = event->position();
    if (!m_isDragging && (m_now - m_from).manhattanLength() > kDragDistance) m_isDragging = true;
    if (m_isDragging) update();
}

void BenchMap::mouseReleaseEvent(QMouseEvent* event) {
    if (m_dragged < 0) return;
    const Box box = m_boxes[static_cast<std::size_t>(m_dragged)];
    const int target = boxAt(event->position());
    const bool wasDragging = m_isDragging;
    m_dragged = -1;
    m_isDragging = false;
    update();
    if (!wasDragging) return offer(box, event->globalPosition().toPoint());
    if (target < 0) return;
    const Box& onto = m_boxes[static_cast<std::size_t>(target)];
    if (onto.where != box.where && canMoveTo(box.where->gauges.front(), onto.place))
        emit moveWanted(box.where->gauges.front(), onto.place);
}

void BenchMap::offer(const Box& box, const QPoint& at) {
    if (box.where->gauges.empty()) return;
    const std::int64_t gauge = box.where->gauges.front();
    QMenu menu(this);
    menu.addAction(tr("Look at %1").arg(namesAt(*box.where)), this, [this, gauge] { emit gaugeWanted(gauge); });
    menu.addSeparator();
    for (const std::string& place : placesFor(m_bench, m_plan, gauge, m_catalogue)) {
        if (qs(place) == box.place) continue;
        menu.addAction(tr("Move to %1").arg(qs(place)), this,
                       [this, gauge, place] { emit moveWanted(gauge, qs(place)); });
    }
    menu.addSeparator();
    for (const PlanRail& rail : m_plan.rails)
        if (qs(rail.rail.name) != railOf(gauge))
            menu.addAction(tr("Feed from %1").arg(qs(rail.rail.name)), this,
                           [this, gauge, name = qs(rail.rail.name)] { emit railWanted(gauge, name); });
    menu.exec(at);
}

void BenchMap::contextMenuEvent(QContextMenuEvent* event) {
    if (const int at = boxAt(event->pos()); at >= 0) offer(m_boxes[static_cast<std::size_t>(at)], event->globalPos());
}

void BenchMap::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_boxes.size()) - 1;
    if (last < 0) return QWidget::keyPressEvent(event);
    const bool forward = event->key() == Qt::Key_Right || event->key() == Qt::Key_Down;
    const bool back = event->key() == Qt::Key_Left || event->key() == Qt::Key_Up;
    if (forward || back) {
        m_focus = std::clamp(m_focus + (forward ? 1 : -1), 0, last);
        return update();
    }
    const Box& box = m_boxes[static_cast<std::size_t>(m_focus)];
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space)
        return offer(box, mapToGlobal(box.area.bottomLeft().toPoint()));
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
