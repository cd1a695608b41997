#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <functional>

namespace fg::gui {

/// A correction typed by hand, without points.
class TypedForm final : public QWidget {
    Q_OBJECT
  public:
    explicit TypedForm(QWidget* parent = nullptr);
    void showSpec(const GaugeView& view);

    std::function<Expected<void>(const QString& label, const std::function<void(CorrectionSpec&)>& change)> onEdit;

  private:
    // Forms first: a parent must outlive the entries in it.
    Form m_form;
    ComboBox m_kind;
    ValueEdit m_offset{Quantity::Ratio};
    ValueEdit m_slope{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value()};
    ValueEdit m_uncertainty{Quantity::Ratio};
    const Unit* m_unit = nullptr;  // of the gauge that is shown
};

}  // namespace fg::gui
