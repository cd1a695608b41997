#include "circuits/schematic.h"
#include "gauge/gauge.h"
#include "path/gauge_field.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <QPainter>
#include <QPaintEvent>
#include <QShortcut>

namespace fg::gui {
namespace {

constexpr double kLockWidth = 24;
const std::string kSource = "wiring.source";

/// Where the voltage that feeds the sensor is kept: what is shown is what is used, so a measured reference where there
/// is one.
std::string sourceField(const GaugeView& view) {
    if (!view.path()->isRatiometric()) return "wiring.source_V";
    return view.spec().converter.parameters.numberOr("reference_measured_V", 0) > 0 ? "converter.reference_measured_V"
                                                                                    : "converter.reference_V";
}

/// Where texts of two lists differ; nothing where they are not of the same circuit.
std::optional<QRegion> differenceOf(const std::vector<CircuitText>& before, const std::vector<CircuitText>& now) {
    if (before.size() != now.size()) return std::nullopt;
    QRegion changed;
    for (std::size_t i = 0; i < now.size(); ++i)
        if (!(before[i] == now[i])) changed += (before[i].area | now[i].area).toAlignedRect();
    return changed;
}

}  // namespace

Schematic::Schematic(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    connect(&Theme::instance(), &Theme::changed, this, &Schematic::arrange);
}

QSize Schematic::sizeHint() const { return {px(kCircuitWidth), px(kCircuitHeight)}; }

double Schematic::valueOf(const CircuitSpot& spot) const {
    if (spot.field == kSource) return m_view->path()->source_V();
    return fieldOr(m_view->spec(), m_workbench.catalogue(), spot.field, 0);
}

Expected<void> Schematic::commit(const CircuitSpot& spot, double value) {
    if (!m_view || !m_view->path()) return {};
    const std::string field = spot.field == kSource ? sourceField(*m_view) : spot.field;
    const auto change = [&](GaugeSpec& spec) { parametersAt(spec, field).set(fieldName(field), value); };
    GaugeSpec changed = m_view->spec();
    change(changed);
    if (const auto possible = Gauge::make(changed, m_workbench.catalogue()); !possible)
        return tl::unexpected(possible.error());
    const QString shown = spot.quantity == Quantity::Ratio ? qs(plainNumber(value, 6))
                                                           : qs(shortEngineering(value, spot.quantity).joined());
    m_workbench.edit(tr("Set %1 to %2").arg(spot.name, shown), change);
    emit valueFixed(qs(spot.field));
    return {};
}

void Schematic::build(const std::vector<CircuitSpot>& spots, const std::set<std::string>& solvable) {
    std::string key;
    for (const CircuitSpot& spot : spots) key += spot.field + (solvable.count(spot.field) ? "*|" : "|");
    if (key == m_built) {
        for (std::size_t i = 0; i < spots.size(); ++i) m_entries[i].spot = spots[i];
        return;
    }
    m_built = key;
    m_entries.clear();
    for (const CircuitSpot& spot : spots) {
        Entry entry{spot, std::make_unique<ValueEdit>(spot.quantity, nullptr, QString(), this), nullptr};
        entry.edit->setObjectName(qs(spot.field));
        entry.edit->setAccessibleName(spot.name);
        entry.edit->setZeroText(spot.zeroText);
        entry.edit->onCommit = [this, spot](double value) { return commit(spot, value); };
        entry.edit->show();
        if (solvable.count(spot.field)) {
            entry.lock = std::make_unique<LockButton>(spot.name, this);
            entry.lock->setObjectName(QStringLiteral("lock.") + qs(spot.field));
            connect(entry.lock.get(), &QAbstractButton::clicked, this,
                    [this, field = qs(spot.field)](bool open) { emit lockTurned(field, open); });
            auto* key_L = new QShortcut(QKeySequence(Qt::ALT | Qt::Key_L), entry.edit.get(), nullptr, nullptr,
                                        Qt::WidgetShortcut);
            connect(key_L, &QShortcut::activated, entry.lock.get(), &QAbstractButton::click);
            entry.lock->show();
        }
        m_entries.push_back(std::move(entry));
    }
}

void Schematic::arrange() {
    setFixedSize(sizeHint());
    for (const Entry& entry : m_entries) {
        const QRectF& box = entry.spot.box;
        const int width = px(box.width()), lock = entry.lock ? px(kLockWidth) : 0;
        entry.edit->setGeometry(px(box.left()), px(box.top()), width - lock, px(box.height()));
        if (entry.lock) entry.lock->setGeometry(px(box.left()) + width - lock, px(box.top()), lock, px(box.height()));
    }
    m_drawn = {};
    update();
}

void Schematic::showSpec(const GaugeView& view, const std::set<std::string>& solvable, const std::string& open) {
    m_view = &view;
    if (view.path()) build(circuitFor(view.spec().wiring.kind).spots(view), solvable);
    for (const Entry& entry : m_entries) {
        entry.edit->setVisible(view.path() != nullptr);
        if (entry.lock) entry.lock->setVisible(view.path() != nullptr);
        if (!view.path()) continue;
        entry.edit->setValue(valueOf(entry.spot));
        if (entry.lock) entry.lock->setChecked(entry.spot.field == open);
    }
    arrange();
}

// Between two values only texts change: what stands where they do is drawn again.
void Schematic::showValues(const GaugeView& view) {
    m_view = &view;
    if (m_drawn.isNull()) return update();
    std::vector<CircuitText> now;
    if (view.path()) {
        CircuitPen pen(now);
        paintCircuit(pen);
    }
    const auto changed = view.path() ? differenceOf(m_texts, now) : std::nullopt;
    m_texts = std::move(now);
    if (!changed) {
        m_drawn = {};
        return update();
    }
    if (changed->isEmpty()) return;
    QPainter painter(&m_drawn);
    painter.setClipRegion(*changed);
    painter.setCompositionMode(QPainter::CompositionMode_Source);
    painter.fillRect(rect(), Qt::transparent);
    painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
    CircuitPen pen(painter, *changed);
    paintCircuit(pen);
    update(*changed);
}

void Schematic::draw() {
    m_drawn = QImage(size() * devicePixelRatioF(), QImage::Format_ARGB32_Premultiplied);
    m_drawn.setDevicePixelRatio(devicePixelRatioF());
    m_drawn.fill(Qt::transparent);
    m_texts.clear();
    QPainter painter(&m_drawn);
    if (m_view->path()) {
        CircuitPen pen(painter, m_texts);
        return paintCircuit(pen);
    }
    painter.setFont(Theme::instance().text(13));
    painter.setPen(colours().ink2);
    painter.drawText(rect(), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                     tr("There is no circuit to draw yet: %1")
                         .arg(m_view->problem() ? qs(m_view->problem()->message()) : tr("the part is a digital one")));
}

void Schematic::paintEvent(QPaintEvent* event) {
    if (!m_view) return;
    if (m_drawn.isNull() || m_drawn.size() != size() * devicePixelRatioF()) draw();
    QPainter painter(this);
    painter.setClipRegion(event->region());
    painter.drawImage(0, 0, m_drawn);
}

void Schematic::paintCircuit(CircuitPen& pen) const {
    circuitFor(m_view->spec().wiring.kind).paint(pen, *m_view);
    for (const Entry& entry : m_entries)
        pen.caption(entry.spot.box.left(), entry.spot.box.top() - 6, entry.spot.caption, entry.spot.more);
}

}  // namespace fg::gui
