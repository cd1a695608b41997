#include "window/main_window.h"

#include "bench_page/bench_page.h"
#include "choose_page/choose_page.h"
#include "findings_panel/findings_panel.h"
#include "handover_page/handover_page.h"
#include "journal/journal_page.h"
#include "lines/lines_page.h"
#include "live_sources/core_source.h"
#include "live_sources/serial_source.h"
#include "live_sources/simulated_source.h"
#include "path_strip/ribbon.h"
#include "rack/rack.h"
#include "recorder/recorder_page.h"
#include "sources/source.h"
#include "theme/theme.h"
#include "widgets/text.h"
#include "window/help.h"
#include "window/serial_dialog.h"
#include "window/status_line.h"
#include "window/title_line.h"

#include <QActionGroup>
#include <QCloseEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

namespace fg::gui {

MainWindow::MainWindow(Workbench& workbench, QWidget* parent)
    : QMainWindow(parent),
      m_workbench(workbench),
      m_actions(workbench, this),
      m_recorder(workbench),
      m_sheets(workbench) {
    setObjectName(QStringLiteral("mainWindow"));
    setMinimumSize(1024, 640);
    resize(1280, 800);
    auto* central = new QWidget;
    m_row = new QHBoxLayout(central);
    m_row->setContentsMargins(0, 0, 0, 0);
    m_row->setSpacing(8);
    auto* column = new QVBoxLayout;
    column->setContentsMargins(0, 0, 8, 8);
    column->setSpacing(0);
    column->addWidget(&m_message);
    column->addWidget(&m_pages, 1);
    m_row->addLayout(column, 1);
    setCentralWidget(central);
    buildMenus();
    connect(&m_actions, &BenchActions::failed, &m_message, &MessageBar::showMessage);
    connect(&workbench.feed(), &LiveFeed::noticed, &m_message, &MessageBar::showMessage);
    connect(&workbench.bench(), &BenchModel::failed, &m_message, &MessageBar::showMessage);
    connect(&workbench.bench(), &BenchModel::fileLost, this, [this](const QString& message) {
        m_message.showMessage(
            tr("%1. Nothing is kept now: Bench, Save a copy gives the work a file again.").arg(message));
    });
    connect(&workbench.bench(), &BenchModel::fileChanged, this, &MainWindow::updateTitle);
    connect(&Theme::instance(), &Theme::changed, this, &MainWindow::updateTitle);
    connect(&workbench, &Workbench::stageChanged, this, [this] {
        m_lower.setCurrentIndex(0);
        showSheet();
    });
    connect(&workbench, &Workbench::gaugesChanged, this, &MainWindow::showSheet);
    connect(&workbench, &Workbench::currentChanged, this, &MainWindow::showPage);
    connect(&m_sheets, &SheetShelf::chooseWanted, this, [this] { showChoose(true); });
    updateTitle();
}

NewGaugePage& MainWindow::newGaugePage() {
    if (m_newGauge) return *m_newGauge;
    m_newGauge = new NewGaugePage(m_workbench);
    m_pages.addWidget(m_newGauge);
    connect(m_newGauge, &NewGaugePage::done, this, &MainWindow::showPage);
    connect(m_newGauge, &NewGaugePage::demoWanted, this, &MainWindow::openDemo);
    connect(m_newGauge, &NewGaugePage::chooseWanted, this, [this] { showChoose(false); });
    return *m_newGauge;
}

void MainWindow::openDemo() {
    const auto opened =
        m_actions.openDemo(BenchActions::defaultFolder() + QStringLiteral("/Violin workshop.fairgauge"));
    if (!opened) return m_message.showMessage(qs(opened.error().message()));
    useSimulation();
}

void MainWindow::paintEvent(QPaintEvent* event) {
    QMainWindow::paintEvent(event);
    if (m_isFurnished) return;
    // Behind this first paint, which is over when the queue comes to this: the window is there at once, what stands in
    // it a moment later.
    QMetaObject::invokeMethod(
        this,
        [this] {
            QTimer::singleShot(0, this, [this] {
                if (m_isFurnished) return;
                emit framed();
                furnish();
            });
        },
        Qt::QueuedConnection);
}

void MainWindow::furnish() {
    if (m_isFurnished) return;
    m_isFurnished = true;
    setStatusBar(new StatusLine(m_workbench, this));
    auto* rack = new Rack(m_workbench, centralWidget());
    m_row->insertWidget(0, rack);
    connect(rack, &Rack::newGaugeWanted, this, &MainWindow::showNewGauge);
    connect(rack, &Rack::benchWanted, this, &MainWindow::showBench);
    connect(rack, &Rack::journalWanted, this, &MainWindow::showJournal);
    connect(rack, &Rack::recorderWanted, this, &MainWindow::showRecorder);
    connect(rack, &Rack::gaugeWanted, this, &MainWindow::showPage);
    connect(&m_pages, &QStackedWidget::currentChanged, rack, [this, rack] {
        const QWidget* page = m_pages.currentWidget();
        auto shows = Rack::Shows::Gauge;
        if (m_bench && page == m_bench) shows = Rack::Shows::Bench;
        if (m_recorderPage && page == m_recorderPage) shows = Rack::Shows::Recorder;
        if (m_journal && page == m_journal) shows = Rack::Shows::Journal;
        rack->setShows(shows);
    });
    m_gaugePage = buildGaugePage();
    m_pages.addWidget(m_gaugePage);
    showPage();
    rack->fill();
}

QWidget* MainWindow::buildGaugePage() {
    // Made from the outside inwards: what gets its parent later is dressed in the style once more, with all in it.
    auto* page = new QWidget(&m_pages);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    auto* title = new TitleLine(m_workbench, page);
    m_strip = new PathStrip(m_workbench, page);
    m_lower.setParent(page);
    auto* sheets = new QWidget(&m_lower);
    auto* lower = new QHBoxLayout(sheets);
    lower->setContentsMargins(0, 0, 0, 0);
    lower->setSpacing(8);
    lower->addWidget(&m_sheets, 1);
    lower->addWidget(new FindingsPanel(m_workbench, sheets));
    column->addWidget(title);
    column->addWidget(m_strip);
    column->addWidget(new Ribbon(m_workbench, page));
    m_lower.addWidget(sheets);
    column->addWidget(&m_lower, 1);
    connect(title, &TitleLine::tryWanted, this, &MainWindow::tryValue);
    connect(title, &TitleLine::handoverWanted, this, &MainWindow::showHandover);
    return page;
}

// Sheets are made when they are first looked at: the window opens quicker, and most days need two of them.
void MainWindow::showSheet() {
    if (m_isFurnished) m_sheets.showChosen();
}

void MainWindow::showPage() {
    if (!m_isFurnished) return;
    if (!m_workbench.current()) return showNewGauge();
    const bool wasElsewhere = m_pages.currentWidget() != m_gaugePage;
    m_pages.setCurrentWidget(m_gaugePage);
    showSheet();
    if (wasElsewhere || !focusWidget()) m_strip->tile(m_workbench.stage())->setFocus();
}

void MainWindow::showNewGauge() {
    if (!m_isFurnished) return;
    m_pages.setCurrentWidget(&newGaugePage());
    m_newGauge->begin();
}

void MainWindow::showChoose(bool fromGauge) {
    if (!m_isFurnished) return;
    if (!m_choose) {
        m_choose = new ChoosePage(m_workbench);
        m_pages.addWidget(m_choose);
        connect(m_choose, &ChoosePage::done, this, &MainWindow::showPage);
    }
    m_pages.setCurrentWidget(m_choose);
    m_choose->begin(fromGauge);
}

void MainWindow::showBench() {
    if (!m_isFurnished) return;
    if (!m_bench) {
        m_bench = new BenchPage(m_workbench);
        m_pages.addWidget(m_bench);
        connect(m_bench, &BenchPage::gaugeWanted, this, [this](qint64 id) {
            m_workbench.selectGauge(id);
            showPage();
        });
        connect(m_bench, &BenchPage::done, this, &MainWindow::showPage);
    }
    m_pages.setCurrentWidget(m_bench);
}

void MainWindow::showJournal() {
    if (!m_isFurnished) return;
    if (!m_journal) {
        m_journal = new JournalPage(m_workbench);
        m_pages.addWidget(m_journal);
        connect(m_journal, &JournalPage::done, this, &MainWindow::showPage);
    }
    m_pages.setCurrentWidget(m_journal);
}

RecorderPage& MainWindow::recorderPage() {
    if (m_recorderPage) return *m_recorderPage;
    m_recorderPage = new RecorderPage(m_workbench, m_recorder);
    m_pages.addWidget(m_recorderPage);
    connect(m_recorderPage, &RecorderPage::done, this, &MainWindow::showPage);
    connect(m_recorderPage, &RecorderPage::failed, &m_message, &MessageBar::showMessage);
    return *m_recorderPage;
}

void MainWindow::showLines() {
    if (!m_isFurnished) return;
    if (!m_lines) {
        m_lines = new LinesPage(m_workbench);
        m_pages.addWidget(m_lines);
        connect(m_lines, &LinesPage::done, this, &MainWindow::showPage);
    }
    m_pages.setCurrentWidget(m_lines);
}

void MainWindow::showRecorder() {
    if (m_isFurnished) m_pages.setCurrentWidget(&recorderPage());
}

void MainWindow::showHandover() {
    if (!m_isFurnished || !m_workbench.current()) return;
    if (!m_handover) {
        m_handover = new HandoverPage(m_workbench);
        m_lower.addWidget(m_handover);
        connect(m_handover, &HandoverPage::done, this, [this] { m_lower.setCurrentIndex(0); });
    }
    m_pages.setCurrentWidget(m_gaugePage);
    m_lower.setCurrentWidget(m_handover);
}

void MainWindow::tryValue() {
    if (!m_isFurnished || !m_workbench.current()) return;
    m_pages.setCurrentWidget(m_gaugePage);
    m_strip->tile(Stage::World)->beginEdit();
}

bool MainWindow::mayLoseWork() {
    QMessageBox box(QMessageBox::Question, tr("Fair Gauge"), tr("These gauges are in no file."),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    box.setObjectName(QStringLiteral("unkept"));
    box.setTextFormat(Qt::PlainText);
    box.setInformativeText(tr("Save them under a name, or lose them."));
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
    if (answer == QMessageBox::Save) m_actions.saveCopy();
    return answer == QMessageBox::Discard || !m_workbench.bench().hasUnkeptWork();
}

void MainWindow::updateTitle() {
    const QString file = m_workbench.bench().fileName();
    setWindowTitle(file.isEmpty() ? tr("Fair Gauge") : tr("%1 – Fair Gauge").arg(file));
    m_fileState.setText(file.isEmpty() ? tr("no file: nothing is kept  ") : tr("%1 · saved  ").arg(file));
    dress(m_fileState, Theme::instance().text(12), colours().ink2);
    m_fileState.setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_fileState.setContentsMargins(0, 0, 0, 0);
    m_fileState.setMinimumHeight(px(24));
    menuBar()->setCornerWidget(&m_fileState);
    m_fileState.show();
}

void MainWindow::buildMenus() {
    QMenu* bench = menuBar()->addMenu(tr("&Bench"));
    bench->addAction(tr("&New bench…"), QKeySequence(tr("Ctrl+Shift+N")), &m_actions, &BenchActions::newBench);
    bench->addAction(tr("&Open…"), QKeySequence::Open, &m_actions, &BenchActions::openBench);
    bench->addAction(tr("Save a &copy…"), QKeySequence::SaveAs, &m_actions, &BenchActions::saveCopy);
    bench->addSeparator();
    bench->addAction(tr("&Plan the bench"), QKeySequence(tr("Ctrl+B")), this, &MainWindow::showBench);
    bench->addAction(tr("&Journal"), QKeySequence(tr("Ctrl+J")), this, &MainWindow::showJournal);
    bench->addSeparator();
    bench->addAction(tr("Papers into a &folder…"), &m_actions, &BenchActions::askForPapers);
    bench->addAction(tr("Print the bench s&heet…"), QKeySequence::Print, &m_actions, &BenchActions::printBench);
    bench->addSeparator();
    bench->addAction(tr("&Import a gauge…"), &m_actions, &BenchActions::importGauge);
    bench->addAction(tr("&Export this gauge…"), QKeySequence(tr("Ctrl+E")), &m_actions, &BenchActions::exportGauge);
    bench->addSeparator();
    bench->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);

    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = edit->addAction(tr("&Undo"), QKeySequence::Undo, &m_workbench.bench(), &BenchModel::undo);
    QAction* redo = edit->addAction(tr("&Redo"), &m_workbench.bench(), &BenchModel::redo);
    redo->setShortcuts({QKeySequence(tr("Ctrl+Shift+Z")), QKeySequence(tr("Ctrl+Y"))});
    const auto refresh = [this, undo, redo] {
        const BenchModel& model = m_workbench.bench();
        undo->setEnabled(model.canUndo());
        redo->setEnabled(model.canRedo());
        undo->setText(model.canUndo() ? tr("&Undo: %1").arg(model.undoLabel()) : tr("&Undo"));
        redo->setText(model.canRedo() ? tr("&Redo: %1").arg(model.redoLabel()) : tr("&Redo"));
    };
    connect(&m_workbench.bench(), &BenchModel::changed, this, refresh);
    refresh();
    buildGaugeMenu();
    buildSourceMenu();
    buildRecordMenu();
    buildViewMenu();
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    help->addAction(tr("&Keys"), QKeySequence::HelpContents, this, [this] { showKeys(this); });
    help->addAction(tr("&About Fair Gauge"), this, [this] { showAbout(this); });
}

void MainWindow::buildGaugeMenu() {
    QMenu* gauge = menuBar()->addMenu(tr("&Gauge"));
    gauge->addAction(tr("&New gauge…"), QKeySequence::New, this, &MainWindow::showNewGauge);
    gauge->addAction(tr("&Choose a part…"), QKeySequence(tr("Ctrl+Shift+P")), this, [this] { showChoose(false); });
    gauge->addAction(tr("Other parts for t&his gauge…"), this, [this] { showChoose(true); });
    gauge->addAction(tr("Print its s&heet…"), &m_actions, &BenchActions::printGauge);
    gauge->addAction(tr("&Hand over as code"), QKeySequence(Qt::Key_H), this, &MainWindow::showHandover);
    gauge->addAction(tr("&Remove this gauge"), &m_workbench, &Workbench::removeCurrent);
    gauge->addSeparator();
    for (const Stage stage : kStages) {
        const auto key = QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(stage)));
        gauge->addAction(QString::fromUtf8(stageTitle(stage).data()), key, this, [this, stage] {
            m_workbench.selectStage(stage);
            showPage();
            if (m_strip) m_strip->tile(stage)->setFocus();
        });
    }
    for (int i = 0; i < 9; ++i) {
        auto* action = new QAction(this);
        action->setShortcut(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)));
        connect(action, &QAction::triggered, this, [this, i] {
            const auto& views = m_workbench.views();
            if (static_cast<std::size_t>(i) >= views.size()) return;
            m_workbench.selectGauge(views[static_cast<std::size_t>(i)].id());
            showPage();  // also from another page to the gauge that is chosen already
        });
        addAction(action);
    }
    QMenu* tryMenu = menuBar()->addMenu(tr("&Try"));
    tryMenu->addAction(tr("&Try a value"), QKeySequence(Qt::Key_T), this, &MainWindow::tryValue);
    tryMenu->addAction(tr("&Back to live"), QKeySequence(Qt::Key_Escape), &m_workbench, &Workbench::backToLive);
}

