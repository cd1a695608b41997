#include "handover_page/error_plot.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QPainter>

namespace fg::gui {

ErrorPlot::ErrorPlot(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("handover.plot"));
    setAccessibleName(tr("Error over the codes"));
    setMinimumHeight(px(64));
}

void ErrorPlot::show(ErrorPicture picture) {
    m_picture = std::move(picture);
    update();
}

void ErrorPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = colours();
    const ErrorPicture& of = m_picture;
    if (of.band.empty() || !of.unit) return;
    // The wanted error stands where it can be seen, whichever of both is larger.
    const double tall = std::max({of.wanted * 1.25, of.error.worst * 1.15, 1e-300});
    const double left = px(62), right = width() - px(10), top = px(8), bottom = height() - px(24);
    const auto first = static_cast<double>(of.range.min), last = static_cast<double>(of.range.max);
    const auto x = [&](double code) { return left + (right - left) * (code - first) / (last - first); };
    const auto y = [&](double error) { return (top + bottom) / 2 - (bottom - top) / 2 * error / tall; };
    painter.fillRect(QRectF(left, top, right - left, bottom - top), p.field);
    const double from = x(static_cast<double>(of.range.first)), to = x(static_cast<double>(of.range.last));
    for (const QRectF& beyond :
         {QRectF(left, top, from - left, bottom - top), QRectF(to, top, right - to, bottom - top)})
        painter.fillRect(beyond, QBrush(p.line, Qt::BDiagPattern));
    painter.setPen(QPen(p.rule, 1));
    painter.drawLine(QPointF(left, y(0)), QPointF(right, y(0)));
    painter.setPen(QPen(p.ink, 1, Qt::DashLine));
    for (const double wanted : {of.wanted, -of.wanted})
        if (of.wanted > 0) painter.drawLine(QPointF(left, y(wanted)), QPointF(right, y(wanted)));

    // Beyond the plot a curve runs along its edge.
    const auto outline = [&](const std::vector<CodeErrorBand>& curve) {
        QPolygonF points;
        for (const CodeErrorBand& one : curve)
            points << QPointF(x(static_cast<double>(one.code)), y(std::clamp(one.high, -tall, tall)));
        for (auto one = curve.rbegin(); one != curve.rend(); ++one)
            points << QPointF(x(static_cast<double>(one->code)), y(std::clamp(one->low, -tall, tall)));
        return points;
    };
    const QuantityColours& quantity = p.of(of.quantity);
    painter.setPen(QPen(quantity.line, 1.2));
    painter.setBrush(quantity.line);
    painter.drawPolygon(outline(of.band));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(p.ink, 1.2));
    if (!of.better.empty()) painter.drawPolygon(outline(of.better));
    painter.setPen(QPen(p.ink, 1.2, Qt::DotLine));
    QPolygonF real;
    for (const CodeErrorBand& one : of.real)
        real << QPointF(x(static_cast<double>(one.code)), y(std::clamp((one.low + one.high) / 2, -tall, tall)));
    painter.drawPolyline(real);

    const auto at = static_cast<double>(of.error.atCode);
    const auto here =
        std::min_element(of.band.begin(), of.band.end(), [&](const CodeErrorBand& a, const CodeErrorBand& b) {
            return std::abs(static_cast<double>(a.code) - at) < std::abs(static_cast<double>(b.code) - at);
        });
    const double worst = std::abs(here->low) > std::abs(here->high) ? here->low : here->high;
    painter.setPen(QPen(p.ink, 1.5));
    painter.setBrush(p.sheet);
    painter.drawEllipse(QPointF(x(at), y(std::clamp(worst, -tall, tall))), px(4), px(4));

    painter.setFont(Theme::instance().digits(12));
    painter.setPen(p.ink2);
    const auto label = [&](double error, const QString& text) {
        painter.drawText(QRectF(0, y(error) - px(9), left - px(6), px(18)), Qt::AlignRight | Qt::AlignVCenter, text);
    };
    const double marked = of.wanted > 0 ? of.wanted : of.error.worst;
    label(marked, QStringLiteral("+") + qs(plainNumber(marked, 3)));
    label(0, QStringLiteral("0 ") + qs(of.unit->symbol));
    label(-marked, QStringLiteral("−") + qs(plainNumber(marked, 3)));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignLeft | Qt::AlignTop,
                     QString::number(of.range.min));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignRight | Qt::AlignTop,
                     QString::number(of.range.max));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignHCenter | Qt::AlignTop,
                     tr("%1 … %2").arg(of.range.first).arg(of.range.last));
    paintFrame(painter,
               QRect(static_cast<int>(left), static_cast<int>(top), static_cast<int>(right - left),
                     static_cast<int>(bottom - top)),
               p.line);
}

}  // namespace fg::gui
