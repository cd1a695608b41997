// The pages of the bench as a whole: choosing a part by what is needed, and the plan.

#include "gui/gui_support.h"

#include "bench_page/bench_page.h"
#include "choose_page/choose_page.h"
#include "rack/rack.h"
#include "theme/theme.h"
#include "widgets/value_edit.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QTableWidget>
#include <QToolButton>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;
using test::waitUntil;

class BenchPages : public testing::Test {
  protected:
    void SetUp() override { bed.openDemo(); }
    BenchPage& plan() {
        bed.window.showBench();
        QCoreApplication::processEvents();
        return *bed.window.findChild<BenchPage*>();
    }
    ChoosePage& choosing(bool fromGauge) {
        bed.window.showChoose(fromGauge);
        EXPECT_TRUE(
            waitUntil([&] { return bed.find<QLabel>("choose.count")->text().contains(QStringLiteral(" parts")); }));
        return *bed.window.findChild<ChoosePage*>();
    }
    std::int64_t idOf(const std::string& name) {
        for (const GaugeView& view : bed.workbench.views())
            if (view.spec().name == name) return view.id();
        return 0;
    }
    std::string lineOf(std::int64_t id) {
        const auto& places = bed.workbench.bench().bench().board.places;
        const auto it = places.find(id);
        return it == places.end() ? "" : it->second.line;
    }
    Bed bed;
};

TEST_F(BenchPages, ChoosingFollowsTheNeedAndMakesTheGauge) {
    choosing(false);
    auto* count = bed.find<QLabel>("choose.count");
    auto* table = bed.find<CandidateTable>("choose.table");
    const QString before = count->text();
    typeInto(bed.find<QLineEdit>("need.supplies"), QStringLiteral("3.3 V"));
    bed.find<QComboBox>("need.medium")->setCurrentIndex(3);
    emit bed.find<QComboBox>("need.medium")->activated(3);
    bed.find<QCheckBox>("need.wet")->setChecked(true);
    ASSERT_TRUE(waitUntil([&] {
        return count->text() != before &&
               bed.find<CandidateCard>("choose.card")->plainText().startsWith(QStringLiteral("ds18"));
    }));
    const QString why = bed.find<CandidateCard>("choose.card")->plainText();
    EXPECT_TRUE(why.contains(QStringLiteral("Accuracy (met): ± 0.48 °C"))) << why.toStdString();
    EXPECT_TRUE(why.contains(QStringLiteral("liquid: as a sealed probe"))) << why.toStdString();
    const std::size_t gauges = bed.workbench.views().size();
    bed.find<QPushButton>("choose.make")->click();
    ASSERT_EQ(bed.workbench.views().size(), gauges + 1);
    EXPECT_TRUE(bed.workbench.current()->spec().sensor.part.starts_with("ds18"));
    EXPECT_EQ(bed.workbench.current()->spec().reading.span.high, 50);
    EXPECT_FALSE(table->isVisible());
}

TEST_F(BenchPages, AWrongSupplyStaysAndAWrongSpanIsRefusedAtItsField) {
    choosing(false);
    auto* supplies = bed.find<QLineEdit>("need.supplies");
    typeInto(supplies, QStringLiteral("5 V, -3"));
    EXPECT_EQ(supplies->text(), QStringLiteral("5 V, -3"));
    EXPECT_FALSE(supplies->toolTip().isEmpty());
    EXPECT_TRUE(bed.window.findChild<ChoosePage*>()->form().need().supplies_V.empty());
    auto* low = bed.find<ValueEdit>("need.temperature.low");
    typeInto(low, QStringLiteral("80"));
    EXPECT_TRUE(low->isInvalid());
    EXPECT_EQ(low->text(), QStringLiteral("80"));
    EXPECT_EQ(bed.window.findChild<ChoosePage*>()->form().need().wishes[0].span.low, 0);
}

