// Files through the menus: the dialogs are driven as a user drives them.

#include "gui/gui_support.h"

#include "bench/gauge_json.h"
#include "window/help.h"
#include "window/serial_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QTimer>

namespace fg::gui {
namespace {

using test::Bed;

/// Answers the next file dialog with a path; an empty one cancels.
void answerDialog(const QString& path) {
    QTimer::singleShot(50, [path] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        ASSERT_TRUE(dialog);
        if (path.isEmpty()) return dialog->reject();
        auto* edit = dialog->findChild<QLineEdit*>();
        ASSERT_TRUE(edit);
        edit->setText(path);
        QMetaObject::invokeMethod(dialog, "accept");
    });
}

struct Files : testing::Test {
    void SetUp() override {
        QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
        bed.openDemo();
    }
    QString at(const char* name) { return folder.filePath(QLatin1String(name)); }
    QTemporaryDir folder;
    Bed bed;
};

TEST_F(Files, NewBenchReplacesTheOldAndLeavesItIntact) {
    const QString old = bed.workbench.bench().filePath();
    answerDialog(at("second"));
    bed.window.benchActions().newBench();
    EXPECT_EQ(bed.workbench.bench().filePath(), at("second.fairgauge"));
    EXPECT_TRUE(bed.workbench.views().empty());
    EXPECT_EQ(bed.window.windowTitle(), QStringLiteral("second.fairgauge – Fair Gauge"));
    answerDialog(old);
    bed.window.benchActions().openBench();
    EXPECT_EQ(bed.workbench.views().size(), 12u);
    EXPECT_FALSE(bed.workbench.bench().canUndo());
}

TEST_F(Files, OpeningWhatIsNoBenchIsSaidAndChangesNothing) {
    QFile diary(at("diary.fairgauge"));
    ASSERT_TRUE(diary.open(QIODevice::WriteOnly));
    diary.write("Dear diary");
    diary.close();
    answerDialog(at("diary.fairgauge"));
    bed.window.benchActions().openBench();
    auto* message = bed.find<QWidget>("message");
    EXPECT_TRUE(message->isVisible());
    EXPECT_TRUE(message->accessibleName().contains(QStringLiteral("a file of another kind")))
        << message->accessibleName().toStdString();
    EXPECT_EQ(bed.workbench.views().size(), 12u);
    QTest::mouseClick(message->findChild<QPushButton*>(), Qt::LeftButton);
    EXPECT_FALSE(message->isVisible());
}

TEST_F(Files, ACancelledDialogDoesNothing) {
    const QString before = bed.workbench.bench().filePath();
    using Action = void (BenchActions::*)();
    constexpr Action actions[] = {&BenchActions::newBench, &BenchActions::openBench, &BenchActions::saveCopy,
                                  &BenchActions::importGauge, &BenchActions::exportGauge};
    for (const Action action : actions) {
        answerDialog({});
        (bed.window.benchActions().*action)();
    }
    EXPECT_EQ(bed.workbench.bench().filePath(), before);
    EXPECT_EQ(bed.workbench.views().size(), 12u);
    EXPECT_FALSE(bed.find<QWidget>("message")->isVisible());
}

TEST_F(Files, ACopyIsWholeAndNeverWrittenOverAnother) {
    answerDialog(at("copy.fairgauge"));
    bed.window.benchActions().saveCopy();
    const auto copy = BenchFile::open(at("copy.fairgauge").toStdString());
    ASSERT_TRUE(copy) << copy.error().message();
    EXPECT_EQ((*copy)->read()->gauges, bed.workbench.bench().bench().gauges);
    answerDialog(at("copy.fairgauge"));
    bed.window.benchActions().saveCopy();
    EXPECT_TRUE(bed.find<QWidget>("message")->accessibleName().contains(QStringLiteral("there already")));
}

TEST_F(Files, AGaugeGoesOutAndComesBack) {
    answerDialog(at("pot.json"));
    bed.window.benchActions().exportGauge();
    EXPECT_EQ(readGaugeFile(at("pot.json").toStdString()).value(), bed.workbench.current()->spec());
    answerDialog(at("pot.json"));
    bed.window.benchActions().importGauge();
    ASSERT_EQ(bed.workbench.views().size(), 13u);
    EXPECT_EQ(bed.workbench.current()->id(), bed.workbench.views().back().id());
    EXPECT_EQ(bed.workbench.current()->spec(), bed.workbench.views().front().spec());
    QFile broken(at("pot.json"));
    ASSERT_TRUE(broken.open(QIODevice::WriteOnly));
    broken.write("{\"fairgauge\": 1}");
    broken.close();
    answerDialog(at("pot.json"));
    bed.window.benchActions().importGauge();
    EXPECT_TRUE(bed.find<QWidget>("message")->accessibleName().contains(QStringLiteral("name: found nothing")));
    EXPECT_EQ(bed.workbench.views().size(), 13u);
}

TEST_F(Files, TheDemoOpensTheSameBenchEachTime) {
    const QString path = at("demo.fairgauge");
    ASSERT_TRUE(bed.window.benchActions().openOrCreate(path, BenchActions::demoBench().value()));
    bed.workbench.edit(QStringLiteral("R1"), [](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", 3300.0); });
    ASSERT_TRUE(bed.workbench.bench().createFile(at("other.fairgauge")));
    ASSERT_TRUE(bed.window.benchActions().openOrCreate(path, BenchActions::demoBench().value()));
    EXPECT_EQ(bed.workbench.views().front().spec().wiring.parameters.number("fixed_ohm"), 3300);
}

TEST(Dialogs, SerialPortTakesAPathAndASpeed) {
    SerialDialog dialog;
    auto boxes = dialog.findChildren<QComboBox*>();
    ASSERT_EQ(boxes.size(), 2);
    for (QComboBox* box : boxes) {
        const bool isSpeed = box->currentText() == QStringLiteral("115200");
        box->setCurrentText(isSpeed ? QStringLiteral("57600") : QStringLiteral(" /dev/ttyACM0 "));
    }
    EXPECT_EQ(dialog.port(), QStringLiteral("/dev/ttyACM0"));
    EXPECT_EQ(dialog.baud(), 57600);
}

TEST(Dialogs, HelpNamesKeysCareAndLicence) {
    Bed bed;
    bed.openDemo();
    const auto shown = [&] {
        QString text;
        for (QDialog* dialog : bed.window.findChildren<QDialog*>())
            for (QLabel* label : dialog->findChildren<QLabel*>()) text += label->text();
        return text;
    };
    showKeys(&bed.window);
    for (const char* key : {"Ctrl+1", "Alt+1", "Ctrl+N", "Esc", "4k7"})
        EXPECT_TRUE(shown().contains(QLatin1String(key))) << key;
    showAbout(&bed.window);
    for (const char* words : {"does not protect", "General Public License", "Open Font License"})
        EXPECT_TRUE(shown().contains(QLatin1String(words))) << words;
}

/// A gauge computed for the screen, without a window.
struct Views : testing::Test {
    Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    GaugeSpec spec = readGaugeFile(BenchActions::demoFolder() + "/glue-pot.json").value();
};

TEST_F(Views, WithNothingToShowItShowsTheMiddleOfTheSpan) {
    GaugeView view({1, spec}, catalogue);
    view.follow({});
    EXPECT_EQ(view.origin(), Origin::Example);
    EXPECT_EQ(view.evaluation()->at(Stage::World).value, 55);
    EXPECT_NEAR(view.positionInSpan().value(), 0.5, 0.001);
}

TEST_F(Views, AGaugeThatCannotBeBuiltSaysWhereAndShowsDashes) {
    spec.wiring.parameters.set("fixed_ohm", -5.0);
    GaugeView view({1, spec}, catalogue);
    view.follow(LiveFeed::Latest{2155, {}, 0, false});
    ASSERT_TRUE(view.problem());
    EXPECT_EQ(view.findings().front().stage, Stage::Wiring);
    for (const Stage stage : kStages) EXPECT_EQ(view.textAt(stage).value.digits, "–");
    EXPECT_FALSE(view.positionInSpan());
    EXPECT_FALSE(view.tryEntry({Stage::World, 20}));
}

TEST_F(Views, PositionsBeyondTheSpanAreToldAsTheyAre) {
    GaugeView view({1, spec}, catalogue);
    ASSERT_TRUE(view.tryEntry({Stage::World, 125}));
    EXPECT_NEAR(view.positionInSpan().value(), 1.5, 0.01);
    EXPECT_EQ(view.tryEntry({Stage::Converter, 5000}).error().code, ErrorCode::Range);
    EXPECT_EQ(view.evaluation()->at(Stage::World).value, 125);  // a refused entry changes nothing
    EXPECT_EQ(view.quantityAt(Stage::Sensor), Quantity::Resistance);
    EXPECT_EQ(view.unitAt(Stage::Reading)->id, "degC");
}

TEST_F(Views, AClippedValueHasNoBudgetAndNoHintAboutAccuracy) {
    GaugeView view({1, spec}, catalogue);
    view.follow(LiveFeed::Latest{0, {}, 0, false});
    EXPECT_EQ(view.budget(), nullptr);
    EXPECT_EQ(view.textAt(Stage::Reading).sign, "≥ ");
    for (const Finding& finding : view.findings()) EXPECT_NE(finding.id, "dominates");
    EXPECT_EQ(view.findings().front().id, "clipped");
}

}  // namespace
}  // namespace fg::gui
