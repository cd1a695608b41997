#pragma once

#include <QColor>
#include <QPainter>
#include <QPointF>
#include <QString>

namespace fg::gui {

/// How a number is set. Sizes are design pixels.
struct NumberStyle {
    double size = 22;
    bool bold = false;
    double unitSize = 0;  ///< 0: about half the size, never below 12
    QColor ink = {};      ///< invalid: the theme's ink
    QColor unitInk = {};  ///< invalid: the theme's second ink
};

/// Paints digits in B612 Mono with tabular figures but narrow points and spaces, and the unit in B612 behind them.
/// `at` is the left end of the baseline. Returns the width painted.
double paintNumber(QPainter& painter, QPointF at, const QString& digits, const QString& unit, const NumberStyle& style);

/// The same, ending at `at`.
void paintNumberRight(QPainter& painter, QPointF at, const QString& digits, const QString& unit,
                      const NumberStyle& style);

/// The width that paintNumber() takes.
[[nodiscard]] double numberWidth(const QString& digits, const QString& unit, const NumberStyle& style);

}  // namespace fg::gui
