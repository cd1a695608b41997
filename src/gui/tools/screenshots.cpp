// Remakes the pictures in docs/screenshots/ from the demo data: the real window, offscreen, at 1280 x 800.
// usage: fair-gauge-screenshots FOLDER [NAME] [night] [large] [tall]    only NAME when given; in the dark, with text at
// 150 %, in a tall window, to look at
//        fair-gauge-screenshots FOLDER --gauge FILE STAGE...     one gauge file at some of its stages, or "handover"

#include "bench/gauge_json.h"
#include "bench_page/bench_page.h"
#include "choose_page/choose_page.h"
#include "handover_page/handover_page.h"
#include "handover_page/sender_dialog.h"
#include "path/said_path.h"
#include "recorder/recorder_page.h"
#include "theme/theme.h"
#include "widgets/text.h"
#include "window/main_window.h"

#include <cmath>
#include <cstdio>

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTabBar>
#include <QTableWidget>
#include <QTemporaryDir>

namespace {

using namespace fg;
using namespace fg::gui;

/// Lets the simulated bench run and everything paint.
void settle(int ms) {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < ms) QApplication::processEvents(QEventLoop::AllEvents, 20);
}

/// And the recorder get all that it looks for, one look after the other, however busy the machine is.
void settleLook(const MainWindow& window) {
    auto* page = window.findChild<RecorderPage*>(QStringLiteral("recorder"));
    constexpr int kMostTimes = 1000, kQuietTimes = 30;
    for (int i = 0, quiet = 0; page && quiet < kQuietTimes && i < kMostTimes; ++i) {
        settle(20);
        quiet = page->desk().isLooking() ? 0 : quiet + 1;
    }
}

struct Camera {
    QDir folder;
    QString only;

    template <class Prepare>
    void take(MainWindow& window, const char* name, Prepare prepare) const {
        prepare();  // one view builds on the one before
        const bool isWanted = only.isEmpty() || only == QLatin1String(name);
        settle(isWanted ? 350 : 20);
        if (!isWanted) return;
        settleLook(window);
        const QString file = folder.filePath(QLatin1String(name) + QStringLiteral(".png"));
        if (!window.grab().save(file)) std::fprintf(stderr, "cannot write %s\n", qPrintable(file));
    }
};

/// The recorded day, with the cursor in it.
void recorder(const Camera& camera, MainWindow& window) {
    // To look at, not to keep: under twenty pictures.
    if (!camera.only.isEmpty())
        camera.take(window, "lines", [&] {
            window.showLines();
            settle(600);
        });
    camera.take(window, "recorder", [&] {
        window.showRecorder();
        settle(400);
        auto* page = window.findChild<RecorderPage*>(QStringLiteral("recorder"));
        std::vector<std::int64_t> gauges{8, 11};
        for (const Track& track : page->desk().recording()->tracks)
            if (track.isWorkedOut) gauges.insert(gauges.begin() + 1, track.gauge);
        gauges.insert(gauges.begin(), 1);
        page->desk().setGauges(gauges);
        page->desk().setCursor(page->desk().whole().from_us + 9000 * kMicrosASecond);
    });
}

/// An hour in which the board says what it makes of the air's sensor, half a degree too much and more as it gets warm.
void recordSaid(Workbench& workbench) {
    GaugeSpec said = defaultSaidGauge("air_said", **unitFromId("degC", Quantity::Temperature));
    said.name = "Air by the board";
    workbench.addGauge(said);
    const std::int64_t id = workbench.bench().bench().gauges.back().id;
    BenchGauge own = workbench.bench().bench().gauges.at(1);
    own.spec.beside = {id, said.name};
    constexpr Micros kStart_us = 1'796'025'600 * kMicrosASecond;
    RecordingStore& store = workbench.bench().file()->recordings();
    const auto begun = store.begin({0,
                                    "Board against gauge",
                                    "Serial port",
                                    kStart_us,
                                    {},
                                    {{0, own.id, {{kStart_us, own.spec}}}, {0, id, {{kStart_us, said}}}}});
    if (!begun) return;
    std::vector<RecordedSample> codes, values;
    for (int i = 0; i < 3600; ++i) {
        const Micros time_us = kStart_us + i * kMicrosASecond;
        const double warmth = 21 + 3 * std::sin(i / 900.0);
        codes.push_back({time_us, Raw(std::round((0.5 + 0.01 * warmth) / 4.94 * 1024))});
        values.push_back({time_us, Raw(std::round(100 * (warmth + 0.5 + 0.05 * (warmth - 20))) / 100)});
    }
    RecordingStep step;
    step.samples = {{begun->tracks[0].id, codes}, {begun->tracks[1].id, values}};
    step.ended_us = codes.back().time_us;
    (void)store.append(begun->id, step);
}

