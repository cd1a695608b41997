#include "paint/number_painter.h"

#include "theme/theme.h"

#include <algorithm>
#include <QFontMetricsF>

namespace fg::gui {
namespace {

constexpr double kUnitGap = 4;

double unitSize(const NumberStyle& style) {
    return style.unitSize > 0 ? style.unitSize : std::max(12.0, style.size * 0.54);
}

/// The font's own cell leaves holes around points and spaces; digits keep the full cell so that columns line up.
double advanceOf(QChar c, double em, const QFontMetricsF& metrics) {
    if (c == QLatin1Char('.') || c == QLatin1Char(',') || c == QLatin1Char(':')) return 0.30 * em;
    if (c == QLatin1Char(' ')) return 0.32 * em;
    return metrics.horizontalAdvance(c);
}

}  // namespace

double numberWidth(const QString& digits, const QString& unit, const NumberStyle& style) {
    const QFont font = Theme::instance().digits(style.size, style.bold);
    const QFontMetricsF metrics(font);
    double width = 0;
    for (const QChar c : digits) width += advanceOf(c, font.pixelSize(), metrics);
    if (!unit.isEmpty())
        width += px(kUnitGap) + QFontMetricsF(Theme::instance().text(unitSize(style))).horizontalAdvance(unit);
    return width;
}

double paintNumber(QPainter& painter, QPointF at, const QString& digits, const QString& unit,
                   const NumberStyle& style) {
    const QFont font = Theme::instance().digits(style.size, style.bold);
    const QFontMetricsF metrics(font);
    painter.setFont(font);
    painter.setPen(style.ink.isValid() ? style.ink : colours().ink);
    double x = at.x();
    for (const QChar c : digits) {
        const double advance = advanceOf(c, font.pixelSize(), metrics);
        // A narrowed point stands with its ink in the middle of its narrow cell.
        const bool narrow = advance < metrics.horizontalAdvance(c) && c != QLatin1Char(' ');
        const double shift = narrow ? metrics.boundingRect(c).center().x() - advance / 2 : 0;
        painter.drawText(QPointF(x - shift, at.y()), QString(c));
        x += advance;
    }
    if (!unit.isEmpty()) {
        x += px(kUnitGap);
        painter.setFont(Theme::instance().text(unitSize(style)));
        painter.setPen(style.unitInk.isValid() ? style.unitInk : colours().ink2);
        painter.drawText(QPointF(x, at.y()), unit);
        x += QFontMetricsF(painter.font()).horizontalAdvance(unit);
    }
    return x - at.x();
}

void paintNumberRight(QPainter& painter, QPointF at, const QString& digits, const QString& unit,
                      const NumberStyle& style) {
    paintNumber(painter, at - QPointF(numberWidth(digits, unit, style), 0), digits, unit, style);
}

}  // namespace fg::gui