void MainWindow::buildSourceMenu() {
    QMenu* source = menuBar()->addMenu(tr("&Source"));
    source->addAction(tr("&Simulated bench"), this, &MainWindow::useSimulation);
    source->addAction(tr("Serial &port…"), this, &MainWindow::askForSerial);
    source->addAction(tr("Play a &recording…"), this, &MainWindow::askForReplay);
    source->addAction(tr("&Kernel files…"), this, &MainWindow::askForKernelFiles);
    m_beside = source->addAction(tr("The next one &beside those that run"));
    m_beside->setObjectName(QStringLiteral("source.beside"));
    m_beside->setCheckable(true);
    m_beside->setToolTip(tr("Its channels are then called 2:pot, 2:air and so on"));
    source->addSeparator();
    source->addAction(tr("&Lines as they come"), QKeySequence(tr("Ctrl+L")), this, &MainWindow::showLines);
    source->addAction(tr("A &program for the board…"), &m_actions, &BenchActions::showSender);
    source->addSeparator();
    source->addAction(tr("&None"), this, [this] { m_workbench.feed().setSource(nullptr); });
}

void MainWindow::buildRecordMenu() {
    QMenu* record = menuBar()->addMenu(tr("&Record"));
    record->addAction(tr("&Recorder"), QKeySequence(tr("Ctrl+R")), this, &MainWindow::showRecorder);
    record->addSeparator();
    QAction* start = record->addAction(tr("&Start recording"), QKeySequence(Qt::Key_R), this, [this] {
        if (!m_isFurnished) return;
        if (!m_recorder.isRunning()) showRecorder();
        recorderPage().startOrStop();
    });
    QAction* marker = record->addAction(tr("Set a &marker…"), QKeySequence(Qt::Key_M), this, [this] {
        if (m_isFurnished) recorderPage().mark();
    });
    record->addAction(tr("&Export as CSV…"), this, [this] {
        if (!m_isFurnished) return;
        showRecorder();
        recorderPage().exportCsv();
    });
    connect(&m_recorder, &LiveRecorder::changed, this,
            [this, start] { start->setText(m_recorder.isRunning() ? tr("&Stop recording") : tr("&Start recording")); });
    marker->setToolTip(tr("Now, while it records; else at the cursor"));
}

