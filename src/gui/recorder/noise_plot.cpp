#include "recorder/noise_plot.h"

#include "theme/theme.h"
#include "widgets/text.h"

#include <QPainter>

namespace fg::gui {

NoisePlot::NoisePlot(QWidget* parent) : QWidget(parent) {}

QSize NoisePlot::sizeHint() const { return {px(320), px(170)}; }

void NoisePlot::show(NoisePicture picture, const QString& title) {
    m_picture = std::move(picture);
    m_title = title;
    setFixedHeight(px(170));
    setAccessibleName(title);
    setVisible(!m_picture.isEmpty());
    update();
}

void NoisePlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = colours();
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    const QFontMetricsF metrics(painter.font());
    QRectF title;
    painter.drawText(QRectF(0, 0, width(), height()), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, m_title, &title);
    const double top = title.height() + px(8);
    const QRectF box(px(70), top, width() - px(84), height() - top - px(22));
    painter.fillRect(box, p.field);
    painter.setFont(Theme::instance().digits(12));
    const QFontMetricsF digits(painter.font());
    const auto at = [&](double x, double y) {
        return QPointF(box.left() + x * box.width(), box.bottom() - y * box.height());
    };
    for (std::size_t i = 0; i < m_picture.across.size(); ++i) {
        const NoisePicture::Tick& tick = m_picture.across[i];
        if (tick.text.empty()) continue;
        painter.setPen(p.line);
        painter.drawLine(at(tick.place, 0), at(tick.place, 1));
        painter.setPen(p.ink2);
        const bool isLast = i + 1 == m_picture.across.size();
        const QString text = qs(tick.text) + (isLast ? QLatin1Char(' ') + qs(m_picture.acrossUnit) : QString());
        const double wide = digits.horizontalAdvance(text);
        painter.drawText(QPointF(std::min(at(tick.place, 0).x() - wide / 2, width() - wide), box.bottom() + px(16)),
                         text);
    }
    for (std::size_t i = 0; i < m_picture.up.size(); ++i) {
        const NoisePicture::Tick& tick = m_picture.up[i];
        if (tick.text.empty()) continue;
        painter.setPen(p.line);
        painter.drawLine(at(0, tick.place), at(1, tick.place));
        painter.setPen(p.ink2);
        const QString text = qs(tick.text);
        painter.drawText(QPointF(box.left() - px(6) - digits.horizontalAdvance(text),
                                 at(0, tick.place).y() + digits.capHeight() / 2),
                         text);
    }
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    painter.drawText(QPointF(box.left() + px(6), box.top() + metrics.ascent() + px(2)), qs(m_picture.upUnit));
    painter.setClipRect(box);
    double lowest = -1e9;
    for (const NoisePicture::Line& line : m_picture.lines) {
        QPolygonF path;
        for (const auto& [x, y] : line.points) path << at(x, y);
        const QColor colour = p.of(line.quantity).line;
        painter.setPen(QPen(colour, 1.6));
        painter.drawPolyline(path);
        // At its end, below the name before where both end at one height.
        const double wide = metrics.horizontalAdvance(qs(line.name));
        double y = std::clamp(path.last().y() - px(5), box.top() + px(30), box.bottom() - px(4));
        if (std::abs(y - lowest) < px(14)) y = lowest + px(14);
        lowest = y;
        painter.drawText(QPointF(box.right() - wide - px(6), y), qs(line.name));
    }
}

}  // namespace fg::gui
