// The recorder page as a maker uses it: record, set a marker, stop, look closer, put a reference right, export.

#include "gui_support.h"

#include "bench/gauge_json.h"
#include "lines/lines_page.h"
#include "recorder/recorder_page.h"
#include "widgets/value_edit.h"

#include <QComboBox>
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSignalSpy>
#include <QTabBar>
#include <QTableWidget>
#include <QTimer>

namespace fg::gui::test {
namespace {

RecorderPage& pageOf(Bed& bed) {
    bed.window.showRecorder();
    return *bed.window.findChild<RecorderPage*>(QStringLiteral("recorder"));
}

/// Until nothing is being looked at any more.
void settle(RecorderPage& page) {
    constexpr int kPatience_ms = 60000;
    ASSERT_TRUE(QTest::qWaitFor([&] { return !page.desk().isLooking(); }, kPatience_ms));
}

/// Answers the next question that is asked.
void answerNext(const QString& text) {
    QTimer::singleShot(50, [text] {
        auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
        ASSERT_TRUE(dialog);
        dialog->setTextValue(text);
        dialog->accept();
    });
}

TEST(Recorder, RecordsMarksStopsAndShows) {
    Bed bed;
    bed.openDemo();
    RecorderPage& page = pageOf(bed);
    auto* empty = page.findChild<QLabel*>(QStringLiteral("recorder.empty"));
    EXPECT_TRUE(empty->isVisible());
    EXPECT_TRUE(empty->text().contains(QStringLiteral("source"))) << qPrintable(empty->text());
    QTest::keyClick(&bed.window, Qt::Key_R);  // nothing to record yet: it says so
    EXPECT_FALSE(bed.window.recorder().isRunning());
    bed.window.useSimulation();
    QTest::keyClick(&bed.window, Qt::Key_R);
    ASSERT_TRUE(bed.window.recorder().isRunning());
    ASSERT_TRUE(QTest::qWaitFor([&] { return bed.window.recorder().status().samples > 12; }, 30000));
    answerNext(QStringLiteral("Stove <b>lit</b>"));
    QTest::keyClick(&bed.window, Qt::Key_M);
    EXPECT_TRUE(
        page.findChild<QLabel*>(QStringLiteral("recorder.state"))->text().contains(QStringLiteral("recording")));
    page.startOrStop();
    EXPECT_FALSE(bed.window.recorder().isRunning());
    settle(page);
    const BenchRecording* recording = page.desk().recording();
    ASSERT_TRUE(recording);
    EXPECT_TRUE(recording->ended_us);
    ASSERT_EQ(recording->marks.size(), 1u);
    EXPECT_TRUE(page.findChild<QListWidget*>(QStringLiteral("recorder.marks"))
                    ->item(0)
                    ->text()
                    .contains(QStringLiteral("<b>lit</b>")));
    ASSERT_EQ(page.desk().seen().size(), 3u);
    // What is shown is what the engine read: the last reading of the recording, to within what came after the stop.
    const SeenTrack& pot = page.desk().seen()[0];
    ASSERT_TRUE(pot.atCursor || !page.desk().cursor());
    EXPECT_TRUE(pot.statistics);
    EXPECT_NEAR(pot.statistics->series.mean, 60, 4);
}

TEST(Recorder, LooksCloserAtTheRecordedDay) {
    Bed bed;
    ASSERT_TRUE(bed.window.benchActions().openDemo(bed.benchPath() + QStringLiteral("demo")));
    RecorderPage& page = pageOf(bed);
    settle(page);
    RecordingDesk& desk = page.desk();
    ASSERT_TRUE(desk.recording());
    EXPECT_EQ(desk.recording()->name, "A day in the workshop");
    desk.setGauges({1, 8, 11});
    settle(page);
    ASSERT_EQ(desk.seen().size(), 3u);
    // The noon sun: the varnish cabinet's sensor at its end, for the better part of an hour.
    double atLeast_s = 0;
    for (const Stretch& one : desk.seen()[2].stretches)
        if (one.kind == Stretch::Kind::AtLeast) atLeast_s += one.span.seconds();
    EXPECT_GT(atLeast_s, 40 * 60);
    // The lead that hung loose, and the cable that was pulled for seven minutes, noted with its reason.
    EXPECT_TRUE(std::any_of(desk.seen()[0].stretches.begin(), desk.seen()[0].stretches.end(),
                            [](const Stretch& one) { return one.kind == Stretch::Kind::AtMost; }));
    EXPECT_TRUE(std::any_of(desk.recording()->marks.begin(), desk.recording()->marks.end(),
                            [](const TimeMark& mark) { return mark.kind == MarkKind::Gap; }));
    auto* plot = page.findChild<TracePlot*>(QStringLiteral("recorder.plot"));
    const TimeSpan whole = desk.whole();
    plot->setFocus();
    QTest::keyClick(plot, Qt::Key_Plus);
    settle(page);
    EXPECT_LT(desk.span().seconds(), whole.seconds());
    const double x = plot->xOf(whole.from_us + (whole.to_us - whole.from_us) / 2);
    QTest::mouseClick(plot, Qt::LeftButton, {}, QPoint(static_cast<int>(x), plot->height() / 2));
    settle(page);
    ASSERT_TRUE(desk.cursor());
    ASSERT_TRUE(desk.seen()[0].atCursor);
    EXPECT_NEAR(desk.seen()[0].atCursor->value, 58, 6);
    EXPECT_GT(desk.seen()[0].expanded, 0);
    QTest::keyClick(plot, Qt::Key_Home);
    EXPECT_EQ(desk.span(), whole);
    // A selection of half an hour: its statistics, as many readings as were taken.
    desk.setSelection(TimeSpan{whole.from_us, whole.from_us + 1800 * kMicrosASecond});
    settle(page);
    EXPECT_EQ(desk.seen()[0].statistics->series.count, 91u);  // every 20 s, both ends
    auto* table = page.findChild<QTableWidget*>(QStringLiteral("recorder.noiseTable"));
    EXPECT_EQ(table->item(0, 6)->text(), QStringLiteral("91"));
    EXPECT_TRUE(
        page.findChild<QLabel*>(QStringLiteral("recorder.steps"))->text().contains(QStringLiteral("averaging pays")));
    ASSERT_FALSE(desk.seen()[0].allan.empty());
    EXPECT_EQ(desk.seen()[0].allan.front().averaging_s, 20);
    auto* curve = page.findChild<NoisePlot*>(QStringLiteral("recorder.noisePlot"));
    EXPECT_FALSE(curve->isVisible());
    for (const int picture : {1, 2}) {
        page.findChild<QTabBar*>(QStringLiteral("recorder.pictures"))->setCurrentIndex(picture);
        EXPECT_TRUE(curve->isVisible()) << picture;
    }
    QTest::keyClick(plot, Qt::Key_Escape);
    EXPECT_FALSE(desk.selection());
    settle(page);
    EXPECT_FALSE(curve->isVisible());
    // A second cursor an hour before the first: what changed between them, in all and an hour.
    const Micros at_us = *desk.cursor();
    const double later = desk.seen()[0].atCursor->value;
    desk.setCursor(at_us - 3600 * kMicrosASecond);
    settle(page);
    const double earlier = desk.seen()[0].atCursor->value;
    QTest::keyClick(plot, Qt::Key_D);
    desk.setCursor(at_us);
    settle(page);
    ASSERT_TRUE(desk.seen()[0].sinceOther);
    EXPECT_NEAR(desk.seen()[0].sinceOther->difference, later - earlier, 1e-12);
    EXPECT_NEAR(desk.seen()[0].sinceOther->perHour(), later - earlier, 1e-9);
    QTest::keyClick(plot, Qt::Key_Escape);
    EXPECT_FALSE(desk.other());
    EXPECT_TRUE(desk.cursor());
}

TEST(Recorder, FollowsAGaugeThatIsPutRight) {
    Bed bed;
    ASSERT_TRUE(bed.window.benchActions().openDemo(bed.benchPath() + QStringLiteral("demo")));
    RecorderPage& page = pageOf(bed);
    settle(page);
    RecordingDesk& desk = page.desk();
    desk.setGauges({1});
    settle(page);
    const double then = desk.seen()[0].statistics->series.mean;
    bed.workbench.bench().changeGauge(1, QStringLiteral("Correct"), [](GaugeSpec& spec) {
        spec.correction = {};
        spec.correction.kind = "offset";
        spec.correction.offset = 5;
    });
    settle(page);
    EXPECT_NEAR(desk.seen()[0].statistics->series.mean, then, 1e-9);
    desk.setConversion(Conversion::AsNow);
    settle(page);
    EXPECT_GT(desk.seen()[0].statistics->series.mean, then + 3);
    bed.workbench.bench().undo();
    settle(page);
    EXPECT_NEAR(desk.seen()[0].statistics->series.mean, then, 1e-9);
}

TEST(Recorder, StopsWithAMessageWhenTheFileIsTakenAway) {
    Bed bed;
    bed.openDemo();
    bed.window.useSimulation();
    RecorderPage& page = pageOf(bed);
    page.startOrStop();
    ASSERT_TRUE(bed.window.recorder().isRunning());
    QSignalSpy failed(&bed.window.recorder(), &LiveRecorder::failed);
    ASSERT_TRUE(QFile::rename(bed.benchPath(), bed.benchPath() + QStringLiteral(".away")));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !bed.window.recorder().isRunning(); }, 30000));
    ASSERT_EQ(failed.size(), 1);
    EXPECT_TRUE(failed[0][0].toString().contains(QStringLiteral("deleted or moved")))
        << qPrintable(failed[0][0].toString());
}

