#pragma once

#include "sheets/new_point_form.h"
#include "sheets/points_table.h"
#include "sheets/sheet.h"
#include "widgets/curve_plot.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <functional>
#include <QComboBox>
#include <QPushButton>

namespace fg::gui {

/// The gauge compared with something better: its points, the fits that they support, and what each leaves of the error.
/// A correction can also be typed by hand.
class CorrectionSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit CorrectionSheet(Workbench& workbench, QWidget* parent = nullptr);

    /// Adds the points of a CSV file; the reason where it cannot.
    [[nodiscard]] Expected<void> importPoints(const QString& path);
    /// Writes the calibration as a paper: PDF, HTML or Markdown by the name's ending.
    [[nodiscard]] Expected<void> writeRecord(const QString& path);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    [[nodiscard]] Expected<void> edit(const QString& label, const std::function<void(CorrectionSpec&)>& change);
    /// The same, and the fit in force worked out anew.
    [[nodiscard]] Expected<void> editPoints(const QString& label, const std::function<void(CorrectionSpec&)>& change);
    void buildTyped();
    void buildNewPoint();
    void say(const QString& text);
    void choose(int row);
    void showFits(const GaugeView& view);
    void showBand(const GaugeView& view);

    // Forms first: a parent must outlive the entries in it.
    Form m_typed;
    QComboBox m_kind;
    ValueEdit m_offset{Quantity::Ratio};
    ValueEdit m_slope{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value()};
    ValueEdit m_uncertainty{Quantity::Ratio};
    NewPointForm m_newPoint;
    QPushButton m_import, m_record;
    PointsTable m_points;
    SheetTable m_fits{{tr("Fit"), tr("Worst left"), tr("Largest U in the span")}, {1, 2}, 0};
    CurvePlot m_plot;
    QLabel* m_problem = nullptr;
    QLabel* m_why = nullptr;
    QLabel* m_effect = nullptr;
    QLabel* m_typedTitle = nullptr;
    QLabel* m_plotTitle = nullptr;
    CalibrationStudy m_study;
    std::int64_t m_shownGauge = 0;
};

}  // namespace fg::gui
