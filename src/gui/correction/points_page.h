#pragma once

#include "correction/correction_page.h"
#include "correction/electronics_row.h"
#include "correction/new_point_form.h"
#include "correction/points_table.h"
#include "correction/typed_form.h"
#include "widgets/curve_plot.h"

#include <functional>
#include <QComboBox>
#include <QPushButton>

namespace fg::gui {

/// The gauge compared with something better: its points, the fits that they support, and what each leaves of the error.
/// A correction can also be typed by hand.
class PointsPage final : public CorrectionPage {
    Q_OBJECT
  public:
    explicit PointsPage(Workbench& workbench, QWidget* parent = nullptr);

    /// What a session found for the reference stands in the new point.
    void useReference(const ReferenceTaken& reference) { m_newPoint.useReference(reference); }
    /// From now on points belong to a new calibration; the one in force stays until a fit of them is chosen.
    void beginCheck();

    /// Adds the points of a CSV file; the reason where it cannot.
    [[nodiscard]] Expected<void> importPoints(const QString& path);
    /// Writes the calibration as a paper: PDF, HTML or Markdown by the name's ending.
    [[nodiscard]] Expected<void> writeRecord(const QString& path);

    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    [[nodiscard]] Expected<void> edit(const QString& label, const std::function<void(CorrectionSpec&)>& change);
    /// The same, and the fit in force worked out anew.
    [[nodiscard]] Expected<void> editPoints(const QString& label, const std::function<void(CorrectionSpec&)>& change);
    void buildNewPoint();
    void say(const QString& text);
    void choose(int row);
    void showFits(const GaugeView& view);
    void showBand(const GaugeView& view);
    void showResiduals(const GaugeView& view);
    void showCodes(const GaugeView& view);
    /// The points that are worked on: those taken since, where a new calibration was begun.
    [[nodiscard]] std::vector<CalibrationPoint>& worked(CorrectionSpec& correction) const;

    TypedForm m_typed;
    NewPointForm m_newPoint;
    QPushButton m_import, m_record;
    ElectronicsRow m_electronics;
    PointsTable m_points;
    SheetTable m_fits{{tr("Fit"), tr("Worst left"), tr("Largest U in the span")}, {1, 2}, 0};
    CurvePlot m_residuals;
    CurvePlot m_plot;
    QLabel* m_problem = nullptr;
    QLabel* m_why = nullptr;
    QLabel* m_effect = nullptr;
    QLabel* m_typedTitle = nullptr;
    QLabel* m_plotTitle = nullptr;
    QLabel* m_bandTitle = nullptr;
    QLabel* m_state = nullptr;
    QLabel* m_codes = nullptr;
    std::int64_t m_checked = 0;  // the gauge for which a new calibration was begun
    CalibrationStudy m_study;
    std::int64_t m_shownGauge = 0;
};

}  // namespace fg::gui
