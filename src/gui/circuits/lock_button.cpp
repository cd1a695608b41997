#include "circuits/lock_button.h"

#include "theme/theme.h"

#include <QPainter>

namespace fg::gui {

LockButton::LockButton(const QString& name, QWidget* parent) : QAbstractButton(parent) {
    setCheckable(true);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Let the solver choose %1").arg(name));
    setToolTip(tr("Closed: you fix %1. Open: the solver chooses it (Alt+L in the entry).").arg(name));
}

void LockButton::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    painter.fillRect(rect(), p.field);
    painter.setPen(QPen(p.rule));
    painter.drawLine(QPointF(0, 0.5), QPointF(width(), 0.5));
    painter.drawLine(QPointF(0, height() - 0.5), QPointF(width(), height() - 0.5));
    painter.drawLine(QPointF(width() - 0.5, 0), QPointF(width() - 0.5, height()));
    painter.setRenderHint(QPainter::Antialiasing);
    const bool open = isChecked();
    const double w = px(10), h = px(8), x = (width() - w) / 2.0, y = height() / 2.0 - px(1);
    painter.setPen(QPen(open ? p.ink : p.brass, 1.4));
    // The shackle: over the body when closed, swung to the right when open.
    const double shift = open ? px(5) : 0;
    painter.setBrush(Qt::NoBrush);
    painter.drawArc(QRectF(x + px(2) + shift, y - px(5), w - px(4), px(9)), 0, 180 * 16);
    painter.setBrush(open ? QBrush(Qt::NoBrush) : QBrush(p.brass));
    painter.drawRect(QRectF(x, y, w, h));
    if (!hasFocus()) return;
    painter.setPen(QPen(p.ink, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(rect()).adjusted(1.5, 2.5, -2.5, -2.5));
}

}  // namespace fg::gui