/// To look at, not to keep: what follows from other gauges, what comes now, the noise of a stretch.
void closer(const Camera& camera, MainWindow& window, Workbench& workbench) {
    if (camera.only.isEmpty()) return;
    camera.take(window, "recorder-noise", [&] {
        window.showRecorder();
        settle(400);
        RecordingDesk& desk = window.findChild<RecorderPage*>(QStringLiteral("recorder"))->desk();
        const Micros from_us = desk.whole().from_us;
        desk.setGauges({1, 8});
        desk.setSelection(TimeSpan{from_us, from_us + 7200 * kMicrosASecond});
        desk.setCursor(from_us + 9000 * kMicrosASecond);
        desk.setOther(from_us + 7600 * kMicrosASecond);
        settle(800);
        window.findChild<QTabBar*>(QStringLiteral("recorder.pictures"))->setCurrentIndex(1);
        settle(400);
    });
    if (camera.only == QLatin1String("recorder-beside")) recordSaid(workbench);
    camera.take(window, "recorder-beside", [&] {
        window.showRecorder();
        settle(400);
        RecordingDesk& desk = window.findChild<RecorderPage*>(QStringLiteral("recorder"))->desk();
        desk.refresh();
        desk.choose(desk.recordings().back().id);
        desk.setGauges({workbench.views().at(1).id(), workbench.views().back().id()});
        desk.setCursor(desk.whole().from_us + 2000 * kMicrosASecond);
    });
    workbench.selectGauge(1);
    workbench.selectGauge(workbench.views().back().id());
    camera.take(window, "derived-inputs", [&] { workbench.selectStage(Stage::Sensor); });
    camera.take(window, "derived-formula", [&] { workbench.selectStage(Stage::Formula); });
    camera.take(window, "derived-reading", [&] { workbench.selectStage(Stage::Reading); });
    if (camera.only == QLatin1String("sender")) {
        SenderDialog dialog(workbench, "violin_workshop", &window);
        dialog.show();
        settle(300);
        (void)dialog.grab().save(camera.folder.filePath(QStringLiteral("sender.png")));
    }
    camera.take(window, "setup-words", [&] {
        workbench.selectGauge(workbench.views().at(1).id());
        workbench.selectStage(Stage::Converter);
        settle(300);
        auto* words = window.findChild<QWidget*>(QStringLiteral("converter.setup"));
        for (QWidget* outer = words; outer; outer = outer->parentWidget())
            if (auto* scroll = qobject_cast<QScrollArea*>(outer))
                scroll->verticalScrollBar()->setValue(words->mapTo(scroll->widget(), QPoint()).y());
    });
    camera.take(window, "now", [&] {
        workbench.selectGauge(1);
        workbench.edit(QStringLiteral("Filter"), [](GaugeSpec& spec) { spec.reading.filter.kind = "mean"; });
        window.findChild<QTabBar*>(QStringLiteral("reading.pages"))->setCurrentIndex(4);
        settle(9000);
    });
    window.findChild<QTabBar*>(QStringLiteral("reading.pages"))->setCurrentIndex(0);
}