TEST_F(BenchPages, OtherPartsStartFromTheGaugesOwnWish) {
    bed.workbench.selectGauge(idOf("Wood store"));
    bed.workbench.selectStage(Stage::Sensor);
    QCoreApplication::processEvents();
    bed.find<QAbstractButton>("sensor.other")->click();
    ASSERT_TRUE(waitUntil([&] { return bed.window.findChild<ChoosePage*>() != nullptr; }));
    const Need& need = bed.window.findChild<ChoosePage*>()->form().need();
    ASSERT_EQ(need.wishes.size(), 1u);
    EXPECT_EQ(need.wishes[0].quantity, Quantity::RelativeHumidity);
    EXPECT_EQ(need.wishes[0].span.low, 30);
    EXPECT_EQ(need.wishes[0].accuracy, 3);
}

TEST_F(BenchPages, PartsStandSideBySide) {
    choosing(false);
    auto* table = bed.find<CandidateTable>("choose.table");
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Space);
    QTest::keyClick(table, Qt::Key_Down);
    QTest::keyClick(table, Qt::Key_Space);
    EXPECT_EQ(table->compared().size(), 2u);
    EXPECT_EQ(bed.find<QTabBar>("choose.tabs")->tabText(1), QStringLiteral("Side by side (2)"));
    for (int row = 2; row < 8; ++row) table->toggle(row);
    EXPECT_EQ(table->compared().size(), 4u);  // more would not be readable
    bed.find<QTabBar>("choose.tabs")->setCurrentIndex(1);
    QCoreApplication::processEvents();
    EXPECT_TRUE(bed.find<QWidget>("choose.comparison")->isVisible());
    EXPECT_GT(bed.find<QWidget>("choose.comparison")->height(), 200);
}

TEST_F(BenchPages, AGaugeIsDraggedToAFreePinAndBackByUndo) {
    BenchPage& page = plan();
    auto* map = bed.find<BenchMap>("bench.map");
    const std::int64_t air = idOf("Workshop air");
    const auto middle = [](const QRectF& box) { return box.center().toPoint(); };
    const QPoint from = middle(map->boxOf(air));
    // A3 of the same converter, which is in the same row.
    QPoint to;
    for (int x = from.x() + 1; x < map->width(); ++x)
        if (map->boxOf(QStringLiteral("A3")).contains(QPointF(x, from.y()))) to = QPoint(x, from.y());
    ASSERT_FALSE(to.isNull());
    QTest::mousePress(map, Qt::LeftButton, {}, from);
    for (const QPoint& at : {(from + to) / 2, to}) {
        QMouseEvent move(QEvent::MouseMove, at, map->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(map, &move);
    }
    QTest::mouseRelease(map, Qt::LeftButton, {}, to);
    EXPECT_EQ(lineOf(air), "A3");
    bed.workbench.bench().undo();
    EXPECT_EQ(lineOf(air), "A0");
    // Onto an address of the bus it cannot go: nothing changes.
    EXPECT_TRUE(map->boxOf(QStringLiteral("0x76")).isValid());
    EXPECT_FALSE(page.plan().groups.empty());
}

TEST_F(BenchPages, SuppliesCablesAndRoundFollowWhatIsSaid) {
    BenchPage& page = plan();
    bed.find<QTabBar>("bench.tabs")->setCurrentIndex(1);
    typeInto(bed.find<ValueEdit>("bench.rail0.limit"), QStringLiteral("5 mA"));
    EXPECT_EQ(bed.workbench.bench().bench().board.rails[0].limit_A, 0.005);
    EXPECT_TRUE(bed.window.findChild<QWidget*>(QStringLiteral("finding.rail-overloaded")));
    typeInto(bed.find<ValueEdit>("bench.rail0.voltage"), QStringLiteral("-5"));
    EXPECT_TRUE(bed.find<ValueEdit>("bench.rail0.voltage")->isInvalid());
    EXPECT_EQ(bed.workbench.bench().bench().board.rails[0].voltage_V, 5);
    typeInto(bed.find<ValueEdit>("bench.cycle"), QStringLiteral("100 ms"));
    EXPECT_EQ(bed.workbench.bench().bench().board.cycle_s, 0.1);
    EXPECT_FALSE(page.plan().schedule.fits);
    EXPECT_TRUE(bed.window.findChild<QWidget*>(QStringLiteral("finding.round-too-fast")));
    const std::int64_t tray = idOf("Soaking tray");
    typeInto(bed.find<ValueEdit>("bench.cable" + std::to_string(tray)), QStringLiteral("82 ft"));
    EXPECT_DOUBLE_EQ(page.plan().oneWire_m, 82 * 0.3048);
    bed.find<QPushButton>("bench.addRail")->click();
    EXPECT_EQ(bed.workbench.bench().bench().board.rails.size(), 3u);
    EXPECT_GT(bed.find<QTableWidget>("bench.parts")->rowCount(), 12);
    // All of it is in the file.
    const auto file = bed.workbench.bench().bench();
    Bed other;
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath() + QStringLiteral("2")));
    ASSERT_TRUE(other.workbench.bench().openFile(bed.benchPath()));
    EXPECT_EQ(other.workbench.bench().bench(), file);
}