TEST(Recorder, EndsInOrderWhenAnotherBenchIsOpened) {
    Bed bed;
    bed.openDemo();
    bed.window.useSimulation();
    RecorderPage& page = pageOf(bed);
    page.startOrStop();
    ASSERT_TRUE(QTest::qWaitFor([&] { return bed.window.recorder().status().samples > 5; }, 30000));
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath() + QStringLiteral("2")));
    EXPECT_FALSE(bed.window.recorder().isRunning());
    settle(page);
    EXPECT_FALSE(page.desk().recording());
    const auto file = BenchFile::open(bed.benchPath().toStdString()).value();
    EXPECT_TRUE(file->recordings().recordings()->at(0).ended_us);
}

// The recorded day knows nothing of the wood's moisture; it follows from the store's humidity and warmth.
TEST(Recorder, OffersADerivedGaugeThatWasNotRecorded) {
    Bed bed;
    ASSERT_TRUE(bed.window.benchActions().openDemo(bed.benchPath() + QStringLiteral("demo")));
    RecorderPage& page = pageOf(bed);
    settle(page);
    ASSERT_TRUE(page.desk().recording());
    const auto& tracks = page.desk().recording()->tracks;
    const auto wood = std::find_if(tracks.begin(), tracks.end(), [](const Track& one) { return one.isWorkedOut; });
    ASSERT_NE(wood, tracks.end());
    EXPECT_EQ(wood->newest().name, "Wood moisture");
    const auto offered = page.findChild<QPushButton*>(QStringLiteral("recorder.gauges"))->menu()->actions();
    EXPECT_TRUE(std::any_of(offered.begin(), offered.end(), [](const QAction* one) {
        return one->text() == QLatin1String("Wood moisture, from its inputs");
    }));
    page.desk().setGauges({wood->gauge});
    settle(page);
    ASSERT_EQ(page.desk().seen().size(), 1u);
    // Between 40 and 50 % humidity at room temperature wood holds 7.5 to 9.5 % (the handbook's table).
    const SeenTrack& seen = page.desk().seen().front();
    ASSERT_TRUE(seen.statistics) << (seen.problem ? seen.problem->message() : "");
    EXPECT_GT(seen.statistics->series.mean, 7.5);
    EXPECT_LT(seen.statistics->series.mean, 9.5);
}

