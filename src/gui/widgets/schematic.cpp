#include "widgets/schematic.h"

#include "converters/kind.h"
#include "paint/marks.h"
#include "paint/number_painter.h"
#include "theme/theme.h"
#include "units/number_format.h"

#include <cmath>
#include <QPainter>

namespace fg::gui {
namespace {

// Design coordinates of the picture, 360 x 320, scaled by px().
constexpr double kWidth = 364, kHeight = 322;
constexpr double kBusX = 120, kTopY = 34, kTapY = 152, kGroundY = 276;
constexpr double kCapX = 236, kPinX = 284;

QString qs(const std::string& text) { return QString::fromStdString(text); }

QPointF at(double x, double y) { return {static_cast<double>(px(x)) + 0.5, static_cast<double>(px(y)) + 0.5}; }

void wire(QPainter& painter, QPointF a, QPointF b) {
    painter.setPen(QPen(colours().ink, 1.4, Qt::SolidLine, Qt::SquareCap));
    painter.drawLine(a, b);
}

void ground(QPainter& painter, double x, double y) {
    wire(painter, at(x, y - 8), at(x, y));
    for (int i = 0; i < 3; ++i) wire(painter, at(x - 13 + 4 * i, y + 4 * i), at(x + 13 - 4 * i, y + 4 * i));
}

/// IEC resistor: a rectangle upright between two heights.
void resistor(QPainter& painter, double x, double top, double bottom) {
    painter.setPen(QPen(colours().ink, 1.4, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    painter.setBrush(colours().sheet);
    painter.drawRect(QRectF(at(x - 8, top), at(x + 8, bottom)));
}

/// A resistor that depends on what is measured: the slanted line with a foot, and which way it goes with it (−ϑ, +ϑ, −E).
void variableResistor(QPainter& painter, double x, double top, double bottom, const QString& dependence) {
    resistor(painter, x, top, bottom);
    painter.setPen(QPen(colours().ink, 1.4));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(QPolygonF({at(x - 24, bottom + 2), at(x - 14, bottom + 2), at(x + 16, top - 6)}));
    painter.setFont(Theme::instance().text(13));
    painter.drawText(at(x + 17, top - 5), dependence);
}

void dot(QPainter& painter, QPointF where) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours().ink);
    painter.drawEllipse(where, px(4), px(4));
}

void caption(QPainter& painter, double x, double y, const QString& text, const QString& more = {}) {
    painter.setFont(Theme::instance().caption());
    painter.setPen(colours().ink2);
    painter.drawText(at(x, y), text);
    if (more.isEmpty()) return;
    const double after = painter.fontMetrics().horizontalAdvance(text) + px(7);
    painter.setFont(Theme::instance().text(12));
    painter.drawText(at(x, y) + QPointF(after, 0), more);
}

}  // namespace

Schematic::Schematic(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    const auto prepare = [this](ValueEdit& entry, const char* name, const QString& spoken) {
        entry.setParent(this);
        entry.setObjectName(QLatin1String(name));
        entry.setAccessibleName(spoken);
        entry.hide();
    };
    prepare(m_source, "wiring.source", tr("Source voltage"));
    prepare(m_fixed, "wiring.fixed", tr("Fixed resistor R1"));
    prepare(m_capacitor, "wiring.capacitor", tr("Capacitor C1"));
    m_capacitor.setZeroText(tr("none"));
    const auto tryOn = [this](const QString& label, const std::function<void(GaugeSpec&)>& change) -> Expected<void> {
        if (!m_view) return {};
        GaugeSpec changed = m_view->spec();
        change(changed);
        if (const auto possible = AnalogPath::build(changed, m_workbench.catalogue()); !possible && m_view->path())
            return tl::unexpected(possible.error());
        m_workbench.edit(label, change);
        return {};
    };
    m_fixed.onCommit = [tryOn](double ohm) {
        return tryOn(tr("Set R1 to %1").arg(qs(shortEngineering(ohm, Quantity::Resistance).joined())),
                     [ohm](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", ohm); });
    };
    m_source.onCommit = [this, tryOn](double volt) {
        const bool reference = m_view && m_view->path() && m_view->path()->isRatiometric();
        return tryOn(tr("Set the source to %1").arg(qs(shortEngineering(volt, Quantity::Voltage).joined())),
                     [volt, reference](GaugeSpec& spec) {
                         // What is shown is what is used: the measured reference where there is one.
                         if (!reference)
                             spec.wiring.parameters.set("source_V", volt);
                         else if (spec.converter.parameters.numberOr("reference_measured_V", 0) > 0)
                             spec.converter.parameters.set("reference_measured_V", volt);
                         else
                             spec.converter.parameters.set("reference_V", volt);
                     });
    };
    m_capacitor.onCommit = [tryOn](double farad) {
        return tryOn(tr("Set C1 to %1").arg(qs(shortEngineering(farad, Quantity::Capacitance).joined())),
                     [farad](GaugeSpec& spec) { spec.wiring.parameters.set("capacitor_F", farad); });
    };
    connect(&Theme::instance(), &Theme::changed, this, &Schematic::layoutEntries);
}

QSize Schematic::sizeHint() const { return {px(kWidth), px(kHeight)}; }

bool Schematic::isDivider() const { return m_view && m_view->spec().wiring.kind == "divider"; }

bool Schematic::isSensorLow() const {
    const auto& all = m_view->spec().wiring.parameters.all();
    const auto it = all.find("sensor_side");
    return it == all.end() || std::get_if<std::string>(&it->second) == nullptr || std::get<std::string>(it->second) == "low";
}

QString Schematic::dependence() const {
    const QString quantity = m_view->spec().quantity == Quantity::Temperature ? QStringLiteral("ϑ") : QStringLiteral("E");
    return (m_view->path()->sensor().isRising() ? QStringLiteral("+") : QStringLiteral("−")) + quantity;
}

void Schematic::layoutEntries() {
    setFixedSize(sizeHint());
    m_source.setGeometry(px(0), px(22), px(88), px(25));
    m_fixed.setGeometry(px(0), px(isDivider() && !isSensorLow() ? 206 : 84), px(98), px(27));
    m_capacitor.setGeometry(px(258), px(202), px(96), px(25));
}

void Schematic::resizeEvent(QResizeEvent*) { layoutEntries(); }

void Schematic::showSpec(const GaugeView& view) {
    m_view = &view;
    layoutEntries();
    m_fixed.setVisible(isDivider());
    m_source.setVisible(view.path() != nullptr);
    m_capacitor.show();
    const Parameters& wiring = view.spec().wiring.parameters;
    m_fixed.setValue(wiring.numberOr("fixed_ohm", 0));
    m_capacitor.setValue(wiring.numberOr("capacitor_F", 0));
    if (view.path()) m_source.setValue(view.path()->source_V());
    update();
}

void Schematic::showValues(const GaugeView& view) {
    m_view = &view;
    update();
}

void Schematic::paintConverter(QPainter& painter, QPointF pin) const {
    const double size = px(60);
    const QRectF box(pin.x(), pin.y() - size / 2, size, size);
    painter.setPen(QPen(colours().ink, 1.4, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    painter.setBrush(colours().field);
    painter.drawRect(box);
    painter.drawLine(box.bottomLeft(), box.topRight());
    painter.setFont(Theme::instance().text(14, true));
    painter.drawText(box.adjusted(px(7), px(4), 0, 0), Qt::AlignLeft | Qt::AlignTop, QStringLiteral("U"));
    painter.drawText(box.adjusted(0, 0, -px(7), -px(4)), Qt::AlignRight | Qt::AlignBottom, QStringLiteral("#"));
    painter.setFont(Theme::instance().text(14));
    painter.drawText(QRectF(box.left() - px(40), box.top() - px(24), box.width() + px(56), px(20)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("code %1").arg(qs(m_view->textAt(Stage::Converter).joined())));
}

void Schematic::paintSensorLabel(QPainter& painter, QPointF where) const {
    const ReadingText value = m_view->textAt(Stage::Sensor);
    NumberStyle style;
    style.size = 18;
    caption(painter, 0, 0, {});
    painter.setFont(Theme::instance().caption());
    painter.setPen(colours().ink2);
    painter.drawText(where, m_view->spec().quantity == Quantity::Temperature ? QStringLiteral("RT") : QStringLiteral("RE"));
    painter.setFont(Theme::instance().text(12));
    painter.drawText(where + QPointF(px(24), 0), m_view->origin() == Origin::Live ? tr("now") : tr("for this value"));
    paintNumber(painter, where + QPointF(0, px(22)), qs(value.sign + value.value.digits), qs(value.value.unit), style);
    painter.setFont(Theme::instance().text(12));
    painter.setPen(colours().ink2);
    painter.drawText(QRectF(where + QPointF(0, px(28)), QSizeF(px(94), px(40))), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                     qs(m_view->path()->stageNote(Stage::Sensor)));
}

void Schematic::paintDivider(QPainter& painter) const {
    const bool low = isSensorLow();
    const double upTop = 80, upBottom = 126, downTop = 190, downBottom = 236;
    wire(painter, at(88, kTopY), at(170, kTopY));
    wire(painter, at(kBusX, kTopY), at(kBusX, upTop));
    wire(painter, at(kBusX, upBottom), at(kBusX, downTop));
    wire(painter, at(kBusX, downBottom), at(kBusX, kGroundY));
    ground(painter, kBusX, kGroundY);
    if (low) {
        resistor(painter, kBusX, upTop, upBottom);
        variableResistor(painter, kBusX, downTop, downBottom, dependence());
    } else {
        variableResistor(painter, kBusX, upTop, upBottom, dependence());
        resistor(painter, kBusX, downTop, downBottom);
    }
    wire(painter, at(kBusX, kTapY), at(kPinX, kTapY));
    dot(painter, at(kBusX, kTapY));
    paintPin(painter, at(kBusX + 14, kTapY - 10));

    const double tolerance = m_view->spec().wiring.parameters.numberOr("fixed_tolerance", 0);
    caption(painter, 0, low ? 77 : 199, QStringLiteral("R1"),
            tolerance > 0 ? QStringLiteral("%1 %").arg(qs(plainNumber(100 * tolerance, 3))) : tr("tolerance not given"));
    paintSensorLabel(painter, at(0, low ? 192 : 76));
    if (const auto heating =
            selfHeatingAt(m_view->spec(), *m_view->path(), m_view->evaluation() ? m_view->evaluation()->at(Stage::World).value : 0)) {
        // conventional current, downwards
        const QPointF top = at(142, 92), bottom = at(142, 118);
        painter.setPen(QPen(colours().ink2, 1.4));
        painter.drawLine(top, bottom);
        painter.setBrush(colours().ink2);
        painter.drawPolygon(QPolygonF({bottom + QPointF(0, 2), bottom + QPointF(-px(4), -px(7)), bottom + QPointF(px(4), -px(7))}));
        NumberStyle style;
        style.size = 13;
        style.ink = colours().ink2;
        const NumberText current = engineering(heating->current_A, Quantity::Current, 3);
        paintNumber(painter, at(151, 109), qs(current.digits), qs(current.unit), style);
    }
}

void Schematic::paintDirect(QPainter& painter) const {
    wire(painter, at(88, kTopY), at(kBusX, kTopY));
    wire(painter, at(kBusX, kTopY), at(kBusX, 118));
    // A current flows down through its resistor; a voltage comes out at the side.
    const std::string& kind = m_view->spec().wiring.kind;
    const bool throughLoad = kind == "load";
    const double boxTop = throughLoad ? 62 : 118, boxBottom = throughLoad ? 118 : 186;
    painter.setPen(QPen(colours().ink, 1.4, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    painter.setBrush(colours().field);
    const QRectF box(at(kBusX - 44, boxTop), at(kBusX + 44, boxBottom));
    painter.drawRect(box);
    painter.setFont(Theme::instance().text(12, true));
    painter.drawText(box.adjusted(2, 0, -2, -px(20)), Qt::AlignCenter,
                     painter.fontMetrics().elidedText(qs(m_view->path()->part().id), Qt::ElideRight, static_cast<int>(box.width()) - 6));
    painter.setFont(Theme::instance().text(12));
    painter.setPen(colours().ink2);
    const QString signal = qs(engineering(m_view->evaluation() ? m_view->evaluation()->at(Stage::Sensor).value : std::nan(""),
                                          m_view->path()->signalQuantity(), 4)
                                  .joined());
    painter.drawText(box.adjusted(0, px(24), 0, 0), Qt::AlignCenter, signal);
    if (throughLoad) {
        wire(painter, at(kBusX, boxBottom), at(kBusX, 190));
        resistor(painter, kBusX, 190, 236);
        wire(painter, at(kBusX, 236), at(kBusX, kGroundY));
        dot(painter, at(kBusX, kTapY));
        caption(painter, 0, 216, qs(m_view->path()->stageNote(Stage::Wiring)));
    } else {
        wire(painter, at(kBusX, boxBottom), at(kBusX, kGroundY));
    }
    ground(painter, kBusX, kGroundY);
    wire(painter, at(kBusX + (throughLoad ? 0 : 44), kTapY), at(kPinX, kTapY));
    if (!throughLoad && kind != "direct") {
        // Any other network as one box: its numbers stand in the form below.
        const QRectF network(at(188, kTapY - 16), at(256, kTapY + 16));
        painter.setPen(QPen(colours().ink, 1.4, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
        painter.setBrush(colours().field);
        painter.drawRect(network);
        painter.setFont(Theme::instance().text(12));
        painter.drawText(network, Qt::AlignCenter | Qt::TextWordWrap,
                         qs(m_view->path()->stageNote(Stage::Wiring)).section(QLatin1Char(','), 0, 0));
    }
    const bool beside = kind == "direct" || throughLoad;
    paintPin(painter, at(throughLoad ? kBusX + 14 : beside ? kBusX + 52 : 188, beside ? kTapY - 10 : kTapY - 24));
}

void Schematic::paintPin(QPainter& painter, QPointF voltageAt) const {
    const bool hasCapacitor = m_view->spec().wiring.parameters.numberOr("capacitor_F", 0) > 0;
    if (hasCapacitor) {
        dot(painter, at(kCapX, kTapY));
        wire(painter, at(kCapX, kTapY), at(kCapX, 200));
        painter.setPen(QPen(colours().ink, 2));
        painter.drawLine(at(kCapX - 14, 200), at(kCapX + 14, 200));
        painter.drawLine(at(kCapX - 14, 207), at(kCapX + 14, 207));
        wire(painter, at(kCapX, 207), at(kCapX, kGroundY));
        ground(painter, kCapX, kGroundY);
    }
    paintConverter(painter, at(kPinX, kTapY));
    caption(painter, 258, 196, QStringLiteral("C1"), hasCapacitor ? QString() : tr("to ground"));
    NumberStyle strong;
    strong.size = 17;
    strong.bold = true;
    const ReadingText pin = m_view->textAt(Stage::Wiring);
    paintNumber(painter, voltageAt, qs(pin.sign + pin.value.digits), qs(pin.value.unit), strong);
}

void Schematic::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view) return;
    if (!m_view->path()) {
        painter.setFont(Theme::instance().text(13));
        painter.setPen(colours().ink2);
        painter.drawText(QRectF(rect()).adjusted(0, px(60), -px(20), 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                         tr("There is no circuit to draw yet: %1").arg(qs(m_view->problem()->message())));
        return;
    }
    caption(painter, 0, 16, m_view->path()->isRatiometric() ? QStringLiteral("Vref") : tr("Rail"));
    painter.setFont(Theme::instance().text(13));
    painter.setPen(colours().ink2);
    painter.drawText(at(isDivider() ? 176 : 130, kTopY + 5),
                     m_view->path()->isRatiometric() ? tr("source = reference") : tr("a rail of its own"));
    if (isDivider())
        paintDivider(painter);
    else
        paintDirect(painter);
}

}  // namespace fg::gui
