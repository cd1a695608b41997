#include "circuits/circuit_pen.h"
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

bool CircuitPen::draws(const QRectF& area) const {
    return m_painter && (m_only.isEmpty() || m_only.intersects(area.toAlignedRect().adjusted(-3, -3, 3, 3)));
}

bool CircuitPen::takes(const QString& text, const QRectF& area) {
    if (m_texts) m_texts->push_back({text, area});
    return draws(area);
}

void CircuitPen::write(QPointF at, const QFont& font, const QColor& ink, const QString& text) {
    const double size = font.pixelSize();
    if (!takes(text, {at.x() - 2, at.y() - 1.2 * size, textWidth(font, text) + 4, 1.6 * size})) return;
    m_painter->setFont(font);
    m_painter->setPen(ink);
    paintText(*m_painter, at, text);
}

void CircuitPen::write(const QRectF& box, Qt::Alignment alignment, const QFont& font, const QColor& ink,
                       const QString& text) {
    if (!takes(text, box.adjusted(-2, -4, 2, 4))) return;
    m_painter->setFont(font);
    m_painter->setPen(ink);
    paintText(*m_painter, box, alignment, text);
}

void CircuitPen::write(QPointF at, const NumberText& value, const QString& sign, const NumberStyle& style) {
    const QString digits = sign + qs(value.digits), unit = qs(value.unit);
    const double size = px(style.size);
    if (!takes(digits + unit, {at.x() - 2, at.y() - 1.2 * size, numberWidth(digits, unit, style) + 4, 1.6 * size}))
        return;
    paintNumber(*m_painter, at, digits, unit, style);
}

