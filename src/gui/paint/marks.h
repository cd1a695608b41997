#pragma once

#include "findings/finding.h"

#include <optional>
#include <QPainter>
#include <QRectF>
#include <QString>

namespace fg::gui {

/// The shape of a severity in ink: fault a filled square with a bar, doubt a filled triangle, hint a hollow diamond,
/// care a hollow hexagon.
void paintSeverity(QPainter& painter, Severity severity, const QRectF& box);

/// The word that always stands with the shape: "Fault", "Doubt", "Hint", "Care".
[[nodiscard]] QString severityWord(Severity severity);

/// The gauge mark: eleven ticks at the left, a pointer at `position` (0 bottom … 1 top; nothing: no pointer; hollow
/// when stale).
void paintGaugeMark(QPainter& painter, const QRectF& box, const QColor& colour, std::optional<double> position,
                    bool hollow);

/// 1 px frame on the half pixel.
void paintFrame(QPainter& painter, const QRectF& box, const QColor& colour, double width = 1);

/// Horizontal hairline.
void paintRule(QPainter& painter, double x1, double x2, double y, const QColor& colour);

}  // namespace fg::gui
