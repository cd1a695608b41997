#pragma once

#include "model/gauge_view.h"
#include "paint/number_painter.h"

#include <QPainter>
#include <QRegion>
#include <QString>
#include <vector>

namespace fg::gui {

/// A text of a circuit, and where it stands.
struct CircuitText {
    QString text;
    QRectF area;
    bool operator==(const CircuitText&) const = default;
};

/// Draws circuit symbols (IEC 60617) in design pixels on the picture's own grid, scaled with the text.
class CircuitPen {
  public:
    /// `only`: texts outside of it need not be drawn.
    CircuitPen(QPainter& painter, const QRegion& only) : m_painter(&painter), m_only(only) {}
    /// Lists the texts as well.
    CircuitPen(QPainter& painter, std::vector<CircuitText>& texts) : m_painter(&painter), m_texts(&texts) {}
    /// Draws nothing, and lists the texts.
    explicit CircuitPen(std::vector<CircuitText>& texts) : m_texts(&texts) {}

    /// A design point on the half pixel, for hairlines.
    [[nodiscard]] static QPointF at(double x, double y);

    void wire(double x1, double y1, double x2, double y2);
    void dot(double x, double y);
    void ground(double x, double y);
    /// Upright between two heights, or lying between two x.
    void resistor(double x, double top, double bottom);
    void lyingResistor(double left, double right, double y);
    /// One that depends on what is measured; `dependence` says which way ("−ϑ").
    void variableResistor(double x, double top, double bottom, const QString& dependence);
    /// An arm of a bridge, lying at an angle in degrees, with the way it goes.
    void tiltedResistor(double x, double y, double degrees, const QString& dependence);
    /// Plates at `y` and 7 below it.
    void capacitor(double x, double y);
    void currentSource(double x, double top, double bottom);
    /// A box of a part or a block with up to two lines of text.
    void box(const QRectF& design, const QString& title, const QString& below = {});
    /// Amplifier block: the triangle in a box, with its gain.
    void amplifier(const QRectF& design, const QString& gain);
    /// What turns a signal into a number: "U" for volts, "f", "T" or "n"; its input at the middle of the left side.
    void converter(double x, double y, const QString& letter, const QString& codeText);
    /// Arrow along a conductor with the current beside it.
    void current(double x, double top, double bottom, const NumberText& value);

    void caption(double x, double y, const QString& text, const QString& more = {});
    void text(double x, double y, const QString& text);
    void wrapped(const QRectF& design, const QString& text);
    void number(double x, double y, const ReadingText& value, double size, bool bold);

  private:
    void strokes(double width = 1.4);
    /// Is what lies in this area, and a line's width around it, to be drawn?
    [[nodiscard]] bool draws(const QRectF& area) const;
    /// Lists a text, and says whether it is to be drawn.
    [[nodiscard]] bool takes(const QString& text, const QRectF& area);
    void write(QPointF at, const QFont& font, const QColor& ink, const QString& text);
    void write(const QRectF& box, Qt::Alignment alignment, const QFont& font, const QColor& ink, const QString& text);
    void write(QPointF at, const NumberText& value, const QString& sign, const NumberStyle& style);

    QPainter* m_painter = nullptr;
    QRegion m_only;  // empty: everywhere
    std::vector<CircuitText>* m_texts = nullptr;
};

}  // namespace fg::gui
