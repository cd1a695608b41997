#pragma once

#include "model/recording_desk.h"
#include "recorder/noise_plot.h"
#include "widgets/sheet_table.h"

#include <QLabel>
#include <QTabBar>
#include <QWidget>

namespace fg::gui {

/// Mean, noise and drift of every gauge over the selection, or of the readings up to the cursor; the histogram of codes
/// of the first, and what averaging leaves of its noise; of a selection also Allan deviation and spectrum.
class NoisePanel final : public QWidget {
    Q_OBJECT
  public:
    explicit NoisePanel(RecordingDesk& desk, QWidget* parent = nullptr);
    void refresh();

  signals:
    void heightChanged();

  private:
    void fillTable();
    [[nodiscard]] QString stepsText() const;
    class Histogram;
    RecordingDesk& m_desk;
    QLabel m_title, m_steps;
    SheetTable m_table;
    QTabBar m_pictures;
    Histogram* m_histogram;
    NoisePlot m_plot;
};

}  // namespace fg::gui
