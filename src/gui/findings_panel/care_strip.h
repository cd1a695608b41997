#pragma once

#include "findings/finding.h"
#include "widgets/lead_text.h"

#include <QWidget>
#include <vector>

namespace fg::gui {

/// The cautions at the foot of the findings: brass wash, the care shape, and no way to dismiss it.
class CareStrip final : public QWidget {
    Q_OBJECT
  public:
    explicit CareStrip(QWidget* parent = nullptr);
    /// Shows the findings of severity care; hides itself when there are none.
    void show(const std::vector<Finding>& findings);
    [[nodiscard]] bool isEmpty() const { return m_text.isEmpty(); }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    LeadText m_text;
};

}  // namespace fg::gui
