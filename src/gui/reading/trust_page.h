#pragma once

#include "model/monte_carlo_run.h"
#include "model/workbench.h"
#include "uncertainty/improvements.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <vector>

namespace fg::gui {

/// How far to trust the reading: what is wanted, what would help most and what it buys, and the same by Monte Carlo.
class TrustPage final : public QWidget {
    Q_OBJECT
  public:
    explicit TrustPage(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view);
    void showValues(const GaugeView& view);

  private:
    void buildDrawing(QVBoxLayout& column);
    void showWays(const GaugeView& view);
    void draw();
    void stop();
    void drawn();
    void showRun(const GaugeView& view);

    Workbench& m_workbench;
    MonteCarloRun m_run;
    std::int64_t m_runGauge = 0;
    GaugeSpec m_runFor;
    // Forms first: a parent must outlive the entries in it.
    Form m_form;
    ValueEdit m_wanted{Quantity::Ratio};
    ComboBox m_decimals;
    QLabel m_waysTitle;
    QLabel m_noWays;
    QWidget m_ways;
    QVBoxLayout m_wayRows;
    QString m_waysShown;
    QLabel m_drawTitle;
    QLabel m_drawNote;
    ComboBox m_draws;
    QPushButton m_draw;
    QProgressBar m_bar;
    QLabel m_result;
};

}  // namespace fg::gui
