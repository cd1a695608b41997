#include "theme/flat_style.h"

#include "theme/theme.h"

#include <algorithm>
#include <QIconEngine>
#include <QPainter>
#include <QStyleFactory>

namespace fg::gui {
namespace {

/// Two chevrons: there is more than fits. Drawn whenever it is asked for, in the ink of the theme then.
class MoreMark final : public QIconEngine {
  public:
    void paint(QPainter* painter, const QRect& rect, QIcon::Mode, QIcon::State) override {
        const double side = std::min(rect.width(), rect.height());
        const auto at = [&](double x, double y) { return QPointF(rect.x() + side * x / 16, rect.y() + side * y / 16); };
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setPen(QPen(colours().ink2, side / 10));
        for (const double x : {3.5, 8.5}) painter->drawPolyline(QPolygonF{at(x, 4), at(x + 4, 8), at(x, 12)});
        painter->restore();
    }
    QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
        QPixmap picture(size);
        picture.fill(Qt::transparent);
        QPainter painter(&picture);
        paint(&painter, QRect(QPoint(0, 0), size), mode, state);
        return picture;
    }
    [[nodiscard]] QIconEngine* clone() const override { return new MoreMark(*this); }
};

}  // namespace

FlatStyle::FlatStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

QIcon FlatStyle::standardIcon(StandardPixmap which, const QStyleOption* option, const QWidget* widget) const {
    if (which == SP_ToolBarHorizontalExtensionButton) return QIcon(new MoreMark);
    return QProxyStyle::standardIcon(which, option, widget);
}

}  // namespace fg::gui