void stages(const Camera& camera, MainWindow& window, Workbench& workbench) {
    camera.take(window, "gauge-wiring", [&] { workbench.selectStage(Stage::Wiring); });
    camera.take(window, "gauge-formula", [&] { workbench.selectStage(Stage::Formula); });
    camera.take(window, "gauge-converter", [&] { workbench.selectStage(Stage::Converter); });
    camera.take(window, "gauge-sensor", [&] { workbench.selectStage(Stage::Sensor); });
    // To look at, not to keep: under twenty pictures.
    if (!camera.only.isEmpty()) camera.take(window, "gauge-world", [&] { workbench.selectStage(Stage::World); });
    camera.take(window, "gauge-reading", [&] {
        (void)workbench.tryText(Stage::World, QStringLiteral("61 °C"));
        workbench.selectStage(Stage::Reading);
    });
    workbench.backToLive();
    workbench.selectGauge(workbench.views().at(0).id());
    if (!camera.only.isEmpty())
        camera.take(window, "alarm", [&] {
            workbench.edit(QStringLiteral("Alarm"), [](GaugeSpec& spec) { spec.alarm = AlarmRule{61, 57, 0.5}; });
            auto* pages = window.findChild<QTabBar*>(QStringLiteral("reading.pages"));
            pages->setCurrentIndex(3);
            window.findChild<QPushButton*>(QStringLiteral("alarm.replay"))->click();
        });
    camera.take(window, "handover", [&] {
        window.showHandover();
        auto* table = window.findChild<QTableWidget*>(QStringLiteral("handover.table"));
        window.findChild<QLineEdit*>(QStringLiteral("handover.line"))->setText(QStringLiteral("124-adc*295/10000"));
        // What is pictured is waited for, however long it takes.
        QElapsedTimer timer;
        timer.start();
        auto* take = window.findChild<QPushButton*>(QStringLiteral("handover.lineTake"));
        const auto* page = window.findChild<HandoverPage*>();
        while (timer.elapsed() < 60'000 && (page->isBusy() || take->text().isEmpty())) settle(50);
        table->selectRow(5);
    });
    camera.take(window, "gauge-correction", [&] { workbench.selectStage(Stage::Correction); });
    auto* correction = window.findChild<QTabBar*>(QStringLiteral("correction.pages"));
    camera.take(window, "correction-session", [&] {
        correction->setCurrentIndex(1);
        auto* kind = window.findChild<QComboBox*>(QStringLiteral("session.kind"));
        kind->setCurrentIndex(kind->findData(QStringLiteral("steam")));
        emit kind->activated(kind->currentIndex());
    });
    camera.take(window, "correction-history", [&] { correction->setCurrentIndex(2); });
    if (!camera.only.isEmpty())
        camera.take(window, "correction-sides", [&] {
            workbench.selectGauge(workbench.views().at(7).id());
            correction->setCurrentIndex(3);
            window.findChild<QLineEdit*>(QStringLiteral("sides.other"))->setText(QStringLiteral("56 ± 3"));
        });
    correction->setCurrentIndex(0);
    camera.take(window, "bytes", [&] {
        workbench.selectGauge(workbench.views().at(6).id());
        workbench.selectStage(Stage::Converter);
    });
    camera.take(window, "bus", [&] { workbench.selectStage(Stage::Wiring); });
    workbench.backToLive();
}

/// The pages of the bench as a whole: choosing a part for the wood store, and the plan.
void benchPages(const Camera& camera, MainWindow& window, Workbench& workbench) {
    camera.take(window, "choose", [&] {
        window.showChoose(false);
        Need need;
        need.wishes = {{Quantity::Temperature, {5, 35}, 0.6, 0.1}, {Quantity::RelativeHumidity, {30, 70}, 4, 0}};
        need.interval_s = 1;
        need.medium = Medium::Air;
        need.supplies_V = {3.3, 5};
        need.cable_m = 2;
        window.findChild<ChoosePage*>()->form().setNeed(need);
        // What is pictured is waited for, however long it takes.
        auto* count = window.findChild<QLabel*>(QStringLiteral("choose.count"));
        QElapsedTimer timer;
        timer.start();
        while (timer.elapsed() < 60'000 && (count->text().isEmpty() || !count->text().contains(QStringLiteral(" of "))))
            settle(50);
        settle(700);
        auto* table = window.findChild<CandidateTable*>();
        for (const int row : {0, 1, 2}) table->toggle(row);
    });
    if (!camera.only.isEmpty())
        camera.take(window, "choose-compare",
                    [&] { window.findChild<QTabBar*>(QStringLiteral("choose.tabs"))->setCurrentIndex(1); });
    window.findChild<QTabBar*>(QStringLiteral("choose.tabs"))->setCurrentIndex(0);
    auto* tabs = [&] {
        window.showBench();
        return window.findChild<QTabBar*>(QStringLiteral("bench.tabs"));
    }();
    camera.take(window, "bench-map", [&] { tabs->setCurrentIndex(0); });
    camera.take(window, "bench-wires", [&] {
        tabs->setCurrentIndex(4);
        window.findChild<WiresPage*>()->choose(10);
    });
    camera.take(window, "journal", [&] { window.showJournal(); });
    window.showBench();
    // To look at, not to keep: under twenty pictures.
    if (!camera.only.isEmpty()) {
        camera.take(window, "bench-supplies", [&] { tabs->setCurrentIndex(1); });
        camera.take(window, "bench-round", [&] { tabs->setCurrentIndex(2); });
        camera.take(window, "bench-cables", [&] { tabs->setCurrentIndex(3); });
        camera.take(window, "bench-wires-module", [&] {
            tabs->setCurrentIndex(4);
            window.findChild<WiresPage*>()->choose(7);
        });
        camera.take(window, "bench-wires-divider", [&] { window.findChild<WiresPage*>()->choose(1); });
        camera.take(window, "bench-parts", [&] { tabs->setCurrentIndex(5); });
    }
    tabs->setCurrentIndex(0);
    workbench.selectGauge(workbench.views().at(1).id());
    workbench.selectGauge(workbench.views().at(0).id());
}

/// A gauge of its own, at the stages named.
int lookAt(const Camera& camera, MainWindow& window, Workbench& workbench, const QString& bench,
           const QStringList& arguments) {
    const auto spec = readGaugeFile(arguments.value(0).toStdString());
    if (!spec) {
        std::fprintf(stderr, "%s\n", spec.error().message().c_str());
        return 1;
    }
    Bench content;
    content.add(*spec);
    if (!workbench.bench().createFile(bench, content)) return 1;
    for (const Stage stage : kStages)
        if (const QString name = qs(std::string(stageName(stage))); arguments.mid(1).contains(name))
            camera.take(window, qPrintable(name), [&] { workbench.selectStage(stage); });
    settle(200);  // until the window is furnished
    if (arguments.mid(1).contains(QStringLiteral("handover")))
        camera.take(window, "handover", [&] {
            window.showHandover();
            while (window.findChild<HandoverPage*>()->isBusy()) settle(50);
        });
    return 0;
}

}  // namespace

int main(int argc, char** argv) {
    QTemporaryDir home;
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("fair-gauge"));
    if (argc < 2) {
        std::fprintf(stderr, "usage: fair-gauge-screenshots FOLDER [NAME]\n");
        return 2;
    }
    Theme::instance().install();
    const QStringList arguments = QApplication::arguments();
    const bool isLook = arguments.value(2) == QLatin1String("--gauge");
    const Camera camera{QDir(arguments.at(1)), isLook ? QString() : arguments.value(2)};

    Theme::instance().setNight(arguments.contains(QStringLiteral("night")));
    if (arguments.contains(QStringLiteral("large"))) Theme::instance().setTextScale(1.5);
    const auto folders = Catalogue::standardFolders();
    Workbench workbench(Catalogue::read(folders));
    MainWindow window(workbench);
    window.resize(1280, arguments.contains(QStringLiteral("tall")) ? 2400 : 800);
    window.show();
    if (isLook)
        return lookAt(camera, window, workbench, home.filePath(QStringLiteral("Look.fairgauge")), arguments.mid(3));
    const QString path = home.filePath(QStringLiteral("Empty.fairgauge"));
    if (!workbench.bench().createFile(path)) return 1;
    camera.take(window, "empty-bench", [&] { window.showNewGauge(); });
    if (camera.only == QLatin1String("recorder-empty"))
        camera.take(window, "recorder-empty", [&] { window.showRecorder(); });
    if (!window.benchActions().openDemo(home.filePath(QStringLiteral("Violin workshop.fairgauge")))) return 1;
    window.useSimulation();
    settle(1600);
    stages(camera, window, workbench);
    benchPages(camera, window, workbench);
    recorder(camera, window);
    closer(camera, window, workbench);
    camera.take(window, "gauge-night", [&] {
        Theme::instance().setNight(true);
        // Away from the recorder: a gauge that is chosen is shown.
        workbench.selectGauge(workbench.views().at(1).id());
        workbench.selectGauge(workbench.views().front().id());
        workbench.selectStage(Stage::Wiring);
    });
    Theme::instance().setNight(false);
    camera.take(window, "large-text", [&] { Theme::instance().setTextScale(1.5); });
    Theme::instance().setTextScale(1);
    return 0;
}
