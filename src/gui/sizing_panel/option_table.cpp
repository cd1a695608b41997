#include "sizing_panel/option_table.h"
#include "paint/marks.h"
#include "paint/number_painter.h"
#include "sizing/gauge_solvers.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kOptionRow = 24, kOptionHead = 22;
constexpr std::size_t kMostColumns = 7;
/// Room for the row's number, and for its state at the right.
constexpr double kNumberWidth = 22, kStateWidth = 86;

bool holds(const NamedValues& values, const std::string& name) {
    return std::any_of(values.begin(), values.end(), [&](const auto& entry) { return entry.first == name; });
}

}  // namespace

OptionTable::OptionTable(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("sizing.options"));
    setAccessibleName(tr("Standard values, best first"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setMouseTracking(true);
}

QSize OptionTable::sizeHint() const {
    return {px(500), px(kOptionHead + kOptionRow * static_cast<double>(m_options.size()) + 2)};
}

void OptionTable::show(const std::vector<SizingOption>& options, int taken) {
    const bool resized = options.size() != m_options.size();
    m_options = options;
    m_taken = taken;
    m_columns.clear();
    if (!options.empty()) {
        // What is to be taken, then what it gives at worst, then nominally what the worst case does not say.
        const SizingOption& first = options.front();
        for (const auto& [name, value] : first.values) m_columns.push_back({name, true, false, qs(namedLabel(name))});
        for (const auto& [name, value] : first.worst)
            m_columns.push_back(
                {name, false, true, (holds(first.nominal, name) ? tr("worst ") : QString()) + qs(namedLabel(name))});
        for (const auto& [name, value] : first.nominal)
            if (!holds(first.worst, name) || m_columns.size() < 5)
                m_columns.push_back({name, false, false, qs(namedLabel(name))});
        if (m_columns.size() > kMostColumns) m_columns.resize(kMostColumns);
    }
    m_row = std::clamp(m_row, 0, std::max(0, static_cast<int>(options.size()) - 1));
    if (taken >= 0) m_row = taken;
    if (resized) updateGeometry();
    emit rowChanged(m_row);
    update();
}

QString OptionTable::cell(const SizingOption& option, const Column& column) const {
    const NamedValues& values = column.isValue ? option.values : column.isWorst ? option.worst : option.nominal;
    for (const auto& [name, value] : values)
        if (name == column.name) return qs(namedText(name, value));
    return QStringLiteral("–");
}

void OptionTable::paintRow(QPainter& painter, int row, double top) const {
    const Palette& p = colours();
    const SizingOption& option = m_options[static_cast<std::size_t>(row)];
    const bool chosen = row == m_taken;
    if (chosen) painter.fillRect(QRectF(0, top, width(), px(kOptionRow)), p.brassWash);
    if (chosen) painter.fillRect(QRectF(0, top, px(4), px(kOptionRow)), p.brass);
    paintRule(painter, 0, width(), top + px(kOptionRow) - 1, p.line);
    const double y = top + px(17),
                 step = (width() - px(kNumberWidth + kStateWidth)) / static_cast<double>(m_columns.size());
    painter.setFont(Theme::instance().text(13));
    painter.setPen(p.ink2);
    painter.drawText(QPointF(px(10), y), QString::number(row + 1));
    for (std::size_t i = 0; i < m_columns.size(); ++i) {
        NumberStyle style;
        style.size = 14;
        style.unitSize = 12;
        style.bold = chosen && m_columns[i].isValue;
        if (!option.fits) style.ink = p.ink2;
        const QString text = cell(option, m_columns[i]);
        const double right = px(kNumberWidth) + step * static_cast<double>(i + 1);
        paintNumberRight(painter, {right, y}, text.section(QLatin1Char(' '), 0, 0), text.section(QLatin1Char(' '), 1),
                         style);
    }
    painter.setFont(Theme::instance().text(13, chosen));
    painter.setPen(option.fits || chosen ? p.ink : p.ink2);
    const QString state = chosen         ? tr("chosen")
                          : !option.fits ? tr("breaks a wish")
                          : row == 0     ? tr("best")
                                         : QString();
    painter.drawText(QPointF(width() - px(kStateWidth - 12), y), state);
    if (!hasFocus() || row != m_row) return;
    painter.setPen(QPen(p.ink, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(6.5, top + 1.5, width() - 9, px(kOptionRow) - 4));
}

void OptionTable::paintEvent(QPaintEvent*) {
    if (m_columns.empty()) return;
    QPainter painter(this);
    painter.setFont(Theme::instance().text(12));
    painter.setPen(colours().ink2);
    const double step = (width() - px(kNumberWidth + kStateWidth)) / static_cast<double>(m_columns.size());
    for (std::size_t i = 0; i < m_columns.size(); ++i) {
        const QRectF head(px(kNumberWidth) + step * static_cast<double>(i) + 4, 0, step - 4, px(kOptionHead) - 4);
        painter.drawText(head, Qt::AlignRight | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(m_columns[i].head, Qt::ElideRight,
                                                          static_cast<int>(head.width())));
    }
    paintRule(painter, 0, width(), px(kOptionHead) - 2, colours().rule);
    for (int row = 0; row < static_cast<int>(m_options.size()); ++row)
        paintRow(painter, row, px(kOptionHead) + row * px(kOptionRow));
}

int OptionTable::rowAt(double y) const {
    if (y < px(kOptionHead)) return -1;
    const int row = static_cast<int>((y - px(kOptionHead)) / px(kOptionRow));
    return row < static_cast<int>(m_options.size()) ? row : -1;
}

void OptionTable::moveTo(int row) {
    if (row == m_row) return;
    m_row = row;
    emit rowChanged(row);
    update();
}

void OptionTable::mouseMoveEvent(QMouseEvent* event) {
    if (const int row = rowAt(event->position().y()); row >= 0) moveTo(row);
}

void OptionTable::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(event->position().y());
    if (row < 0) return;
    moveTo(row);
    emit taken(row);
}

void OptionTable::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_options.size()) - 1;
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up)
        return moveTo(std::clamp(m_row + (event->key() == Qt::Key_Down ? 1 : -1), 0, std::max(0, last)));
    const bool takes = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space;
    if (takes && last >= 0)
        emit taken(m_row);
    else
        QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
