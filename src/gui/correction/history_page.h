#pragma once

#include "calibration/history.h"
#include "correction/correction_page.h"
#include "widgets/curve_plot.h"
#include "widgets/form.h"
#include "widgets/sheet_table.h"
#include "widgets/value_edit.h"

#include <QLineEdit>
#include <QPushButton>

namespace fg::gui {

/// The calibrations of the gauge that the journal keeps: as found, as left, how it drifts, when the next is due. Any of
/// them can be put back.
class HistoryPage final : public CorrectionPage {
    Q_OBJECT
  public:
    explicit HistoryPage(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view) override;

  signals:
    void newCalibrationWanted();

  private:
    void keep();
    void beginNew();
    void putBackChosen(bool asFound);
    void say(const Expected<void>& done, const QString& otherwise = {});
    void enableFor(int row);
    void showTrend(const GaugeView& view);

    Form m_form;  // before its entries
    SheetTable m_table{{tr("Kept"), tr("With"), tr("Fit"), tr("Found off by"), tr("worst"), tr("Left, worst"),
                        tr("U as left")},
                       {3, 4, 5, 6},
                       1};
    QLabel* m_plotTitle = nullptr;
    CurvePlot m_plot;
    QLabel* m_drift = nullptr;
    QLabel* m_problem = nullptr;
    QPushButton m_keep, m_new, m_backLeft, m_backFound;
    QLineEdit m_with;
    ValueEdit m_repeat{Quantity::Ratio};
    CalibrationHistory m_history;
};

}  // namespace fg::gui
