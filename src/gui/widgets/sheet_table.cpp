#include "widgets/sheet_table.h"

#include "theme/theme.h"

#include <algorithm>
#include <QHeaderView>
#include <QResizeEvent>

namespace fg::gui {
namespace {
constexpr double kTableRow = 26;
}

SheetTable::SheetTable(const QStringList& heads, const QList<int>& numbers, int wide, QWidget* parent)
    : QTableWidget(0, static_cast<int>(heads.size()), parent), m_numbers(numbers), m_wide(wide) {
    setHorizontalHeaderLabels(heads);
    for (int column = 0; column < heads.size(); ++column)
        horizontalHeaderItem(column)->setTextAlignment((numbers.contains(column) ? Qt::AlignRight : Qt::AlignLeft) |
                                                       Qt::AlignVCenter);
    verticalHeader()->hide();
    setShowGrid(false);
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setWordWrap(true);
    setTabKeyNavigation(false);
    setFrameShape(QFrame::NoFrame);
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setSectionResizeMode(wide, QHeaderView::Stretch);
    connect(horizontalHeader(), &QHeaderView::sectionResized, this, [this](int column) {
        if (column == m_wide) fitHeight();
    });
}

void SheetTable::clearRows() {
    setRowCount(0);
    clearSpans();
}

void SheetTable::addNote(const QString& name, const QString& note) {
    addRow({name, note});
    setSpan(rowCount() - 1, 1, 1, columnCount() - 1);
}

void SheetTable::addRow(const QStringList& cells) {
    const int row = rowCount();
    insertRow(row);
    for (int column = 0; column < cells.size(); ++column) {
        auto* item = new QTableWidgetItem(cells[column]);
        item->setTextAlignment((m_numbers.contains(column) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
        item->setToolTip(cells[column]);
        setItem(row, column, item);
    }
}

void SheetTable::setText(int row, int column, const QString& text) {
    item(row, column)->setText(text);
    item(row, column)->setToolTip(text);
}

void SheetTable::settle(int apart) {
    for (int column = 0; column < columnCount(); ++column) {
        if (column == m_wide) continue;
        resizeColumnToContents(column);
        setColumnWidth(column, std::min(columnWidth(column) + px(apart), px(290)));
    }
    fitHeight();
}

int SheetTable::cellWidth(int row, int column) const {
    int width = 0;
    for (int i = 0; i < columnSpan(row, column); ++i) width += columnWidth(column + i);
    return width;
}

void SheetTable::fitHeight() {
    int height = horizontalHeader()->sizeHint().height() + 4;
    for (int row = 0; row < rowCount(); ++row) {
        // A cell may need two lines at this width; a widget in one does not make the row higher.
        int lines = 0;
        for (int column = 0; column < columnCount() && !m_isOneLine; ++column)
            if (const QTableWidgetItem* cell = item(row, column))
                lines = std::max(lines, fontMetrics()
                                            .boundingRect(QRect(0, 0, cellWidth(row, column) - px(10), 1000),
                                                          Qt::TextWordWrap, cell->text())
                                            .height());
        setRowHeight(row, std::max(px(kTableRow), lines + px(8)));
        height += rowHeight(row);
    }
    setFixedHeight(height);
}

void SheetTable::resizeEvent(QResizeEvent* event) {
    QTableWidget::resizeEvent(event);
    if (event->oldSize().width() != event->size().width()) fitHeight();
}

}  // namespace fg::gui
