#include "paint/number_painter.h"

#include "paint/text_painter.h"
#include "theme/theme.h"

#include <algorithm>
#include <map>
#include <QFontMetricsF>
#include <QGlyphRun>
#include <QRawFont>

namespace fg::gui {
namespace {

constexpr double kUnitGap = 4;

double unitSize(const NumberStyle& style) {
    return style.unitSize > 0 ? style.unitSize : std::max(12.0, style.size * 0.54);
}

/// One character as it is set.
struct Cell {
    quint32 glyph = 0;   ///< 0: the font has none
    double advance = 0;  ///< of the narrow cell
    double shift = 0;    ///< of a narrowed point, whose ink stands in the middle of it
};

/// The characters of a font that numbers were set in so far: laying each out anew took most of a frame's time.
class DigitFace {
  public:
    explicit DigitFace(const QFont& font) : m_font(font), m_raw(QRawFont::fromFont(font)), m_metrics(font) {}
    [[nodiscard]] const QRawFont& raw() const { return m_raw; }

    const Cell& cellOf(QChar c) {
        const auto it = m_cells.find(c);
        if (it != m_cells.end()) return it->second;
        const auto glyphs = m_raw.glyphIndexesForString(QString(c));
        Cell cell{glyphs.isEmpty() ? 0 : glyphs.first(), m_metrics.horizontalAdvance(c), 0};
        const double em = m_font.pixelSize(), own = cell.advance;
        // The font's own cell leaves holes around points and spaces; digits keep the full cell so that columns line up.
        if (c == QLatin1Char('.') || c == QLatin1Char(',') || c == QLatin1Char(':')) cell.advance = 0.30 * em;
        if (c == QLatin1Char(' ')) cell.advance = 0.32 * em;
        if (cell.advance < own && c != QLatin1Char(' '))
            cell.shift = m_metrics.boundingRect(c).center().x() - cell.advance / 2;
        return m_cells.emplace(c, cell).first->second;
    }

  private:
    QFont m_font;
    QRawFont m_raw;
    QFontMetricsF m_metrics;
    std::map<QChar, Cell> m_cells;
};

DigitFace& faceOf(const QFont& font) {
    // Never taken apart: it would outlive what fonts stand on.
    static auto& faces = *new std::map<std::pair<int, bool>, DigitFace>;
    const std::pair key(font.pixelSize(), font.bold());
    const auto it = faces.find(key);
    return it != faces.end() ? it->second : faces.emplace(key, DigitFace(font)).first->second;
}

}  // namespace

double numberWidth(const QString& digits, const QString& unit, const NumberStyle& style) {
    DigitFace& face = faceOf(Theme::instance().digits(style.size, style.bold));
    double width = 0;
    for (const QChar c : digits) width += face.cellOf(c).advance;
    if (!unit.isEmpty()) width += px(kUnitGap) + textWidth(Theme::instance().text(unitSize(style)), unit);
    return width;
}

double paintNumber(QPainter& painter, QPointF at, const QString& digits, const QString& unit,
                   const NumberStyle& style) {
    const QFont font = Theme::instance().digits(style.size, style.bold);
    DigitFace& face = faceOf(font);
    painter.setFont(font);
    painter.setPen(style.ink.isValid() ? style.ink : colours().ink);
    double x = at.x();
    QList<quint32> glyphs;
    QList<QPointF> places;
    for (const QChar c : digits) {
        const Cell& cell = face.cellOf(c);
        const QPointF place(x - cell.shift, at.y());
        if (cell.glyph == 0) {
            painter.drawText(place, QString(c));
        } else if (c != QLatin1Char(' ')) {
            glyphs << cell.glyph;
            places << place;
        }
        x += cell.advance;
    }
    if (!glyphs.isEmpty()) {
        QGlyphRun run;
        run.setRawFont(face.raw());
        run.setGlyphIndexes(glyphs);
        run.setPositions(places);
        painter.drawGlyphRun({}, run);
    }
    if (!unit.isEmpty()) {
        x += px(kUnitGap);
        painter.setFont(Theme::instance().text(unitSize(style)));
        painter.setPen(style.unitInk.isValid() ? style.unitInk : colours().ink2);
        paintText(painter, QPointF(x, at.y()), unit);
        x += textWidth(painter.font(), unit);
    }
    return x - at.x();
}

void paintNumberRight(QPainter& painter, QPointF at, const QString& digits, const QString& unit,
                      const NumberStyle& style) {
    paintNumber(painter, at - QPointF(numberWidth(digits, unit, style), 0), digits, unit, style);
}

}  // namespace fg::gui
