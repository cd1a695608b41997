#pragma once

#include "sheets/sheet.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <functional>
#include <QComboBox>

namespace fg::gui {

/// What a calibration adds: nothing, an offset, or a line, with its own uncertainty.
class CorrectionSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit CorrectionSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    [[nodiscard]] Expected<void> edit(const QString& label, const std::function<void(CorrectionSpec&)>& change);

    // Forms first: a parent must outlive the entries in it.
    Form m_form;
    QComboBox m_kind;
    ValueEdit m_offset{Quantity::Ratio};
    ValueEdit m_slope{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value()};
    ValueEdit m_uncertainty{Quantity::Ratio};
    QLabel* m_effect;
};

}  // namespace fg::gui
