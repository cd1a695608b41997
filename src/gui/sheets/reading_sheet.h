#pragma once

#include "sheets/sheet.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

namespace fg::gui {

/// The reading: in every unit, how far to trust it, and which code a wanted reading is.
class ReadingSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit ReadingSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void showThreshold();

    // Forms first: a parent must outlive the entries in it.
    Form m_form;
    Form m_thresholdForm;
    QLabel m_value;
    QLabel m_units;
    ValueEdit m_wanted{Quantity::Ratio};
    ValueEdit m_threshold{Quantity::Temperature};
    double m_thresholdValue = 0;
    std::int64_t m_gauge = 0;
    QLabel m_codes;
};

}  // namespace fg::gui
