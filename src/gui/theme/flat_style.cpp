#include "theme/flat_style.h"

#include "theme/theme.h"

#include <QPainter>
#include <QStyleFactory>

namespace fg::gui {
namespace {

/// Two chevrons: there is more than fits.
QIcon moreMark() {
    constexpr int kSize = 16, kFine = 4;
    QPixmap mark(kSize * kFine, kSize * kFine);
    mark.setDevicePixelRatio(kFine);
    mark.fill(Qt::transparent);
    QPainter painter(&mark);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colours().ink2, 1.6));
    for (const double x : {3.5, 8.5}) painter.drawPolyline(QPolygonF{QPointF(x, 4), QPointF(x + 4, 8), QPointF(x, 12)});
    return mark;
}

}  // namespace

FlatStyle::FlatStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

QIcon FlatStyle::standardIcon(StandardPixmap which, const QStyleOption* option, const QWidget* widget) const {
    if (which == SP_ToolBarHorizontalExtensionButton) return moreMark();
    return QProxyStyle::standardIcon(which, option, widget);
}

}  // namespace fg::gui
