#pragma once

#include "handover/code_set.h"
#include "handover_page/error_plot.h"
#include "handover_page/handover_side.h"
#include "handover_page/own_line.h"
#include "model/latest_run.h"
#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/sheet_table.h"
#include "widgets/value_edit.h"

#include <memory>
#include <QBoxLayout>
#include <QButtonGroup>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTabBar>

namespace fg::gui {

/// The chosen gauge as code: every arithmetic with what it is worth, the files, the error over the codes.
class HandoverPage final : public QWidget {
    Q_OBJECT
  public:
    explicit HandoverPage(Workbench& workbench, QWidget* parent = nullptr);

    /// Writes the files of what is chosen into a folder; says where, or why not.
    void writeInto(const QString& folder);
    [[nodiscard]] bool isBusy() const { return m_run.isBusy(); }

  signals:
    void done();

  protected:
    bool eventFilter(QObject* object, QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void buildHead(QVBoxLayout& column);
    void buildCode(QHBoxLayout& row);
    void ask();
    /// What the code is asked for: one arithmetic after the other, the chosen one first.
    struct Question {
        GaugeSpec spec;
        CodeWish wish;
        std::vector<CodeArithmetic> order;
        int round = 0;
    };
    void run(std::shared_ptr<const Question> question, std::size_t at);
    void take(CodeChoice choice);
    void fillUnits(const GaugeView& view);
    void fillTable();
    void showChosen();
    void showFile(int index);
    void showPlot();
    void refuse(const QString& reason);
    void clearCode();
    void redress();
    void write();
    void arrange();
    [[nodiscard]] const CodeChoice* chosen() const;

    Workbench& m_workbench;
    QScrollArea m_scroll;
    QWidget m_content;
    QBoxLayout m_parts{QBoxLayout::LeftToRight};  ///< the sheet and what is beside it
    QWidget m_sheet;
    QLabel m_title, m_subtitle, m_caption, m_wantedLabel, m_unitLabel, m_note, m_plotTitle, m_plotNote;
    QButtonGroup m_languages;
    ValueEdit m_wanted{Quantity::Temperature};
    ComboBox m_unit;
    ComboBox m_shape;
    SheetTable m_table;
    QTabBar m_files;
    QPushButton m_copy, m_write, m_back;
    QPlainTextEdit m_code;
    ErrorPlot* m_plot;
    ComboBox m_plotOf;
    ErrorPicture m_linePicture;
    OwnLine* m_line;
    HandoverSide* m_side;
    std::vector<CodeChoice> m_choices;
    std::int64_t m_gauge = 0;
    GaugeSpec m_asked;
    double m_wantedError = 0;  ///< canonical; 0: not given
    CodeArithmetic m_arithmetic = CodeArithmetic::Float;
    int m_round = 0;  ///< what is answered to an earlier question is no matter any more
    LatestRun m_run;
};

}  // namespace fg::gui
