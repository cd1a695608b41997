#pragma once

#include "digital/bytes_view.h"
#include "sheets/sheet.h"

#include <QPushButton>

namespace fg::gui {

/// The trace, drawn as a table: every line its name, the formula with the numbers put in, result, unit and source.
class TraceTable final : public QWidget {
    Q_OBJECT
  public:
    explicit TraceTable(QWidget* parent = nullptr);
    void show(const std::vector<TraceLine>& lines);
    [[nodiscard]] QString asText() const;
    [[nodiscard]] QSize sizeHint() const override;

  signals:
    /// The mouse is over a line; −1 when it left.
    void lineHovered(int line);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

  private:
    int m_hovered = -1;
    [[nodiscard]] int rowHeight(std::size_t index) const;
    [[nodiscard]] bool repeatsSource(std::size_t line) const;
    std::vector<TraceLine> m_lines;
};

/// The Formula stage: how the value shown came about, step by step.
class FormulaSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit FormulaSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    BytesView m_bytes;
    TraceTable m_table;
    QPushButton m_copy;
    QLabel* m_direction;
};

}  // namespace fg::gui
