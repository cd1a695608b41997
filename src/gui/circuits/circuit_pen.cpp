#include "circuits/circuit_pen.h"
#include "paint/number_painter.h"
#include "paint/text_painter.h"
#include "theme/theme.h"
#include "widgets/text.h"

namespace fg::gui {
namespace {
QRectF scaled(const QRectF& design) {
    return {CircuitPen::at(design.left(), design.top()), CircuitPen::at(design.right(), design.bottom())};
}
}  // namespace

QPointF CircuitPen::at(double x, double y) {
    return {static_cast<double>(px(x)) + 0.5, static_cast<double>(px(y)) + 0.5};
}

void CircuitPen::strokes(double width) {
    m_painter.setPen(QPen(colours().ink, width, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    m_painter.setBrush(Qt::NoBrush);
}

void CircuitPen::wire(double x1, double y1, double x2, double y2) {
    strokes();
    m_painter.drawLine(at(x1, y1), at(x2, y2));
}

void CircuitPen::dot(double x, double y) {
    m_painter.setPen(Qt::NoPen);
    m_painter.setBrush(colours().ink);
    m_painter.drawEllipse(at(x, y), px(4), px(4));
}

void CircuitPen::ground(double x, double y) {
    wire(x, y - 8, x, y);
    for (int i = 0; i < 3; ++i) wire(x - 13 + 4 * i, y + 4 * i, x + 13 - 4 * i, y + 4 * i);
}

void CircuitPen::resistor(double x, double top, double bottom) {
    strokes();
    m_painter.setBrush(colours().sheet);
    m_painter.drawRect(QRectF(at(x - 8, top), at(x + 8, bottom)));
}

void CircuitPen::lyingResistor(double left, double right, double y) {
    strokes();
    m_painter.setBrush(colours().sheet);
    m_painter.drawRect(QRectF(at(left, y - 8), at(right, y + 8)));
}

void CircuitPen::variableResistor(double x, double top, double bottom, const QString& dependence) {
    resistor(x, top, bottom);
    strokes();
    m_painter.drawPolyline(QPolygonF({at(x - 24, bottom + 2), at(x - 14, bottom + 2), at(x + 16, top - 6)}));
    m_painter.setFont(Theme::instance().text(13));
    paintText(m_painter, at(x + 17, top - 5), dependence);
}

void CircuitPen::tiltedResistor(double x, double y, double degrees, const QString& dependence) {
    strokes();
    m_painter.save();
    m_painter.setRenderHint(QPainter::Antialiasing);
    m_painter.translate(at(x, y));
    m_painter.rotate(degrees);
    m_painter.setBrush(colours().sheet);
    m_painter.drawRect(QRectF(-px(17), -px(7), px(34), px(14)));
    m_painter.restore();
    m_painter.setFont(Theme::instance().text(12));
    m_painter.setPen(colours().ink2);
    paintText(m_painter, QRectF(at(x - 12, y - 8), at(x + 12, y + 8)), Qt::AlignCenter, dependence);
}

void CircuitPen::capacitor(double x, double y) {
    strokes(2);
    m_painter.drawLine(at(x - 14, y), at(x + 14, y));
    m_painter.drawLine(at(x - 14, y + 7), at(x + 14, y + 7));
}

void CircuitPen::currentSource(double x, double top, double bottom) {
    strokes();
    const double middle = (top + bottom) / 2;
    m_painter.setBrush(colours().sheet);
    m_painter.drawEllipse(at(x, middle), px(18), px(18));
    m_painter.drawLine(at(x - 18, middle), at(x + 18, middle));
    wire(x, top, x, middle - 18);
    wire(x, middle + 18, x, bottom);
}

void CircuitPen::box(const QRectF& design, const QString& title, const QString& below) {
    const QRectF area = scaled(design);
    strokes();
    m_painter.setBrush(colours().field);
    m_painter.drawRect(area);
    m_painter.setFont(Theme::instance().text(12, true));
    const double room = area.width() - 6;
    const double lift = below.isEmpty() ? 0 : px(10);
    paintText(m_painter, area.translated(0, -lift), Qt::AlignCenter, fittedText(m_painter.font(), title, room));
    if (below.isEmpty()) return;
    m_painter.setFont(Theme::instance().text(12));
    m_painter.setPen(colours().ink2);
    paintText(m_painter, area.translated(0, lift), Qt::AlignCenter, fittedText(m_painter.font(), below, room));
}

void CircuitPen::amplifier(const QRectF& design, const QString& gain) {
    const QRectF area = scaled(design);
    strokes();
    m_painter.setBrush(colours().field);
    m_painter.drawRect(area);
    const QPointF corner = area.topLeft() + QPointF(px(8), px(8));
    m_painter.setBrush(Qt::NoBrush);
    m_painter.drawPolygon(QPolygonF({corner, corner + QPointF(px(12), px(6)), corner + QPointF(0, px(12))}));
    m_painter.setFont(Theme::instance().text(12));
    paintText(m_painter, area.adjusted(px(4), px(16), -px(4), 0), Qt::AlignCenter, gain);
}

void CircuitPen::converter(double x, double y, const QString& letter, const QString& codeText) {
    const double size = px(60);
    const QPointF pin = at(x, y);
    const QRectF area(pin.x(), pin.y() - size / 2, size, size);
    strokes();
    m_painter.setBrush(colours().field);
    m_painter.drawRect(area);
    m_painter.drawLine(area.bottomLeft(), area.topRight());
    m_painter.setFont(Theme::instance().text(14, true));
    paintText(m_painter, area.adjusted(px(7), px(4), 0, 0), Qt::AlignLeft | Qt::AlignTop, letter);
    paintText(m_painter, area.adjusted(0, 0, -px(7), -px(4)), Qt::AlignRight | Qt::AlignBottom, QStringLiteral("#"));
    m_painter.setFont(Theme::instance().text(14));
    paintText(m_painter, QRectF(area.left() - px(64), area.top() - px(24), area.width() + px(80), px(20)),
              Qt::AlignRight | Qt::AlignVCenter, codeText);
}

void CircuitPen::current(double x, double top, double bottom, const NumberText& value) {
    const QPointF from = at(x, top), to = at(x, bottom);
    m_painter.setPen(QPen(colours().ink2, 1.4));
    m_painter.drawLine(from, to);
    m_painter.setBrush(colours().ink2);
    m_painter.drawPolygon(QPolygonF({to + QPointF(0, 2), to + QPointF(-px(4), -px(7)), to + QPointF(px(4), -px(7))}));
    NumberStyle style;
    style.size = 13;
    style.ink = colours().ink2;
    paintNumber(m_painter, at(x + 9, (top + bottom) / 2 + 4), qs(value.digits), qs(value.unit), style);
}

void CircuitPen::caption(double x, double y, const QString& text, const QString& more) {
    m_painter.setFont(Theme::instance().caption());
    m_painter.setPen(colours().ink2);
    paintText(m_painter, at(x, y), text);
    if (more.isEmpty()) return;
    const double after = textWidth(m_painter.font(), text) + px(7);
    m_painter.setFont(Theme::instance().text(12));
    paintText(m_painter, at(x, y) + QPointF(after, 0), more);
}

void CircuitPen::text(double x, double y, const QString& text) {
    m_painter.setFont(Theme::instance().text(13));
    m_painter.setPen(colours().ink2);
    paintText(m_painter, at(x, y), text);
}

void CircuitPen::wrapped(const QRectF& design, const QString& text) {
    m_painter.setFont(Theme::instance().text(12));
    m_painter.setPen(colours().ink2);
    m_painter.drawText(scaled(design), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, text);
}

void CircuitPen::number(double x, double y, const ReadingText& value, double size, bool bold) {
    NumberStyle style;
    style.size = size;
    style.bold = bold;
    paintNumber(m_painter, at(x, y), qs(value.sign + value.value.digits), qs(value.value.unit), style);
}

}  // namespace fg::gui
