#pragma once

#include "sizing/solver.h"

#include <QWidget>
#include <vector>

namespace fg::gui {

/// What a solver found: standard values, ranked, with what each gives. A click, or Enter on the chosen row, takes one.
class OptionTable final : public QWidget {
    Q_OBJECT
  public:
    explicit OptionTable(QWidget* parent = nullptr);

    /// `taken`: the row whose values the gauge has now; −1 when none.
    void show(const std::vector<SizingOption>& options, int taken);
    [[nodiscard]] QSize sizeHint() const override;
    /// The row that is explained below the table: the one under the mouse or the keyboard.
    [[nodiscard]] int row() const { return m_row; }

  signals:
    void taken(int row);
    void rowChanged(int row);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    struct Column {
        std::string name;
        bool isValue, isWorst;
        QString head;
    };
    void moveTo(int row);
    [[nodiscard]] int rowAt(double y) const;
    [[nodiscard]] QString cell(const SizingOption& option, const Column& column) const;
    void paintRow(QPainter& painter, int row, double top) const;

    std::vector<SizingOption> m_options;
    std::vector<Column> m_columns;
    int m_taken = -1;
    int m_row = 0;
};

}  // namespace fg::gui
