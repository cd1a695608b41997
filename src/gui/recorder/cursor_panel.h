#pragma once

#include "model/recording_desk.h"

#include <QWidget>

namespace fg::gui {

/// What the gauges read at the cursor, large; with a selection, how much they changed over it.
class CursorPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit CursorPanel(RecordingDesk& desk, QWidget* parent = nullptr);
    void refresh();
    /// The readings in words, for whoever cannot see them.
    [[nodiscard]] QString summary() const;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] QString changeOf(const SeenTrack& trace) const;
    RecordingDesk& m_desk;
};

}  // namespace fg::gui