void MainWindow::buildViewMenu() {
    QMenu* view = menuBar()->addMenu(tr("&View"));
    QAction* night = view->addAction(tr("&Night bench"), QKeySequence(tr("Ctrl+Shift+B")), this, [](bool on) {
        Theme::instance().setNight(on);
        QSettings().setValue(QStringLiteral("night"), on);
    });
    night->setCheckable(true);
    night->setChecked(Theme::instance().isNight());
    view->addSeparator();
    auto* sizes = new QActionGroup(this);
    for (const int percent : {100, 125, 150}) {
        QAction* size = view->addAction(tr("Text %1 %").arg(percent), this, [percent] {
            Theme::instance().setTextScale(percent / 100.0);
            QSettings().setValue(QStringLiteral("textScale"), percent / 100.0);
        });
        size->setCheckable(true);
        size->setChecked(qRound(Theme::instance().textScale() * 100) == percent);
        sizes->addAction(size);
    }
}

void MainWindow::take(std::unique_ptr<ByteSource> source) {
    LiveFeed& feed = m_workbench.feed();
    if (m_beside && m_beside->isChecked() && feed.hasSource()) {
        feed.addSource(std::move(source));
        m_beside->setChecked(false);  // the next one replaces again, unless it is asked for
    } else {
        feed.setSource(std::move(source));
    }
}

