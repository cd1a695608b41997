#pragma once

#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/parameter_form.h"


namespace fg::gui {

/// A channel on which the board says readings it has worked out itself: in which unit, and how far to trust them.
class SaidSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit SaidSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;

  private:
    Form m_form;
    QLineEdit m_channel;
    ComboBox m_unit;
    ParameterForm m_parameters;
};

}  // namespace fg::gui
