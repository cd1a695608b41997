#pragma once

#include "calibration/agreement.h"
#include "correction/correction_page.h"
#include "widgets/form.h"
#include "widgets/sheet_table.h"

#include <QLineEdit>
#include <QPushButton>
#include <set>

namespace fg::gui {

/// This gauge and others of its quantity at the same place: spread, normalised errors, who disagrees, and what cannot
/// be told.
class SidesPage final : public CorrectionPage {
    Q_OBJECT
  public:
    explicit SidesPage(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void compare();
    void keep();

    Form m_form;  // before its entries
    SheetTable m_list{{tr("Compare"), tr("Gauge"), tr("Reads"), tr("± U")}, {2, 3}, 1};
    SheetTable m_pairs{{tr("Pair"), tr("Difference"), tr("En")}, {1, 2}, 0};
    QLineEdit m_other;
    QPushButton m_keep;
    std::vector<SideReading> m_readings;
    QLabel* m_verdict = nullptr;
    QLabel* m_pairsTitle = nullptr;
    std::set<std::int64_t> m_joined;  // in the comparison
    std::int64_t m_gauge = 0;
    bool m_isFilling = false;
};

}  // namespace fg::gui
