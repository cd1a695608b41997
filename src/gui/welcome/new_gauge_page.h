#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// Where a gauge begins, and what an empty bench shows: type what is printed on the part, or take a quantity and look
/// through the list.
class NewGaugePage final : public QWidget {
    Q_OBJECT
  public:
    explicit NewGaugePage(Workbench& workbench, QWidget* parent = nullptr);
    /// Fresh entries, focus in the search.
    void begin();

  signals:
    void done();
    void demoWanted();
    void chooseWanted();

  protected:
    void paintEvent(QPaintEvent* event) override;
    bool eventFilter(QObject* object, QEvent* event) override;

  private:
    void fill();
    void showChosen();
    void create();

    Workbench& m_workbench;
    QLabel m_title;
    QLabel m_intro;
    QLineEdit m_search;
    ComboBox m_quantity;
    QListWidget m_list;
    QLabel m_detail;
    QLineEdit m_name;
    QPushButton m_create;
    QPushButton m_cancel;
    QPushButton m_demo;
    QPushButton m_choose;
};

}  // namespace fg::gui
