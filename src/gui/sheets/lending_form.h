#pragma once

#include "model/workbench.h"
#include "widgets/form.h"

#include <map>
#include <QComboBox>

namespace fg::gui {

/// Which of a sensor's values come from another gauge of the bench: a cold junction, the temperature of the air.
class LendingForm final : public QWidget {
    Q_OBJECT
  public:
    explicit LendingForm(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);

  private:
    Workbench& m_workbench;
    Form m_form;
    QString m_built;
    std::map<std::string, QComboBox*> m_choices;
};

}  // namespace fg::gui
