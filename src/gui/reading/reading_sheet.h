// The Reading sheet: one page for trust, one for limits, one for the table over the span.
#pragma once

#include "reading/alarm_page.h"
#include "reading/limits_page.h"
#include "reading/now_page.h"
#include "reading/table_page.h"
#include "reading/trust_page.h"
#include "sheets/sheet.h"

#include <QStackedWidget>
#include <QTabBar>

namespace fg::gui {

/// The reading: in every unit, how far to trust it and why, which code a limit is, and every code over the span.
class ReadingSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit ReadingSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    QLabel m_value;
    QLabel m_units;
    QTabBar m_tabs;
    QStackedWidget m_pages;
    NowPage* m_now;
    TrustPage* m_trust;
    LimitsPage* m_limits;
    AlarmPage* m_alarm;
    TablePage* m_table;
};

}  // namespace fg::gui
