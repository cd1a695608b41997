#pragma once

#include "model/workbench.h"
#include "widgets/form.h"

#include <map>
#include <QComboBox>

namespace fg::gui {

/// Which of a sensor's values come from another gauge of the bench: a cold junction, the temperature of the air.
class InputForm final : public QWidget {
    Q_OBJECT
  public:
    explicit InputForm(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);

  private:
    [[nodiscard]] LinkedInput chosen(const QComboBox& choice) const;
    Workbench& m_workbench;
    Form m_form;
    QString m_built;
    std::map<std::string, QComboBox*> m_choices;
};

}  // namespace fg::gui
