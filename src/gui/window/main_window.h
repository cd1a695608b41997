#pragma once

#include "model/live_recorder.h"
#include "path_strip/path_strip.h"
#include "welcome/new_gauge_page.h"
#include "widgets/message_bar.h"
#include "window/bench_actions.h"
#include "window/sheet_shelf.h"

#include <QHBoxLayout>
#include <QMainWindow>
#include <QStackedWidget>

namespace fg::gui {

class BenchPage;
class ChoosePage;
class HandoverPage;
class JournalPage;
class LinesPage;
class RecorderPage;
class Rack;

/// The window: puts the rack, the path, the sheets and the findings together, and owns nothing else. What they do is
/// theirs.
class MainWindow final : public QMainWindow {
    Q_OBJECT
  public:
    explicit MainWindow(Workbench& workbench, QWidget* parent = nullptr);

    [[nodiscard]] BenchActions& benchActions() { return m_actions; }
    void showMessage(const QString& text) { m_message.showMessage(text); }

    /// Starts the simulated bench, or a serial line, as the source of live values.
    void useSimulation();
    void useSerial(const QString& port, int baud);
    /// Starts what openSource() reads: "replay:FILE@SPEED", "sysfs:DIR".
    void useSource(const QString& text);

    void showNewGauge();
    /// The page that finds a part; from the chosen gauge's wish where `fromGauge`.
    void showChoose(bool fromGauge);
    /// The whole bench laid out.
    void showBench();
    void showJournal();
    /// The lines of the source as they come, and who listens to which channel.
    void showLines();
    /// What was recorded, and the recording that runs.
    void showRecorder();
    [[nodiscard]] LiveRecorder& recorder() { return m_recorder; }
    void tryValue();
    /// The chosen gauge as code, in place of its sheets.
    void showHandover();

    /// The window paints its frame first; rack, path, sheet and findings follow right after that first paint.
    [[nodiscard]] bool isFurnished() const { return m_isFurnished; }
    void furnish();

  signals:
    /// The frame stands on the screen: the time to open a bench, before it is furnished.
    void framed();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

  private:
    QWidget* buildGaugePage();
    NewGaugePage& newGaugePage();
    RecorderPage& recorderPage();
    void openDemo();
    void showSheet();
    void showPage();
    void buildMenus();
    void buildGaugeMenu();
    void buildSourceMenu();
    void take(std::unique_ptr<ByteSource> source);
    void buildRecordMenu();
    void buildViewMenu();
    void updateTitle();
    bool mayLoseWork();
    void askForSerial();
    void askForReplay();
    void askForKernelFiles();

    Workbench& m_workbench;
    BenchActions m_actions;
    LiveRecorder m_recorder;
    MessageBar m_message;
    QStackedWidget m_pages;
    QStackedWidget m_lower;  ///< below the path: sheet and findings, or the hand-over
    SheetShelf m_sheets;
    PathStrip* m_strip = nullptr;
    NewGaugePage* m_newGauge = nullptr;
    ChoosePage* m_choose = nullptr;
    BenchPage* m_bench = nullptr;
    JournalPage* m_journal = nullptr;
    RecorderPage* m_recorderPage = nullptr;
    LinesPage* m_lines = nullptr;
    QAction* m_beside = nullptr;
    bool m_isFurnished = false;
    QWidget* m_gaugePage = nullptr;
    HandoverPage* m_handover = nullptr;
    QHBoxLayout* m_row = nullptr;
    QLabel m_fileState;
};

}  // namespace fg::gui
