#pragma once

#include "findings_panel/budget_table.h"
#include "findings_panel/care_strip.h"
#include "model/workbench.h"

#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// The right side: findings worst first with what to do, below them the uncertainty budget, and the cautions at the
/// foot.
class FindingsPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(Workbench& workbench, QWidget* parent = nullptr);

    /// Where the window is narrow for its text the panel is an edge with counts; a click opens and closes it.
    [[nodiscard]] bool isEdge() const { return m_narrow && !m_opened; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* object, QEvent* event) override;

  private:
    void refresh();
    void arrange();
    void paintEdge(QPainter& painter) const;
    void fillFindings(const std::vector<Finding>& findings);

    Workbench& m_workbench;
    QLabel m_title{this};
    QLabel m_counts{this};
    QScrollArea m_scroll{this};
    QWidget m_list{m_scroll.viewport()};
    QVBoxLayout m_items;
    CareStrip m_care;
    BudgetTable* m_budget;
    QPushButton m_close{this};
    bool m_narrow = false;
    bool m_opened = false;
    QString m_shown;  ///< what the list was built from, so that live values do not rebuild it for nothing
};

}  // namespace fg::gui
