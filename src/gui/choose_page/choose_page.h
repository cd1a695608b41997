#pragma once

#include "choose_page/candidate_card.h"
#include "choose_page/candidate_table.h"
#include "choose_page/choice_run.h"
#include "choose_page/comparison.h"
#include "choose_page/need_form.h"
#include "model/workbench.h"

#include <QBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTabBar>
#include <QWidget>

namespace fg::gui {

/// Say what must be measured and what is at hand; see which parts do it, which do not, and exactly why.
class ChoosePage final : public QWidget {
    Q_OBJECT
  public:
    explicit ChoosePage(Workbench& workbench, QWidget* parent = nullptr);

    /// Starts from what the chosen gauge wants, where there is one and it is asked for.
    void begin(bool fromGauge);
    [[nodiscard]] NeedForm& form() { return m_form; }

  signals:
    void done();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void ask();
    void showAnswer(const std::vector<Candidate>& candidates);
    void showRow(int row);
    void make();
    void dressAll();
    void arrange();
    [[nodiscard]] Need needOfGauge() const;

    Workbench& m_workbench;
    QLabel m_title;
    QLabel m_intro;
    QLabel m_count;
    QBoxLayout* m_row = nullptr;  // belongs to the page's layout
    QScrollArea m_formScroll;
    NeedForm m_form;
    QScrollArea m_tableScroll;
    CandidateTable m_table;
    QTabBar m_tabs;
    QStackedWidget m_pages;
    QScrollArea m_cardScroll;
    CandidateCard m_card;
    QScrollArea m_comparisonScroll;
    Comparison m_comparison;
    QPushButton m_make;
    QPushButton m_cancel;
    std::vector<Candidate> m_candidates;
    ChoiceRun m_run;
};

}  // namespace fg::gui
