#pragma once

#include "planning/addresses.h"
#include "planning/pull_up.h"
#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QLineEdit>
#include <QSpinBox>

namespace fg::gui {

/// The Wiring stage of a digital part: its address and what sets it, who else is there, and the pull-up of its line.
class BusSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit BusSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;

  private:
    void buildPullUp();
    void judge(const GaugeView& view);
    /// Puts a value of the line into the gauge, after it was tried.
    Expected<void> set(const std::string& id, ParameterValue value, const QString& label);
    /// The shown gauge's own place and who else is on the bus.
    [[nodiscard]] std::vector<BusPlace> places();
    void showNeighbours(const GaugeView& view);
    void readRom();

    Form m_addressForm;  // before its entries
    Form m_pullUp;
    ComboBox m_address;
    Form m_probeForm;  // before its entry
    QLineEdit m_rom;
    ComboBox m_speed;
    ComboBox m_resistorsTo;
    ValueEdit m_supply{Quantity::Voltage};
    ValueEdit m_cable{Quantity::Length};
    ValueEdit m_capacitance{Quantity::Capacitance};
    ValueEdit m_own{Quantity::Resistance};
    ValueEdit m_module{Quantity::Resistance};
    ValueEdit m_interval{Quantity::Time};
    QSpinBox m_modules;
    QSpinBox m_devices;
    QLabel* m_neighbours = nullptr;
    QLabel* m_verdict = nullptr;
};

}  // namespace fg::gui
