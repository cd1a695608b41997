#pragma once

#include "model/workbench.h"

#include <QLabel>
#include <QStatusBar>

namespace fg::gui {

/// The foot of the window: source, rates, junk lines, clock.
class StatusLine final : public QStatusBar {
    Q_OBJECT
  public:
    explicit StatusLine(Workbench& workbench, QWidget* parent = nullptr);

  private:
    void refresh();
    Workbench& m_workbench;
    QLabel m_source{this};
    QLabel m_counts{this};
    QLabel m_clock{this};
};

}  // namespace fg::gui
