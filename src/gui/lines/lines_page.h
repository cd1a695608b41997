// The lines as they come from the source: what was understood of them, what was not, and which gauge listens to which
// channel.
#pragma once

#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/sheet_table.h"

#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

namespace fg::gui {

class LinesPage final : public QWidget {
    Q_OBJECT
  public:
    explicit LinesPage(Workbench& workbench, QWidget* parent = nullptr);

    /// Chooses a channel, as a click on its row does.
    void chooseChannel(const QString& name);
    void bind();

  signals:
    void done();

  protected:
    bool event(QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void refresh();
    void fillLines();
    void fillChannels();
    void fillGuesses();
    void fillSaid(const std::string& unit, bool isNumber);
    void fillSaidGauges();
    void takeSaid();

    Workbench& m_workbench;
    QLabel m_title, m_intro, m_linesTitle, m_channelsTitle, m_reason;
    QListWidget m_lines;
    QScrollArea m_scroll;
    SheetTable m_channels;
    ComboBox m_gauge;
    QPushButton m_bind;
    QLabel m_saidTitle;
    ComboBox m_saidUnit, m_saidOf;
    QPushButton m_takeSaid;
    QTimer m_tick;
    QString m_chosen;
    QStringList m_names;  // of the rows
};

}  // namespace fg::gui
