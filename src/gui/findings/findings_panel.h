#pragma once

#include "model/workbench.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// The right side: findings worst first with what to do, below them the uncertainty budget, and the cautions at the foot.
class FindingsPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    void refresh();
    void fillFindings(const std::vector<Finding>& findings);
    void fillCare(const std::vector<Finding>& findings);

    Workbench& m_workbench;
    QLabel m_title;
    QLabel m_counts;
    QScrollArea m_scroll;
    QWidget m_list;
    QVBoxLayout m_items;
    QLabel m_care;
    QString m_shown;  ///< what the list was built from, so that live values do not rebuild it for nothing
};

}  // namespace fg::gui
