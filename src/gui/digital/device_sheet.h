#pragma once

#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"

#include <map>
#include <QLineEdit>
#include <QPushButton>

namespace fg::gui {

/// The Sensor stage of a digital part: which one, which of its readings, what decoding depends on, and what its
/// document states.
class DeviceSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit DeviceSheet(Workbench& workbench, QWidget* parent = nullptr);

  signals:
    void chooseWanted();

  protected:
    void showSpec(const GaugeView& view) override;

  private:
    void choosePart(const QString& id);
    void buildOptions(const DevicePart& part);
    void setOption(const std::string& id, const QString& title, const std::string& value);

    Form m_form;  // before its entries
    Form m_options;
    QPushButton m_other;
    ComboBox m_part;
    ComboBox m_reading;
    QLabel* m_facts = nullptr;
    QLabel* m_optionsTitle = nullptr;
    QString m_built;
    std::map<std::string, QComboBox*> m_choices;
    std::map<std::string, QLineEdit*> m_numbers;
};

}  // namespace fg::gui
