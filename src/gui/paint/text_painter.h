#pragma once

#include <QPainter>
#include <QString>

namespace fg::gui {

/// One line of text in the painter's font and pen, with the left end of its baseline at `at`. What was painted lately
/// is kept laid out: a window that follows a board paints the same words many times a second.
void paintText(QPainter& painter, QPointF at, const QString& text);

/// The same within a box.
void paintText(QPainter& painter, const QRectF& box, Qt::Alignment alignment, const QString& text);

/// The width that paintText() takes in a font.
[[nodiscard]] double textWidth(const QFont& font, const QString& text);

/// The text, or as much of its beginning as fits into the room, with "…" behind it.
[[nodiscard]] QString fittedText(const QFont& font, const QString& text, double room);

}  // namespace fg::gui