TEST(Recorder, PlaysARecordingAgain) {
    Bed bed;
    bed.openDemo();
    bed.window.useSource(
        QStringLiteral("replay:%1/day.csv@1000").arg(QString::fromStdString(BenchActions::demoFolder())));
    ASSERT_TRUE(QTest::qWaitFor([&] { return bed.workbench.feed().engine().status().samples > 100; }, 30000));
    EXPECT_NEAR(bed.workbench.views()[0].evaluation()->reading(), 60, 8);
    bed.window.useSource(QStringLiteral("sysfs:%1/kernel").arg(QString::fromStdString(BenchActions::demoFolder())));
    EXPECT_TRUE(QTest::qWaitFor([&] { return bed.workbench.feed().channels().contains(QStringLiteral("in_voltage0")); },
                                30000));
}

TEST(Lines, ShowWhatCameAndBindAChannelByAClick) {
    Bed bed;
    bed.openDemo();
    bed.workbench.bench().changeGauge(1, QStringLiteral("Unbind"), [](GaugeSpec& spec) { spec.channel.clear(); });
    bed.window.useSimulation();
    bed.window.showLines();
    auto* page = bed.window.findChild<LinesPage*>(QStringLiteral("lines"));
    auto* lines = page->findChild<QListWidget*>(QStringLiteral("lines.list"));
    auto* channels = page->findChild<QTableWidget*>(QStringLiteral("lines.channels"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return lines->count() > 1 && channels->rowCount() > 8; }, 30000));
    EXPECT_TRUE(lines->item(0)->text().contains(QStringLiteral("pot=")));
    page->chooseChannel(QStringLiteral("pot"));
    EXPECT_EQ(page->findChild<QComboBox*>(QStringLiteral("lines.gauge"))->currentText(), QStringLiteral("Glue pot"));
    EXPECT_TRUE(
        page->findChild<QLabel*>(QStringLiteral("lines.reason"))->text().contains(QStringLiteral("the name fits")));
    page->bind();
    EXPECT_EQ(bed.workbench.bench().bench().find(1)->spec.channel, "pot");
    // What the board says with a unit is no raw value.
    bed.workbench.feed().engine().take("said = 18.4 C\n<b>junk</b>\n", 1e6);
    const auto isShown = [&] {
        for (int i = 0; i < lines->count(); ++i)
            if (lines->item(i)->text().contains(QStringLiteral("<b>junk</b>"))) return true;
        return false;
    };
    EXPECT_TRUE(QTest::qWaitFor(isShown, 30000));
    page->chooseChannel(QStringLiteral("said"));
    EXPECT_FALSE(page->findChild<QPushButton*>(QStringLiteral("lines.bind"))->isEnabled());
}

