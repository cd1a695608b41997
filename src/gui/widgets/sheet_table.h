#pragma once

#include <QTableWidget>

namespace fg::gui {

/// A read-only table in the look of the sheets: no grid but hairlines, no row numbers, as high as its rows.
class SheetTable : public QTableWidget {
    Q_OBJECT
  public:
    /// `numbers`: columns that are aligned right. `wide`: the one that takes what width is left.
    SheetTable(const QStringList& heads, const QList<int>& numbers, int wide, QWidget* parent = nullptr);
    void clearRows();
    void addRow(const QStringList& cells);
    /// A row whose other columns are one text: why there is nothing in them.
    void addNote(const QString& name, const QString& note);
    void setText(int row, int column, const QString& text);
    /// A cell that is too long is cut with an ellipsis, with its text as a tip, instead of making its row higher.
    void keepOneLine() { m_isOneLine = true; }
    /// After the last row: columns to their contents and `apart` (in px() of it) between them, height to the
    /// rows.
    void settle(int apart = 18);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void fitHeight();
    [[nodiscard]] int cellWidth(int row, int column) const;
    QList<int> m_numbers;
    int m_wide;
    bool m_isOneLine = false;
};

}  // namespace fg::gui