void CircuitPen::strokes(double width) {
    m_painter->setPen(QPen(colours().ink, width, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
    m_painter->setBrush(Qt::NoBrush);
}

void CircuitPen::wire(double x1, double y1, double x2, double y2) {
    const QPointF from = at(x1, y1), to = at(x2, y2);
    if (!draws(QRectF(from, to).normalized())) return;
    strokes();
    m_painter->drawLine(from, to);
}

void CircuitPen::dot(double x, double y) {
    if (!draws({at(x - 4, y - 4), at(x + 4, y + 4)})) return;
    m_painter->setPen(Qt::NoPen);
    m_painter->setBrush(colours().ink);
    m_painter->drawEllipse(at(x, y), px(4), px(4));
}

void CircuitPen::ground(double x, double y) {
    wire(x, y - 8, x, y);
    for (int i = 0; i < 3; ++i) wire(x - 13 + 4 * i, y + 4 * i, x + 13 - 4 * i, y + 4 * i);
}

void CircuitPen::resistor(double x, double top, double bottom) {
    const QRectF area(at(x - 8, top), at(x + 8, bottom));
    if (!draws(area)) return;
    strokes();
    m_painter->setBrush(colours().sheet);
    m_painter->drawRect(area);
}

void CircuitPen::lyingResistor(double left, double right, double y) {
    const QRectF area(at(left, y - 8), at(right, y + 8));
    if (!draws(area)) return;
    strokes();
    m_painter->setBrush(colours().sheet);
    m_painter->drawRect(area);
}

void CircuitPen::variableResistor(double x, double top, double bottom, const QString& dependence) {
    resistor(x, top, bottom);
    if (draws({at(x - 24, top - 6), at(x + 16, bottom + 2)})) {
        strokes();
        m_painter->drawPolyline(QPolygonF({at(x - 24, bottom + 2), at(x - 14, bottom + 2), at(x + 16, top - 6)}));
    }
    write(at(x + 17, top - 5), Theme::instance().text(13), colours().ink, dependence);
}

void CircuitPen::tiltedResistor(double x, double y, double degrees, const QString& dependence) {
    if (m_painter) {
        strokes();
        m_painter->save();
        m_painter->setRenderHint(QPainter::Antialiasing);
        m_painter->translate(at(x, y));
        m_painter->rotate(degrees);
        m_painter->setBrush(colours().sheet);
        m_painter->drawRect(QRectF(-px(17), -px(7), px(34), px(14)));
        m_painter->restore();
    }
    write(QRectF(at(x - 12, y - 8), at(x + 12, y + 8)), Qt::AlignCenter, Theme::instance().text(12), colours().ink2,
          dependence);
}

void CircuitPen::capacitor(double x, double y) {
    if (!draws({at(x - 14, y), at(x + 14, y + 7)})) return;
    strokes(2);
    m_painter->drawLine(at(x - 14, y), at(x + 14, y));
    m_painter->drawLine(at(x - 14, y + 7), at(x + 14, y + 7));
}

void CircuitPen::currentSource(double x, double top, double bottom) {
    if (!draws({at(x - 18, top), at(x + 18, bottom)})) return;
    strokes();
    const double middle = (top + bottom) / 2;
    m_painter->setBrush(colours().sheet);
    m_painter->drawEllipse(at(x, middle), px(18), px(18));
    m_painter->drawLine(at(x - 18, middle), at(x + 18, middle));
    wire(x, top, x, middle - 18);
    wire(x, middle + 18, x, bottom);
}

void CircuitPen::box(const QRectF& design, const QString& title, const QString& below) {
    const QRectF area = scaled(design);
    if (draws(area)) {
        strokes();
        m_painter->setBrush(colours().field);
        m_painter->drawRect(area);
    }
    const QFont bold = Theme::instance().text(12, true), plain = Theme::instance().text(12);
    const double room = area.width() - 6;
    const double lift = below.isEmpty() ? 0 : px(10);
    write(area.translated(0, -lift), Qt::AlignCenter, bold, colours().ink, fittedText(bold, title, room));
    if (below.isEmpty()) return;
    write(area.translated(0, lift), Qt::AlignCenter, plain, colours().ink2, fittedText(plain, below, room));
}

void CircuitPen::amplifier(const QRectF& design, const QString& gain) {
    const QRectF area = scaled(design);
    if (draws(area)) {
        strokes();
        m_painter->setBrush(colours().field);
        m_painter->drawRect(area);
        const QPointF corner = area.topLeft() + QPointF(px(8), px(8));
        m_painter->setBrush(Qt::NoBrush);
        m_painter->drawPolygon(QPolygonF({corner, corner + QPointF(px(12), px(6)), corner + QPointF(0, px(12))}));
    }
    write(area.adjusted(px(4), px(16), -px(4), 0), Qt::AlignCenter, Theme::instance().text(12), colours().ink, gain);
}

void CircuitPen::converter(double x, double y, const QString& letter, const QString& codeText) {
    const double size = px(60);
    const QPointF pin = at(x, y);
    const QRectF area(pin.x(), pin.y() - size / 2, size, size);
    if (draws(area)) {
        strokes();
        m_painter->setBrush(colours().field);
        m_painter->drawRect(area);
        m_painter->drawLine(area.bottomLeft(), area.topRight());
    }
    const QFont bold = Theme::instance().text(13, true), plain = Theme::instance().text(14);
    write(area.adjusted(px(7), px(4), 0, 0), Qt::AlignLeft | Qt::AlignTop, bold, colours().ink, letter);
    write(area.adjusted(0, 0, -px(7), -px(4)), Qt::AlignRight | Qt::AlignBottom, bold, colours().ink,
          QStringLiteral("#"));
    write(QRectF(area.left() - px(64), area.top() - px(24), area.width() + px(80), px(20)),
          Qt::AlignRight | Qt::AlignVCenter, plain, colours().ink, codeText);
}

void CircuitPen::current(double x, double top, double bottom, const NumberText& value) {
    const QPointF from = at(x, top), to = at(x, bottom);
    if (draws(QRectF(from, to).normalized().adjusted(-px(4), -px(7), px(4), 2))) {
        m_painter->setPen(QPen(colours().ink2, 1.4));
        m_painter->drawLine(from, to);
        m_painter->setBrush(colours().ink2);
        m_painter->drawPolygon(
            QPolygonF({to + QPointF(0, 2), to + QPointF(-px(4), -px(7)), to + QPointF(px(4), -px(7))}));
    }
    NumberStyle style;
    style.size = 13;
    style.ink = colours().ink2;
    write(at(x + 9, (top + bottom) / 2 + 4), value, {}, style);
}

void CircuitPen::caption(double x, double y, const QString& text, const QString& more) {
    const QFont font = Theme::instance().caption();
    write(at(x, y), font, colours().ink2, text);
    if (more.isEmpty()) return;
    write(at(x, y) + QPointF(textWidth(font, text) + px(7), 0), Theme::instance().text(12), colours().ink2, more);
}

void CircuitPen::text(double x, double y, const QString& text) {
    write(at(x, y), Theme::instance().text(13), colours().ink2, text);
}

void CircuitPen::wrapped(const QRectF& design, const QString& text) {
    if (!takes(text, scaled(design))) return;
    m_painter->setFont(Theme::instance().text(12));
    m_painter->setPen(colours().ink2);
    m_painter->drawText(scaled(design), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, text);
}

void CircuitPen::number(double x, double y, const ReadingText& value, double size, bool bold) {
    NumberStyle style;
    style.size = size;
    style.bold = bold;
    write(at(x, y), value.value, qs(value.sign), style);
}

}  // namespace fg::gui
