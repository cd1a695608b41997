#pragma once

#include "handover/formula_check.h"
#include "handover_page/error_plot.h"
#include "model/latest_run.h"
#include "model/workbench.h"
#include "widgets/combo_box.h"

#include <QLineEdit>
#include <QPushButton>

namespace fg::gui {

/// A line that a maker wrote, held against the gauge: what it is worth, where it overflows, and better constants.
class OwnLine final : public QWidget {
    Q_OBJECT
  public:
    explicit OwnLine(Workbench& workbench, QWidget* parent = nullptr);
    /// The gauge, or its description, is another one.
    void showSpec(const GaugeView& view);

  signals:
    /// The error of the line over the codes, with what would be better; nothing to show where there is no line.
    void pictured(const fg::gui::ErrorPicture& picture);

  private:
    void ask();
    void askDigits();
    void answer(const Expected<LineCheck>& check, const std::vector<BetterLine>& better, const Unit& unit);

    Workbench& m_workbench;
    QLabel m_title;
    QLineEdit m_line;
    ComboBox m_int;
    ComboBox m_scale;
    QLabel m_result;
    QLineEdit m_digits;
    QLabel m_digitsResult;
    QPushButton m_take;
    QString m_better;
    int m_betterScale = 1;
    Quantity m_quantity = Quantity::Temperature;
    LatestRun m_run;
};

}  // namespace fg::gui
