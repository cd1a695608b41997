#include "handover/error_plot.h"

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

void ErrorPlot::show(const CodeChoice* choice, Quantity quantity) {
    m_curve.clear();
    m_quantity = quantity;
    if (choice && choice->code) {
        m_curve = choice->curve;
        m_range = choice->code->range, m_error = choice->code->error, m_wanted = choice->code->wanted;
        m_unit = choice->code->unit;
    }
    update();
}

void ErrorPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = colours();
    if (m_curve.empty() || !m_unit) return;
    // The wanted error stands where it can be seen, whichever of both is larger.
    const double tall = std::max({m_wanted * 1.25, m_error.worst * 1.15, 1e-300});
    const double left = px(62), right = width() - px(10), top = px(8), bottom = height() - px(24);
    const auto first = static_cast<double>(m_range.min), last = static_cast<double>(m_range.max);
    const auto x = [&](double code) { return left + (right - left) * (code - first) / (last - first); };
    const auto y = [&](double error) { return (top + bottom) / 2 - (bottom - top) / 2 * error / tall; };
    painter.fillRect(QRectF(left, top, right - left, bottom - top), p.field);
    const double from = x(static_cast<double>(m_range.first)), to = x(static_cast<double>(m_range.last));
    for (const QRectF& beyond :
         {QRectF(left, top, from - left, bottom - top), QRectF(to, top, right - to, bottom - top)})
        painter.fillRect(beyond, QBrush(p.line, Qt::BDiagPattern));
    painter.setPen(QPen(p.rule, 1));
    painter.drawLine(QPointF(left, y(0)), QPointF(right, y(0)));
    painter.setPen(QPen(p.ink, 1, Qt::DashLine));
    for (const double wanted : {m_wanted, -m_wanted})
        painter.drawLine(QPointF(left, y(wanted)), QPointF(right, y(wanted)));

    QPolygonF band;
    for (const CodeErrorBand& one : m_curve)
        band << QPointF(x(static_cast<double>(one.code)), y(std::min(one.high, tall)));
    for (auto one = m_curve.rbegin(); one != m_curve.rend(); ++one)
        band << QPointF(x(static_cast<double>(one->code)), y(std::max(one->low, -tall)));
    const QuantityColours& quantity = p.of(m_quantity);
    painter.setPen(QPen(quantity.line, 1.2));
    painter.setBrush(quantity.line);
    painter.drawPolygon(band);

    const auto at = static_cast<double>(m_error.atCode);
    const auto here =
        std::min_element(m_curve.begin(), m_curve.end(), [&](const CodeErrorBand& a, const CodeErrorBand& b) {
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
    label(m_wanted, QStringLiteral("+") + qs(plainNumber(m_wanted, 3)));
    label(0, QStringLiteral("0 ") + qs(m_unit->symbol));
    label(-m_wanted, QStringLiteral("−") + qs(plainNumber(m_wanted, 3)));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignLeft | Qt::AlignTop,
                     QString::number(m_range.min));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignRight | Qt::AlignTop,
                     QString::number(m_range.max));
    painter.drawText(QRectF(left, bottom + px(2), right - left, px(20)), Qt::AlignHCenter | Qt::AlignTop,
                     tr("%1 … %2").arg(m_range.first).arg(m_range.last));
    paintFrame(painter,
               QRect(static_cast<int>(left), static_cast<int>(top), static_cast<int>(right - left),
                     static_cast<int>(bottom - top)),
               p.line);
}

}  // namespace fg::gui
