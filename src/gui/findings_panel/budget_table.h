#pragma once

#include "model/workbench.h"
#include "widgets/shown.h"

#include <QWidget>

namespace fg::gui {

/// The uncertainty budget: every contribution with its limits, standard uncertainty and share.
class BudgetTable final : public QWidget {
    Q_OBJECT
  public:
    explicit BudgetTable(Workbench& workbench, QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] const Budget* budget() const;
    Workbench& m_workbench;
    Shown m_shown;
    std::size_t m_rows = 0;
};

}  // namespace fg::gui
