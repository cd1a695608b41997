#pragma once

#include "model/workbench.h"
#include "reports/bench_sender.h"
#include "widgets/combo_box.h"

#include <QDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>

namespace fg::gui {

/// The program for the board that sends the bench's raw values: to look at, to copy, to save; and the gauges that do
/// not listen yet to what it sends.
class SenderDialog final : public QDialog {
    Q_OBJECT
  public:
    SenderDialog(Workbench& workbench, std::string benchName, QWidget* parent);

    /// Into a file; told in the dialog.
    void saveInto(const QString& folder);

  private:
    void write();
    void save();
    void bind();

    Workbench& m_workbench;
    std::string m_benchName;
    Expected<BenchSender> m_sender = BenchSender();
    ComboBox m_language;
    QLabel m_about;
    QLabel m_notes;
    QPlainTextEdit m_text;
    QPushButton m_bind;
    QPushButton m_copy;
    QPushButton m_save;
};

}  // namespace fg::gui
