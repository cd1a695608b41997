#pragma once

#include "model/recording_desk.h"

#include <QLabel>
#include <QListWidget>
#include <QWidget>

namespace fg::gui {

/// Markers, gaps and stretches without a reading of the recording, by time: a click goes there.
class MarksPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit MarksPanel(RecordingDesk& desk, QWidget* parent = nullptr);
    void refresh();

  signals:
    void stretchWanted(fg::TimeSpan span);

  private:
    void fill();
    RecordingDesk& m_desk;
    QLabel m_title;
    QListWidget m_list;
    QString m_shown;
};

}  // namespace fg::gui
