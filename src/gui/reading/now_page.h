#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QPushButton>
#include <QSpinBox>

namespace fg::gui {

/// What comes just now: pace and noise, lowest and highest, a filter with what it does, another gauge beside this one.
class NowPage final : public QWidget {
    Q_OBJECT
  public:
    explicit NowPage(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);
    void showValues(const GaugeView& view);

  private:
    void editFilter(const QString& label, const std::function<void(FilterSpec&)>& edit);
    void showBeside(const GaugeView& view);

    Workbench& m_workbench;
    QLabel m_pace, m_extremes, m_filtered, m_advice, m_beside;
    QPushButton m_anew;
    Form m_form;
    ComboBox m_kind, m_other;
    QSpinBox m_count;
    ValueEdit m_alpha{Quantity::Ratio};
};

}  // namespace fg::gui