TEST_F(BenchPages, ASupplyKeepsItsGaugesUnderANewNameAndEscLeaves) {
    BenchPage& page = plan();
    const std::int64_t tray = idOf("Soaking tray");
    emit bed.find<BenchMap>("bench.map")->railWanted(tray, QStringLiteral("5 V"));
    EXPECT_EQ(bed.workbench.bench().bench().board.places.at(tray).rail, "5 V");
    const auto feeds = [&](const std::string& rail) {
        for (const PlanRail& one : page.plan().rails)
            for (const PlanLoad& load : one.loads)
                if (load.gauge == tray) return one.rail.name == rail;
        return false;
    };
    EXPECT_TRUE(feeds("5 V"));
    bed.find<QTabBar>("bench.tabs")->setCurrentIndex(1);
    typeInto(bed.find<QLineEdit>("bench.rail0.name"), QStringLiteral("USB"));
    EXPECT_EQ(bed.workbench.bench().bench().board.places.at(tray).rail, "USB");
    EXPECT_TRUE(feeds("USB"));
    // The entry of a length stays the same one.
    auto* length = bed.find<ValueEdit>("bench.cable" + std::to_string(tray));
    typeInto(length, QStringLiteral("4,1"));
    EXPECT_EQ(bed.find<ValueEdit>("bench.cable" + std::to_string(tray)), length);
    EXPECT_DOUBLE_EQ(bed.workbench.bench().bench().board.places.at(tray).cable_m, 4.1);
    page.setFocus();
    QTest::keyClick(&page, Qt::Key_Escape);
    EXPECT_FALSE(page.isVisible());
    plan();
    QTest::keyClick(&bed.window, Qt::Key_1, Qt::AltModifier);
    EXPECT_FALSE(page.isVisible());
}

