#pragma once

#include "model/recording_desk.h"
#include "widgets/sheet_table.h"

#include <QLabel>
#include <QWidget>

namespace fg::gui {

/// Mean, noise and drift of every gauge over the selection, or of the readings up to the cursor; the histogram of codes
/// of the first, and what averaging leaves of its noise.
class NoisePanel final : public QWidget {
    Q_OBJECT
  public:
    explicit NoisePanel(RecordingDesk& desk, QWidget* parent = nullptr);
    void refresh();

  private:
    void fillTable();
    [[nodiscard]] QString stepsText() const;
    class Histogram;
    RecordingDesk& m_desk;
    QLabel m_title, m_steps;
    SheetTable m_table;
    Histogram* m_histogram;
};

}  // namespace fg::gui
