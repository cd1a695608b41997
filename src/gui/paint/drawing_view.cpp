#include "paint/drawing_view.h"

#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QPainter>
#include <QPolygonF>

namespace fg::gui {

DrawingView::DrawingView(QWidget* parent) : QWidget(parent) {
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void DrawingView::show(const Drawing& drawing) {
    m_drawing = drawing;
    setAccessibleName(qs(drawing.title));
    updateGeometry();
    update();
}

double DrawingView::scaleFor(int width) const {
    const double own = px(100) / 100.0;
    return m_drawing.width > 0 ? std::min(own, width / m_drawing.width) : own;
}

QSize DrawingView::sizeHint() const {
    const double own = px(100) / 100.0;
    return QSizeF(own * m_drawing.width, own * m_drawing.height).toSize();
}

int DrawingView::heightForWidth(int width) const {
    return static_cast<int>(std::ceil(scaleFor(width) * m_drawing.height));
}

void DrawingView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = scaleFor(width());
    const auto at = [&](const Drawing::Point& one) { return QPointF(scale * one.x, scale * one.y); };
    for (const Drawing::Stroke& stroke : m_drawing.strokes) {
        painter.setPen(stroke.isThin ? QPen(colours().ink3, 1) : QPen(colours().ink, 1.5));
        QPolygonF points;
        for (const Drawing::Point& one : stroke.points) points << at(one);
        stroke.isClosed ? painter.drawPolygon(points) : painter.drawPolyline(points);
    }
    painter.setFont(Theme::instance().text(13));
    const QFontMetricsF metrics(painter.font());
    for (const Drawing::Label& label : m_drawing.labels) {
        painter.setPen(label.isFaint ? colours().ink2 : colours().ink);
        const QString text = qs(label.text);
        QPointF place = at(label.at);
        if (label.side == Drawing::Label::Side::Middle) place.rx() -= metrics.horizontalAdvance(text) / 2;
        if (label.side == Drawing::Label::Side::Right) place.rx() -= metrics.horizontalAdvance(text);
        painter.drawText(place, text);
    }
}

}  // namespace fg::gui
