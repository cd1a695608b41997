#pragma once

#include "calibration/study.h"
#include "widgets/sheet_table.h"

#include <functional>

namespace fg::gui {

/// The points of a calibration: reference, its uncertainty, what the gauge read, what the correction leaves. Cells are
/// typed into; one that cannot be read stays as it is typed, marked, with the reason as its tip.
class PointsTable final : public SheetTable {
    Q_OBJECT
  public:
    enum Column { Used, Note, Reference, U, Read, Wanted, Left, Reason, kColumns };
    explicit PointsTable(QWidget* parent = nullptr);

    /// `points`: those that the study is of.
    void show(const GaugeSpec& spec, const std::vector<CalibrationPoint>& points, const CalibrationStudy& study);

    /// A change of one point; an error is told at the cell.
    std::function<Expected<void>(std::size_t row, const std::function<void(CalibrationPoint&)>& change)> onChange;
    std::function<void(std::size_t row)> onRemove;

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void changed(QTableWidgetItem* item);
    [[nodiscard]] Expected<void> commit(std::size_t row, int column, const std::string& text);

    GaugeSpec m_spec;
    std::vector<CalibrationPoint> m_points;
    bool m_isFilling = false;
};

}  // namespace fg::gui
