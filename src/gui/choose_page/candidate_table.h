#pragma once

#include "choosing/candidate.h"

#include <QSet>
#include <QWidget>

namespace fg::gui {

/// Every part of the catalogue as a row, ranked: a mark a requirement, the numbers where there are any. The row under
/// the keyboard is the one explained below; Space or a click on its box takes a part into the comparison.
class CandidateTable final : public QWidget {
    Q_OBJECT
  public:
    explicit CandidateTable(QWidget* parent = nullptr);

    void show(const std::vector<Candidate>& candidates);
    [[nodiscard]] int row() const { return m_row; }
    /// Parts taken into the comparison, in the order of the table.
    [[nodiscard]] std::vector<const Candidate*> compared() const;
    void toggle(int row);
    [[nodiscard]] QRect rowArea(int row) const;
    [[nodiscard]] QSize sizeHint() const override;

  signals:
    void rowChanged(int row);
    void comparedChanged();
    void activated(int row);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    struct Column {
        std::string id;
        QString head;
        double from, width;
        bool hasText;
    };
    void layoutColumns();
    void moveTo(int row);
    [[nodiscard]] int rowAt(double y) const;
    void paintRow(QPainter& painter, int row, double top) const;
    void resizeEvent(QResizeEvent* event) override;

    std::vector<Candidate> m_candidates;
    std::vector<Column> m_columns;
    QSet<QString> m_compared;
    int m_row = 0;
};

/// The mark of a verdict: met a tick, open a filled triangle, ruled out a filled square with a bar.
void paintVerdict(QPainter& painter, Verdict verdict, const QRectF& box);

}  // namespace fg::gui
