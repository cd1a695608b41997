#pragma once

#include "model/workbench.h"
#include "path/span_table.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QAbstractTableModel>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

namespace fg::gui {

/// The rows of a table over the span, as texts.
class SpanTableModel final : public QAbstractTableModel {
    Q_OBJECT
  public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(std::vector<SpanCells> rows, const QStringList& heads);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<SpanCells> m_rows;
    QStringList m_heads;
};

/// The span at a chosen step: value, signal at the converter, code in decimal, hexadecimal and binary; copied or
/// written as CSV.
class TablePage final : public QWidget {
    Q_OBJECT
  public:
    explicit TablePage(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);
    /// The table as CSV text, as it is copied and written.
    [[nodiscard]] QString csv() const { return m_csv; }

  private:
    void fill();
    void write();

    Workbench& m_workbench;
    Form m_form;  // before its entries
    ValueEdit m_step{Quantity::Ratio};
    double m_stepValue = 0;
    std::int64_t m_gauge = 0;
    QPushButton m_copy;
    QPushButton m_write;
    QLabel m_note;
    SpanTableModel m_model;
    QTableView m_table;
    QString m_csv;
};

}  // namespace fg::gui
