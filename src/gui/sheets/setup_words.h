#pragma once

#include "digital/register_panel.h"
#include "path/converter_setup.h"
#include "widgets/combo_box.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace fg::gui {

/// The words that set a converter up: whose they are, what they must be for this gauge, and where they are not.
class SetupWords final : public QWidget {
    Q_OBJECT
  public:
    explicit SetupWords(Workbench& workbench, QWidget* parent = nullptr);
    void showSpec(const GaugeSpec& spec);

  private:
    void chooseMap(const std::string& id);
    void setAsCounted();
    void fit(GaugeSpec& spec) const;
    void setClock();
    void showVerdict(const GaugeSpec& spec, const RegisterMap& map);

    Workbench& m_workbench;
    QLabel m_title;
    Form m_form;  // before its entries
    ComboBox m_whose;
    QLineEdit m_clock;
    QLabel m_verdict;
    QPushButton m_fit;
    RegisterPanel m_panel;
};

}  // namespace fg::gui
