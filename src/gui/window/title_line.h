#pragma once

#include "model/workbench.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// The chosen gauge's name and note, and the button that tries a value or goes back to the live one.
class TitleLine final : public QWidget {
    Q_OBJECT
  public:
    explicit TitleLine(Workbench& workbench, QWidget* parent = nullptr);

  signals:
    void tryWanted();
    void handoverWanted();

  private:
    void redress();
    void refresh();
    Workbench& m_workbench;
    QLabel m_name{this};
    QLabel m_note{this};
    QPushButton m_handover{this};
    QPushButton m_try{this};
};

}  // namespace fg::gui