TEST_F(BenchPages, WiresAreColouredAndOrderedByTheMaker) {
    plan();
    bed.find<QTabBar>("bench.tabs")->setCurrentIndex(4);
    const std::int64_t tray = idOf("Soaking tray");
    auto* parts = bed.find<QComboBox>("wires.parts");
    parts->setCurrentIndex(parts->findData(static_cast<qint64>(tray)));
    emit parts->activated(parts->currentIndex());
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);  // the entries of the part before
    auto* table = bed.find<QTableWidget>("wires.table");
    ASSERT_EQ(table->rowCount(), 3);
    EXPECT_EQ(table->item(1, 2)->text(), QStringLiteral("2 DQ"));
    auto* colour = bed.find<QLineEdit>("wires.colour1");
    colour->setText(QStringLiteral(" violet "));
    emit colour->editingFinished();
    const auto place = [&] { return bed.workbench.bench().bench().board.places.at(tray); };
    EXPECT_EQ(place().colours.at("data"), "violet");
    bed.find<QToolButton>("wires.earlier1")->click();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_EQ(place().order, (std::vector<std::string>{"data", "supply", "ground"}));
    EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("2 DQ"));
    // A module asks for its strip.
    auto* bodies = bed.find<QComboBox>("wires.bodies");
    bodies->setCurrentIndex(bodies->findData(QStringLiteral("module")));
    emit bodies->activated(bodies->currentIndex());
    EXPECT_TRUE(bed.find<QLabel>("wires.problem")->isVisible());
    auto* strip = bed.find<QLineEdit>("wires.strip");
    strip->setText(QStringLiteral("GND DAT VCC"));
    emit strip->editingFinished();
    EXPECT_FALSE(bed.find<QLabel>("wires.problem")->isVisible());
    EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("2 DAT"));
    for (int i = 0; i < 4; ++i) bed.workbench.bench().undo();
    EXPECT_EQ(place().order, (std::vector<std::string>{"supply", "data", "ground"}));
    EXPECT_EQ(place().colours.at("data"), "yellow");
    // The bridge's converter stands by itself: its wires are coloured as a part's are, and kept with the bench.
    parts->setCurrentIndex(parts->findData(QStringLiteral("hx711")));
    emit parts->activated(parts->currentIndex());
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_EQ(table->item(2, 2)->text(), QStringLiteral("12 DOUT"));
    colour = bed.find<QLineEdit>("wires.colour2");
    colour->setText(QStringLiteral("green"));
    emit colour->editingFinished();
    EXPECT_EQ(bed.workbench.bench().bench().board.converters.at("hx711").colours.at("data"), "green");
    EXPECT_EQ(parts->currentData().toString(), QStringLiteral("hx711"));
}

TEST_F(BenchPages, TheRackMarksThePageThatIsOpen) {
    auto* rack = bed.window.findChild<Rack*>();
    const auto isMarked = [&](const QWidget* item) {
        const QImage picture = rack->grab().toImage();
        const QPoint at = item->mapTo(rack, QPoint(1, item->height() / 2));
        return picture.pixelColor(at * picture.devicePixelRatio()) == colours().brass;
    };
    auto* page = bed.find<QPushButton>("rack.bench");
    auto* tile = rack->findChild<GaugeTile*>();
    for (const char* name : {"rack.bench", "rack.recorder", "rack.journal", "rack.new"}) {
        auto* item = bed.find<QPushButton>(name);
        const QImage alone = item->grab().toImage();
        for (const QPoint at : {QPoint(0, 0), QPoint(item->width() / 2, 0), QPoint(0, item->height() / 2)})
            EXPECT_NE(alone.pixelColor(at), colours().rule) << name << ": a word, without a frame";
    }
    bed.workbench.selectGauge(tile->id());
    EXPECT_FALSE(isMarked(page));
    EXPECT_TRUE(isMarked(tile));
    page->click();
    EXPECT_TRUE(isMarked(page));
    EXPECT_FALSE(isMarked(tile));
    bed.find<QPushButton>("rack.journal")->click();
    EXPECT_FALSE(isMarked(page));
    EXPECT_TRUE(isMarked(bed.find<QPushButton>("rack.journal")));
    emit tile->chosen();
    EXPECT_TRUE(isMarked(tile));
    EXPECT_FALSE(isMarked(bed.find<QPushButton>("rack.journal")));
}

TEST_F(BenchPages, AnEmptyBenchHasAPlanThatSaysWhatToDo) {
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath() + QStringLiteral("0")));
    plan();
    EXPECT_TRUE(bed.window.findChild<BenchPage*>()->plan().groups.empty());
    bed.find<QPushButton>("rack.bench")->click();
    EXPECT_TRUE(bed.find<QWidget>("benchPage")->isVisible());
}

}  // namespace
}  // namespace fg::gui
