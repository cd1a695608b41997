// The journal of the bench: dated notes, pieces, photographs, changes of settings, calibrations; searched.
#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/sheet_table.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace fg::gui {

class JournalPage final : public QWidget {
    Q_OBJECT
  public:
    explicit JournalPage(Workbench& workbench, QWidget* parent = nullptr);

  signals:
    void done();

  protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void buildSearch(QVBoxLayout& column);
    void buildNew(QVBoxLayout& column);
    void dressAll();
    void fillGauges();
    void fill();
    void add();
    void choosePhotograph();
    void removeChosen();

    Workbench& m_workbench;
    // Parents first: they must outlive what stands in them.
    Form m_form;
    QScrollArea m_scroll;
    QLabel m_title, m_intro, m_newTitle, m_count;
    QLineEdit m_search;
    ComboBox m_gauge, m_kind, m_newGauge;
    QLineEdit m_text, m_file;
    QPushButton m_add, m_photograph, m_remove;
    SheetTable m_table;
    std::vector<std::int64_t> m_ids;  // of the rows
};

}  // namespace fg::gui
