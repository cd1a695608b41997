#include "widgets/option_table.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "theme/theme.h"
#include "units/number_format.h"

namespace fg::gui {
namespace {

constexpr double kRow = 24;
constexpr double kHead = 22;

QString qs(const std::string& text) { return QString::fromStdString(text); }
QString qs(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }

/// Right edges of the numeric columns as shares of the width.
constexpr std::array kRight{0.16, 0.31, 0.44, 0.57, 0.70, 0.84};

}  // namespace

OptionTable::OptionTable(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("wiring.options"));
    setAccessibleName(tr("Standard values for R1"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

QSize OptionTable::sizeHint() const { return {px(500), px(kHead + kRow * static_cast<double>(m_options.size()) + 2)}; }

void OptionTable::show(const std::vector<SensorDividerOption>& options, double fixed_ohm, const Unit& unit) {
    const bool resized = options.size() != m_options.size();
    m_options = options;
    m_fixed_ohm = fixed_ohm;
    m_unit = &unit;
    m_row = std::clamp(m_row, 0, std::max(0, static_cast<int>(options.size()) - 1));
    if (resized) updateGeometry();
    update();
}

void OptionTable::paintEvent(QPaintEvent*) {
    if (!m_unit) return;
    QPainter painter(this);
    const Palette& p = colours();
    const QString unit = qs(m_unit->symbol);
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    const std::array heads{QStringLiteral("R1"), tr("worst"), tr("at"), tr("at mid-span"), tr("range used"), tr("warms itself")};
    for (std::size_t i = 0; i < heads.size(); ++i)
        painter.drawText(QRectF(0, 0, width() * kRight[i], px(kHead) - 4), Qt::AlignRight | Qt::AlignVCenter, heads[i]);
    painter.drawText(QRectF(width() * 0.86, 0, width() * 0.14, px(kHead) - 4), Qt::AlignLeft | Qt::AlignVCenter, tr("against the first"));
    paintRule(painter, 0, width(), px(kHead) - 2, p.rule);
    for (std::size_t i = 0; i < m_options.size(); ++i) {
        const SensorDividerOption& option = m_options[i];
        const double top = px(kHead) + static_cast<double>(i) * px(kRow);
        const bool chosen = std::abs(option.fixed_ohm - m_fixed_ohm) < 1e-6 * m_fixed_ohm;
        if (chosen) painter.fillRect(QRectF(0, top, width(), px(kRow)), p.brassWash);
        if (chosen) painter.fillRect(QRectF(0, top, px(4), px(kRow)), p.brass);
        paintRule(painter, 0, width(), top + px(kRow) - 1, p.line);
        NumberStyle style;
        style.size = 14;
        style.unitSize = 12;
        NumberStyle strong = style;
        strong.bold = chosen;
        const double y = top + px(17);
        painter.setFont(Theme::instance().text(13));
        painter.setPen(p.ink2);
        painter.drawText(QPointF(px(10), y), QString::number(i + 1));
        const NumberText ohm = shortEngineering(option.fixed_ohm, Quantity::Resistance);
        paintNumberRight(painter, {width() * kRight[0], y}, qs(ohm.digits), qs(ohm.unit), strong);
        paintNumberRight(painter, {width() * kRight[1], y}, qs(significantDigits(option.worstCounts, 3)), {}, strong);
        paintNumberRight(painter, {width() * kRight[2], y}, qs(plainNumber(option.worstAt, 4)), unit, style);
        paintNumberRight(painter, {width() * kRight[3], y}, qs(significantDigits(option.middleCounts, 3)), {}, style);
        paintNumberRight(painter, {width() * kRight[4], y}, qs(fixedDigits(100 * option.rangeUsed, 0)), QStringLiteral("%"), style);
        const bool warms = option.selfHeating_K > 0;
        paintNumberRight(painter, {width() * kRight[5], y},
                         warms ? qs(significantDigits(m_unit->differenceFromCanonical(option.selfHeating_K), 2)) : QStringLiteral("–"),
                         warms ? unit : QString(), style);
        painter.setFont(Theme::instance().text(13, chosen));
        painter.setPen(p.ink);
        const QString loss = chosen   ? tr("chosen")
                             : i == 0 ? tr("best")
                                      : QStringLiteral("−%1 % counts").arg(std::round(100 * option.lossToFirst));
        painter.drawText(QPointF(width() * 0.86, y), loss);
        if (hasFocus() && static_cast<int>(i) == m_row) {
            painter.setPen(QPen(p.ink, 1, Qt::DotLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(QRectF(6.5, top + 1.5, width() - 9, px(kRow) - 4));
        }
    }
}

void OptionTable::mousePressEvent(QMouseEvent* event) {
    const int row = static_cast<int>((event->position().y() - px(kHead)) / px(kRow));
    if (event->position().y() < px(kHead) || row >= static_cast<int>(m_options.size())) return;
    m_row = row;
    emit taken(m_options[static_cast<std::size_t>(row)].fixed_ohm);
}

void OptionTable::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_options.size()) - 1;
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up) {
        m_row = std::clamp(m_row + (event->key() == Qt::Key_Down ? 1 : -1), 0, std::max(0, last));
        return update();
    }
    const bool takes = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space;
    if (takes && last >= 0)
        emit taken(m_options[static_cast<std::size_t>(m_row)].fixed_ohm);
    else
        QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
