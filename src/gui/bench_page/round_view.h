#pragma once

#include "planning/plan.h"

#include <QWidget>

namespace fg::gui {

/// One round of readings along a time axis: told, converting, read.
class RoundView final : public QWidget {
    Q_OBJECT
  public:
    explicit RoundView(QWidget* parent = nullptr);
    void show(const PlanSchedule& schedule);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    PlanSchedule m_schedule;
};

}  // namespace fg::gui
