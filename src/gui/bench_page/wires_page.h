#pragma once

#include "bench/board.h"
#include "paint/drawing_view.h"
#include "planning/plan.h"
#include "widgets/combo_box.h"
#include "widgets/sheet_table.h"

#include <functional>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QWidget>

namespace fg::gui {

/// The wires of one part, pin by pin: its body drawn, where each wire goes, its colour and its place in the connector.
class WiresPage final : public QWidget {
    Q_OBJECT
  public:
    explicit WiresPage(QWidget* parent = nullptr);
    /// The part shown stays the same where it is still there.
    void show(const BenchPlan& plan);
    /// Shows the part of a gauge.
    void choose(qint64 gauge);

  signals:
    /// The place of a gauge is to change.
    /// Of a gauge, or of a converter by its id.
    void edited(qint64 gauge, const QString& converter, const QString& label,
                const std::function<void(GaugePlace&)>& change);
    void exportWanted();

  private:
    [[nodiscard]] const PinWires* chosen() const;
    void showChosen();
    void fillBodies(const PinWires& wires);
    void fillTable(const PinWires& wires);
    QLineEdit* makeColour(std::size_t row, const std::string& conductor);
    QToolButton* makeEarlier(std::size_t row, const std::string& conductor);
    void change(const QString& label, const std::function<void(GaugePlace&)>& change);
    void dressAll();

    std::vector<PinWires> m_wires;
    std::int64_t m_gauge = 0;  // 0: of a converter
    QString m_converter;
    std::vector<std::string> m_shown;  ///< gauge and conductors of the table's rows
    QLabel m_intro, m_view, m_problem, m_beside;
    ComboBox m_parts, m_bodies;
    QLabel m_stripName;
    QLineEdit m_strip;
    DrawingView m_drawing;
    SheetTable m_table;
    QPushButton m_export;
};

}  // namespace fg::gui