void MainWindow::useSimulation() {
    auto parts = readVirtualBoard(BenchActions::demoFolder(), m_workbench.catalogue());
    if (!parts) return m_message.showMessage(qs(parts.error().message()));
    take(std::make_unique<SimulatedSource>(std::move(*parts), m_workbench.catalogue()));
}

void MainWindow::useSerial(const QString& port, int baud) { take(std::make_unique<SerialSource>(port, baud)); }

void MainWindow::useSource(const QString& text) {
    auto source = openSource(text.toStdString(), m_workbench.catalogue());
    if (!source) return m_message.showMessage(qs(source.error().message()));
    take(std::make_unique<CoreSource>(std::move(*source)));
}

void MainWindow::askForReplay() {
    const QString path = QFileDialog::getOpenFileName(this, tr("A recording as CSV"), {}, tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    bool isGiven = false;
    constexpr double kUsual = 10, kMost = 1000;
    const double speed =
        QInputDialog::getDouble(this, tr("Play a recording"), tr("How many times as fast as it was (1 to 1000):"),
                                kUsual, 0.1, kMost, 1, &isGiven);
    if (isGiven) useSource(QStringLiteral("replay:%1@%2").arg(path).arg(speed));
}

void MainWindow::askForKernelFiles() {
    const QString folder = QFileDialog::getExistingDirectory(
        this, tr("A folder of kernel files: /sys/bus/w1/devices, /sys/bus/iio/devices, /sys/class/hwmon"),
        QStringLiteral("/sys/bus"));
    if (!folder.isEmpty()) useSource(QStringLiteral("sysfs:%1").arg(folder));
}

void MainWindow::askForSerial() {
    SerialDialog dialog(this);
    if (dialog.exec() == QDialog::Accepted && !dialog.port().isEmpty()) useSerial(dialog.port(), dialog.baud());
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (m_workbench.bench().hasUnkeptWork() && !mayLoseWork()) return event->ignore();
    QSettings().setValue(QStringLiteral("geometry"), saveGeometry());
    QMainWindow::closeEvent(event);
}

}  // namespace fg::gui
