// Drives the real window, offscreen, as its users do: with the keyboard and the mouse.

#include "gui/gui_support.h"

#include "findings_panel/finding_item.h"
#include "live_sources/serial_source.h"
#include "sheets/formula_sheet.h"
#include "widgets/value_edit.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <future>
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QStatusBar>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;
using test::waitUntil;

double valueAt(Bed& bed, Stage stage) { return bed.workbench.current()->evaluation()->at(stage).value; }

/// Types into a tile the way a user does: focus it, start typing, press Enter.
void typeIntoTile(Bed& bed, Stage stage, const QString& text) {
    auto* tile = bed.find<StageTile>("tile." + std::string(stageName(stage)));
    tile->setFocus();
    QTest::keyClick(tile, Qt::Key_Return);
    auto* edit = bed.find<QLineEdit>("tile.edit." + std::string(stageName(stage)));
    ASSERT_TRUE(edit->isVisible());
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
}

// The first frame stands while the catalogue is still being read; a bench that is opened then waits for it.
TEST(Window, DoesNotWaitForTheCatalogueWithItsFirstFrame) {
    static constexpr auto kPatience = std::chrono::seconds(30);
    std::promise<void> framed;
    auto reading = std::async(std::launch::async, [shown = framed.get_future()]() mutable {
        const bool wasFramed = shown.wait_for(kPatience) == std::future_status::ready;
        Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
        return wasFramed ? std::move(catalogue) : Catalogue();
    });
    const QTemporaryDir folder;
    Workbench workbench(std::move(reading));
    MainWindow window(workbench);
    QObject::connect(&window, &MainWindow::framed, &window, [&] { framed.set_value(); });
    window.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
    ASSERT_TRUE(QTest::qWaitFor([&] { return window.isFurnished(); }, 30000));
    EXPECT_FALSE(workbench.catalogue().parts().empty());
    ASSERT_TRUE(workbench.bench().createFile(folder.filePath(QStringLiteral("a.fairgauge")), test::wiredDemo()));
    ASSERT_TRUE(workbench.current());
    EXPECT_TRUE(workbench.current()->made());
}

TEST(Window, ValueTypedIntoAnyTileMovesTheWholePath) {
    Bed bed;
    bed.openDemo();
    typeIntoTile(bed, Stage::World, QStringLiteral("61"));
    EXPECT_EQ(valueAt(bed, Stage::Converter), 2137);
    EXPECT_NEAR(valueAt(bed, Stage::Sensor), 2399.5, 0.1);
    EXPECT_EQ(bed.workbench.current()->origin(), Origin::Tried);
    typeIntoTile(bed, Stage::Converter, QStringLiteral("817"));
    EXPECT_NEAR(valueAt(bed, Stage::World), 108.69, 0.01);
    typeIntoTile(bed, Stage::Sensor, QStringLiteral("2k5"));
    EXPECT_NEAR(valueAt(bed, Stage::Reading), 59.83, 0.03);
    EXPECT_EQ(bed.find<StageTile>("tile.sensor")->accessibleName(), QStringLiteral("Sensor: 2.500 kΩ"));
    QTest::keyClick(&bed.window, Qt::Key_Escape);
    EXPECT_NE(bed.workbench.current()->origin(), Origin::Tried);
}

TEST(Window, WrongEntryStaysWithItsReason) {
    Bed bed;
    bed.openDemo();
    const double before = valueAt(bed, Stage::World);
    typeIntoTile(bed, Stage::Wiring, QStringLiteral("4k7x"));
    auto* edit = bed.find<QLineEdit>("tile.edit.wiring");
    EXPECT_TRUE(edit->isVisible());
    EXPECT_EQ(edit->text(), QStringLiteral("4k7x"));
    EXPECT_TRUE(edit->accessibleDescription().contains(QStringLiteral("4k7x")));
    EXPECT_EQ(valueAt(bed, Stage::World), before);
    // The tile has room for its beginning only: the status line has all of it, as long as the entry waits.
    EXPECT_EQ(bed.window.statusBar()->currentMessage(), edit->accessibleDescription());
    QTest::keyClick(edit, Qt::Key_Escape);
    EXPECT_FALSE(edit->isVisible());
    EXPECT_EQ(bed.window.statusBar()->currentMessage(), QString());
}

