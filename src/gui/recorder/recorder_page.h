// The recorder: what the gauges read over time, kept raw and looked at.
#pragma once

#include "model/recording_desk.h"
#include "recorder/cursor_panel.h"
#include "recorder/marks_panel.h"
#include "recorder/noise_panel.h"
#include "recorder/overview_strip.h"
#include "recorder/trace_plot.h"
#include "widgets/combo_box.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>

namespace fg::gui {

class RecorderPage final : public QWidget {
    Q_OBJECT
  public:
    RecorderPage(Workbench& workbench, LiveRecorder& recorder, QWidget* parent = nullptr);

    [[nodiscard]] RecordingDesk& desk() { return m_desk; }
    /// Starts, or stops what runs.
    void startOrStop();
    /// A marker now, while it records; else at the cursor.
    void mark();
    void exportCsv();

  signals:
    void done();
    void failed(const QString& message);

  protected:
    bool event(QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QHBoxLayout* buildHead();
    QHBoxLayout* buildStrip();
    void buildMore();
    void fillGauges();
    void connectAll();
    void dressAll();
    void showRecordings();
    void showState();
    void showLook();

    Workbench& m_workbench;
    LiveRecorder& m_recorder;
    RecordingDesk m_desk;
    QLabel m_title, m_day, m_state, m_counts, m_empty;
    QPushButton m_marker, m_record, m_gauges, m_more, m_whole;
    ComboBox m_which, m_conversion;
    QMenu m_gaugeMenu, m_moreMenu;
    QAction* m_remove = nullptr;
    TracePlot m_plot;
    OverviewStrip m_overview;
    QScrollArea m_noiseScroll;  // before what stands in it
    NoisePanel m_noise;
    CursorPanel m_cursor;
    MarksPanel m_marks;
};

}  // namespace fg::gui
