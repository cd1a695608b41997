#pragma once

#include "findings/finding.h"
#include "widgets/lead_text.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// One finding: shape, word, title; its numbers; the button that does something about it.
class FindingItem final : public QWidget {
    Q_OBJECT
  public:
    FindingItem(const Finding& finding, bool isFirstAction, QWidget* parent = nullptr);
    /// New numbers for the same finding.
    void update(const Finding& finding);

  signals:
    void acted();
    void stageWanted();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    Severity m_severity;
    LeadText m_title;
    QLabel m_detail;
};

}  // namespace fg::gui
