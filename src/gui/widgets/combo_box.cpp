#include "widgets/combo_box.h"

#include "theme/theme.h"

#include <QPainter>
#include <QStyleOptionComboBox>

namespace fg::gui {

void ComboBox::paintEvent(QPaintEvent* event) {
    QComboBox::paintEvent(event);
    QStyleOptionComboBox option;
    initStyleOption(&option);
    const QRectF place = style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxArrow, this);
    const QPointF middle = place.center();
    const double half = 4, deep = 2;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(isEnabled() ? colours().ink : colours().ink3, 1.4));
    painter.drawPolyline(
        QPolygonF{middle + QPointF(-half, -deep), middle + QPointF(0, deep), middle + QPointF(half, -deep)});
}

}  // namespace fg::gui
