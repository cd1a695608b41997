#pragma once

#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QCheckBox>

namespace fg::gui {

/// What is measured: its name, over which span, how well, in which unit, where the live value comes from, and what to
/// take care of.
class WorldSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit WorldSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void addSpan();
    void addCautions();

    // Forms first: a parent must outlive the entries in it.
    Form m_form;
    QWidget m_cautionBox;
    QLineEdit m_name;
    QLineEdit m_note;
    ComboBox m_unit;
    ValueEdit m_low{Quantity::Temperature};
    ValueEdit m_high{Quantity::Temperature};
    ComboBox m_channel;
    std::vector<std::pair<std::string, QCheckBox*>> m_cautions;
};

}  // namespace fg::gui
