#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QWidget>

namespace fg::gui {

/// For a program: the code of a physical limit, and integers that turn a code into the reading.
class LimitsPage final : public QWidget {
    Q_OBJECT
  public:
    explicit LimitsPage(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);

  private:
    void showLimit();
    void showIntegers();

    Workbench& m_workbench;
    // Forms first: a parent must outlive the entries in it.
    Form m_limitForm;
    Form m_integerForm;
    QLabel m_limitTitle;
    QLabel m_integerTitle;
    ValueEdit m_limit{Quantity::Temperature};
    double m_limitValue = 0;
    std::int64_t m_gauge = 0;
    ComboBox m_direction;
    QLabel m_codes;
    ComboBox m_scale;
    QLabel m_integers;
};

}  // namespace fg::gui
