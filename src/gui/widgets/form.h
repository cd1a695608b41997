#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QWidget>
#include <vector>

namespace fg::gui {

/// Rows of label, entry and a short note, edges aligned. Labels are tied to their entries for screen readers and
/// shortcuts.
class Form final : public QWidget {
    Q_OBJECT
  public:
    explicit Form(QWidget* parent = nullptr);

    /// Narrower or wider columns than usual, design px; before the first row.
    void setWidths(double label, double entry, double second);
    /// Every entry as wide as those with a remark; before the first row.
    void keepNarrow() { m_isNarrow = true; }
    /// `second` stands right of `entry` (a tolerance), may be null.
    /// Answers the remark's label; null when there is none.
    QLabel* addRow(const QString& label, QWidget* entry, QWidget* second = nullptr, const QString& remark = {});
    /// An explanation across all columns.
    QLabel* addNote(const QString& text);
    void clear();
    /// Shows or hides the row that `entry` stands in.
    void setRowVisible(const QWidget& entry, bool isVisible);

  private:
    QLabel* note(const QString& text);
    void dressNotes();
    QGridLayout m_grid;
    int m_row = 0;
    double m_labelWidth, m_entryWidth, m_secondWidth;
    bool m_isNarrow = false;
    std::vector<QLabel*> m_notes;
};

}  // namespace fg::gui
