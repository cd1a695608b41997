#pragma once

#include "sheets/input_form.h"
#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/parameter_form.h"


namespace fg::gui {

/// What a derived gauge follows and from which gauges: its law, and each input as a link or a value.
class InputsSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit InputsSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void chooseLaw(const QString& id);

    ComboBox m_law;
    QLabel* m_facts;
    InputForm m_linkedInputs;
    QLabel* m_fixed;
    ParameterForm m_parameters;
    QLabel* m_now;
};

}  // namespace fg::gui