TEST(AlarmPage, WarnsIsHeldAgainstTheDayAndIsNotedInTheRecording) {
    Bed bed;
    ASSERT_TRUE(bed.window.benchActions().openDemo(bed.benchPath() + QStringLiteral("demo")));
    bed.workbench.selectStage(Stage::Reading);
    bed.window.findChild<QTabBar*>(QStringLiteral("reading.pages"))->setCurrentIndex(3);
    auto* high = bed.window.findChild<ValueEdit*>(QStringLiteral("alarm.high"));
    const auto type = [](ValueEdit* edit, const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    };
    auto* band = bed.window.findChild<ValueEdit*>(QStringLiteral("alarm.band"));
    type(band, QStringLiteral("1"));  // no limit yet: it says so and the entry stays
    EXPECT_TRUE(band->isInvalid());
    type(high, QStringLiteral("141.8 F"));  // 61 °C
    ASSERT_TRUE(bed.workbench.current()->spec().alarm);
    EXPECT_NEAR(*bed.workbench.current()->spec().alarm->high, 61, 1e-9);
    type(band, QStringLiteral("0.5"));
    EXPECT_NEAR(bed.workbench.current()->spec().alarm->band, 0.5, 1e-12);
    EXPECT_TRUE(bed.window.findChild<QLabel*>(QStringLiteral("alarm.reached"))
                    ->text()
                    .contains(QStringLiteral("goes on at 61.0")));
    QTest::mouseClick(bed.window.findChild<QPushButton*>(QStringLiteral("alarm.replay")), Qt::LeftButton);
    EXPECT_TRUE(bed.window.findChild<QLabel*>(QStringLiteral("alarm.over"))->text().contains(QStringLiteral("times")));
    EXPECT_GT(bed.window.findChild<QTableWidget*>(QStringLiteral("alarm.table"))->rowCount(), 3);
    // It is kept with the gauge, through the file.
    const GaugeSpec kept = bed.workbench.current()->spec();
    EXPECT_EQ(readGauge(writeGauge(kept), "test")->alarm, kept.alarm);
    // Live: the tile says it, the recording notes it, and it goes off again by the dead band.
    bed.window.useSource(
        QStringLiteral("replay:%1/day.csv@1000").arg(QString::fromStdString(BenchActions::demoFolder())));
    ASSERT_TRUE(bed.window.recorder().start(QStringLiteral("replayed")));
    ASSERT_TRUE(QTest::qWaitFor([&] { return bed.workbench.alarms().stateOf(1).isOn; }, 30000));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !bed.workbench.alarms().stateOf(1).isOn; }, 30000));
    bed.window.recorder().stop();
    const auto recordings = bed.workbench.bench().file()->recordings().recordings().value();
    const auto& marks = recordings.back().marks;
    const auto alarm =
        std::find_if(marks.begin(), marks.end(), [](const TimeMark& mark) { return mark.kind == MarkKind::Alarm; });
    ASSERT_NE(alarm, marks.end());
    EXPECT_EQ(alarm->gauge, 1);
    EXPECT_EQ(alarm->text, "above 61 °C");
    // What is played again keeps the times it had: every 20 s from nine o'clock of that day on.
    constexpr Micros kNine_us = 1'795'424'400 * kMicrosASecond,
                     kEvery_us = 20 * kMicrosASecond;  // 2026-11-23T09:00:00Z
    const Track* track = recordings.back().trackOf(1);
    ASSERT_TRUE(track);
    std::size_t seen = 0;
    ASSERT_TRUE(bed.workbench.bench().file()->recordings().read(
        track->id, recordings.back().span(), [&](const SampleColumns& samples) {
            for (const Micros time_us : samples.times) {
                EXPECT_NEAR(static_cast<double>((time_us - kNine_us + kEvery_us / 2) % kEvery_us),
                            static_cast<double>(kEvery_us / 2), 100);
                EXPECT_GE(time_us, kNine_us - 100);
                ++seen;
            }
            return true;
        }));
    EXPECT_GE(seen, 3u);
    EXPECT_EQ(alarm->span.from_us / (86400 * kMicrosASecond), kNine_us / (86400 * kMicrosASecond));
}

}  // namespace
}  // namespace fg::gui::test
