#pragma once

#include "model/workbench.h"
#include "widgets/form.h"
#include "widgets/sheet_table.h"
#include "widgets/value_edit.h"

#include <QCheckBox>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// When the gauge warns: limits with a dead band, where they really switch, and what they would have done over the
/// newest recording.
class AlarmPage final : public QWidget {
    Q_OBJECT
  public:
    explicit AlarmPage(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);
    void showValues(const GaugeView& view);
    /// Holds the rule against the newest recording of the gauge.
    void replay();

  private:
    void buildForm(QVBoxLayout& column);
    bool change(const QString& label, const std::function<void(AlarmRule&)>& edit);
    void showReached(const GaugeView& view);

    Workbench& m_workbench;
    // The form first: a parent must outlive the entries in it.
    Form m_form;
    QLabel m_title, m_state, m_reached, m_over, m_care;
    QCheckBox m_highOn, m_lowOn, m_latched;
    ValueEdit m_high{Quantity::Temperature}, m_low{Quantity::Temperature};
    ValueEdit m_band{Quantity::Ratio}, m_delay{Quantity::Time};
    QPushButton m_acknowledge, m_replay, m_useBand;
    SheetTable m_table;
    double m_advised = 0;  // canonical; 0: none
    std::int64_t m_gauge = 0;
};

}  // namespace fg::gui