TEST(Window, DividerResistorIsChangedUndoneAndRedone) {
    Bed bed;
    bed.openDemo();
    bed.workbench.selectStage(Stage::Wiring);
    auto* fixed = bed.find<ValueEdit>("wiring.fixed_ohm");
    EXPECT_EQ(fixed->text(), QStringLiteral("2.2 kΩ"));
    typeInto(fixed, QStringLiteral("3k3"));
    const auto resistor = [&] { return bed.workbench.current()->spec().wiring.parameters.number("fixed_ohm").value(); };
    EXPECT_EQ(resistor(), 3300);
    EXPECT_EQ(fixed->text(), QStringLiteral("3.3 kΩ"));
    EXPECT_EQ(bed.workbench.bench().undoLabel(), QStringLiteral("Set R1 to 3.3 kΩ"));
    QTest::keyClick(&bed.window, Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(resistor(), 2200);
    EXPECT_EQ(fixed->text(), QStringLiteral("2.2 kΩ"));
    QTest::keyClick(&bed.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(resistor(), 3300);
    // An impossible value is refused at the field and kept there, marked.
    typeInto(fixed, QStringLiteral("0"));
    EXPECT_TRUE(fixed->isInvalid());
    EXPECT_EQ(fixed->text(), QStringLiteral("0"));
    EXPECT_TRUE(fixed->reason().contains(QStringLiteral("above 0 Ω"))) << fixed->reason().toStdString();
    EXPECT_EQ(resistor(), 3300);
}

TEST(Window, EntrySaysWhatItUnderstands) {
    Bed bed;
    bed.openDemo();
    bed.workbench.selectStage(Stage::Wiring);
    auto* fixed = bed.find<ValueEdit>("wiring.fixed_ohm");
    fixed->setFocus();
    fixed->selectAll();
    QTest::keyClicks(fixed, QStringLiteral("4k7"));
    EXPECT_EQ(bed.find<QLabel>("entryHint")->text(), QStringLiteral("reads as 4.7 kΩ"));
    QTest::keyClick(fixed, Qt::Key_Escape);
    EXPECT_EQ(fixed->text(), QStringLiteral("2.2 kΩ"));
}

TEST(Window, FormulaSheetShowsEveryStepAndCopiesIt) {
    Bed bed;
    bed.openDemo();
    typeIntoTile(bed, Stage::Converter, QStringLiteral("2155"));
    QTest::keyClick(&bed.window, Qt::Key_5, Qt::ControlModifier);
    EXPECT_EQ(bed.workbench.stage(), Stage::Formula);
    QTest::mouseClick(bed.find<QPushButton>("formula.copy"), Qt::LeftButton);
    const QString copied = QGuiApplication::clipboard()->text();
    for (const char* part : {"3.3 V/2^12", "2155 × 805.66406 µV", "2200 Ω × 1.7362061 V/(3.3 V − 1.7362061 V)",
                             "60.497987 °C", "IEC 60539-1"})
        EXPECT_TRUE(copied.contains(QString::fromUtf8(part))) << part << "\n" << copied.toStdString();
}

TEST(Window, NewGaugeWithALinearSensorIsStillThereAfterARestart) {
    const QString path = [] {
        Bed bed;
        bed.openDemo();
        QTest::keyClick(&bed.window, Qt::Key_N, Qt::ControlModifier);
        auto* search = bed.find<QLineEdit>("newGauge.search");
        QTest::keyClicks(search, QStringLiteral("own line temperature"));
        EXPECT_EQ(bed.find<QListWidget>("newGauge.list")->count(), 1);
        QTest::keyClicks(bed.find<QLineEdit>("newGauge.name"), QStringLiteral("Shop window"));
        QTest::mouseClick(bed.find<QPushButton>("newGauge.create"), Qt::LeftButton);
        EXPECT_EQ(bed.workbench.current()->spec().name, "Shop window");
        typeInto(bed.find<ValueEdit>("parameter.slope_V_per_degC"), QStringLiteral("19.5 mV/°C"));
        typeInto(bed.find<ValueEdit>("parameter.offset_V"), QStringLiteral("400m"));
        typeIntoTile(bed, Stage::World, QStringLiteral("25"));
        EXPECT_NEAR(valueAt(bed, Stage::Sensor), 0.4 + 0.0195 * 25, 1e-12);
        bed.keepFolder();
        return bed.benchPath();
    }();
    Bed again;
    ASSERT_TRUE(again.workbench.bench().openFile(path));
    ASSERT_EQ(again.workbench.views().size(), 13u);
    const GaugeSpec& spec = again.workbench.views().back().spec();
    EXPECT_EQ(spec.name, "Shop window");
    EXPECT_DOUBLE_EQ(spec.sensor.parameters.number("slope_V_per_degC").value(), 0.0195);
    EXPECT_DOUBLE_EQ(spec.sensor.parameters.number("offset_V").value(), 0.4);
}

TEST(Window, FindingsActOnTheGauge) {
    Bed bed;
    bed.openDemo();
    bed.workbench.edit(QStringLiteral("rail"), [](GaugeSpec& spec) {
        spec.wiring.parameters.set("source", std::string("rail"));
        spec.wiring.parameters.set("source_V", 5.0);
    });
    auto* action = bed.find<QPushButton>("finding.action");
    EXPECT_EQ(action->text(), QStringLiteral("Feed it from the reference"));
    QTest::mouseClick(action, Qt::LeftButton);
    EXPECT_TRUE(bed.workbench.current()->path()->isRatiometric());
    bed.workbench.bench().undo();
    EXPECT_FALSE(bed.workbench.current()->path()->isRatiometric());
}

TEST(Window, LiveValuesArriveFromTheSimulatedBench) {
    Bed bed;
    bed.openDemo();
    bed.window.useSimulation();
    ASSERT_TRUE(waitUntil([&] { return bed.workbench.current()->origin() == Origin::Live; }));
    EXPECT_NEAR(valueAt(bed, Stage::Reading), 60, 8);
    EXPECT_TRUE(bed.find<QLabel>("status.source")->text().contains(QStringLiteral("Simulated bench")));
    // A part that is only commanded does not answer before its first measurement: it comes with a later line.
    EXPECT_TRUE(waitUntil([&] {
        return std::all_of(bed.workbench.views().begin(), bed.workbench.views().end(),
                           [](const GaugeView& view) { return view.origin() == Origin::Live; });
    }));
}

TEST(Window, LiveValuesArriveOverASerialLine) {
    Bed bed;
    bed.openDemo();
    test::Simulator simulator({"--rate", "20"});
    ASSERT_FALSE(simulator.terminal().isEmpty());
    bed.window.useSerial(simulator.terminal(), 115200);
    ASSERT_TRUE(waitUntil([&] { return bed.workbench.current()->origin() == Origin::Live; }))
        << bed.find<QLabel>("status.counts")->text().toStdString();
    EXPECT_NEAR(valueAt(bed, Stage::Reading), 60, 8);
    simulator.stop();
    // A line that goes away is said, and nothing crashes.
    ASSERT_TRUE(waitUntil([&] { return !bed.workbench.feed().problem().isEmpty(); }));
    bed.window.useSerial(QStringLiteral("/dev/no-such-port"), 9600);
    EXPECT_TRUE(waitUntil([&] { return !bed.workbench.feed().problem().isEmpty(); }));
}

TEST(Window, AFileThatCannotBeOpenedLeavesTheBenchAsItWas) {
    Bed bed;
    bed.openDemo();
    const auto refused = bed.workbench.bench().openFile(QStringLiteral("/etc/passwd"));
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::Foreign);
    EXPECT_EQ(bed.workbench.views().size(), 12u);
    bed.window.showMessage(QString::fromStdString(refused.error().message()));
    EXPECT_TRUE(bed.find<QWidget>("message")->isVisible());
}

TEST(Window, EverySheetShowsInBothThemesAtEverySize) {
    Bed bed;
    bed.openDemo();
    for (const bool night : {false, true})
        for (const double scale : {1.0, 1.5}) {
            Theme::instance().setNight(night);
            Theme::instance().setTextScale(scale);
            for (const GaugeView& view : std::vector<GaugeView>(bed.workbench.views()))
                for (const Stage stage : kStages) {
                    bed.workbench.selectGauge(view.id());
                    bed.workbench.selectStage(stage);
                    if (!view.has(stage)) {
                        EXPECT_EQ(bed.workbench.stage(), Stage::Reading) << "instead of what such a gauge has not";
                        continue;
                    }
                    const bool isDigital = bed.workbench.current()->digital() != nullptr;
                    const std::string own = stage == Stage::Sensor      ? "device"
                                            : stage == Stage::Wiring    ? "bus"
                                            : stage == Stage::Converter ? "bytes"
                                                                        : std::string(stageName(stage));
                    const bool isInputs = view.isDerived() && stage == Stage::Sensor;
                    const std::string shown = isInputs ? "inputs" : isDigital ? own : std::string(stageName(stage));
                    auto* sheet = bed.find<QWidget>("sheet." + shown);
                    ASSERT_TRUE(sheet->isVisible()) << stageName(stage);
                    EXPECT_FALSE(bed.window.grab().isNull());
                }
        }
    Theme::instance().setNight(false);
    Theme::instance().setTextScale(1);
}

TEST(Window, EverythingReachableByKeyHasAName) {
    Bed bed;
    bed.openDemo();
    for (const Stage stage : kStages) {
        bed.workbench.selectStage(stage);
        for (QWidget* widget : bed.window.findChildren<QWidget*>()) {
            const bool reachable =
                widget->isVisible() && (widget->focusPolicy() & Qt::TabFocus) && widget->focusProxy() == nullptr;
            if (!reachable || qobject_cast<QAbstractButton*>(widget) || qobject_cast<QAbstractScrollArea*>(widget) ||
                widget->objectName().startsWith(QLatin1String("qt_")))
                continue;
            if (qobject_cast<QComboBox*>(widget->parentWidget())) continue;
            EXPECT_FALSE(widget->accessibleName().isEmpty())
                << stageName(stage) << ": " << widget->metaObject()->className() << " "
                << widget->objectName().toStdString();
        }
    }
    QTest::keyClick(&bed.window, Qt::Key_2, Qt::AltModifier);
    EXPECT_EQ(bed.workbench.current()->spec().name, "Workshop air");
    QTest::keyClick(&bed.window, Qt::Key_T);
    EXPECT_TRUE(bed.find<QLineEdit>("tile.edit.world")->isVisible());
}

TEST(Window, EmptyBenchTeachesHowToBegin) {
    Bed bed;
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath()));
    EXPECT_TRUE(bed.find<QLineEdit>("newGauge.search")->isVisible());
    QTest::keyClicks(bed.find<QLineEdit>("newGauge.search"), QStringLiteral("tmp36"));
    QTest::keyClick(bed.find<QLineEdit>("newGauge.search"), Qt::Key_Return);
    ASSERT_TRUE(bed.workbench.current());
    EXPECT_EQ(bed.workbench.current()->spec().sensor.part, "tmp36");
    EXPECT_EQ(bed.workbench.stage(), Stage::Sensor);
}

}  // namespace
}  // namespace fg::gui
