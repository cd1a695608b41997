// Gauges that follow from others, what the board says beside a gauge, filters for the eye, and a serial line at the
// wrong speed.

#include "bench/linked_inputs.h"
#include "gui/gui_support.h"
#include "path_strip/path_strip.h"

#include <fcntl.h>
#include <termios.h>
#include <unistd.h>
#include <cstdlib>
#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QSpinBox>
#include <QTabBar>
#include <QTableWidget>

namespace fg::gui {
namespace {

using test::Bed;

class ToldLines final : public ByteSource {
  public:
    void start() override {}
    [[nodiscard]] QString name() const override { return QStringLiteral("Told"); }
};

struct Derived : testing::Test {
    void SetUp() override {
        bed.openDemo();
        auto owned = std::make_unique<ToldLines>();
        source = owned.get();
        bed.workbench.feed().setSource(std::move(owned));
    }
    void tell(const QString& text) {
        emit source->bytes(text.toUtf8());
        bed.workbench.feed().flush();
    }
    void pick(const std::string& combo, const QString& text) {
        auto* box = bed.find<QComboBox>(combo);
        const int at = box->findText(text);
        ASSERT_GE(at, 0) << combo << " has no " << text.toStdString();
        box->setCurrentIndex(at);
        emit box->activated(at);
    }
    Bed bed;
    ToldLines* source = nullptr;
};

// Over sodium chloride's 75.3 %RH at 20 °C spruce settles at 14.4 %: Wood Handbook, table 4-2, 70 °F: 14.4 at 75 %RH.
TEST_F(Derived, WoodBetweenTwoGaugesIsMadeLinkedAndRead) {
    bed.window.showNewGauge();
    bed.find<QLineEdit>("newGauge.search")->setText(QStringLiteral("wood-moisture"));
    bed.find<QLineEdit>("newGauge.name")->setText(QStringLiteral("Spruce"));
    ASSERT_GE(bed.find<QListWidget>("newGauge.list")->count(), 1);
    bed.find<QPushButton>("newGauge.create")->click();
    ASSERT_EQ(bed.workbench.current()->spec().name, "Spruce");
    EXPECT_TRUE(bed.workbench.current()->isDerived());
    ASSERT_FALSE(bed.workbench.current()->findings().empty());
    EXPECT_EQ(bed.workbench.current()->findings()[0].id, "input-missing");
    ASSERT_TRUE(bed.find<QWidget>("sheet.inputs")->isVisible());
    pick("input.sensor.temperature", QStringLiteral("the gauge “Store warmth”"));
    pick("input.sensor.humidity", QStringLiteral("the gauge “Wood store”"));
    // The store's device in bytes: 21.1 °C is 24754 of 65535 parts of 175 °C from −45 °C, 75 %RH 49151 of 65535.
    tell(QStringLiteral("store=60 B2 09 BF FF 25\n"));
    const GaugeView* view = bed.workbench.current();
    ASSERT_TRUE(view->evaluation());
    EXPECT_EQ(view->origin(), Origin::Live);
    EXPECT_NEAR(view->evaluation()->reading(), 14.4, 0.1);
    EXPECT_GT(view->expanded(), 0.1);
    EXPECT_EQ(view->textAt(Stage::Reading).value.unit, "%");
    // Four tiles of seven, and nothing can be typed into them.
    int tiles = 0;
    for (const Stage stage : kStages)
        tiles += bed.find<QWidget>("tile." + std::string(stageName(stage)))->isVisible() ? 1 : 0;
    EXPECT_EQ(tiles, 4);
    EXPECT_FALSE(bed.workbench.tryText(Stage::Reading, QStringLiteral("12")));
    // The gauge it rests on renamed: the link stays. Removed: it says what is missing.
    const std::int64_t store = 8;
    bed.workbench.bench().changeGauge(store, QStringLiteral("Rename"), [](GaugeSpec& spec) { spec.name = "Rack air"; });
    EXPECT_EQ(bed.workbench.current()->spec().inputs.at("sensor.humidity").name, "Rack air");
    // To another gauge and back: the tiles of that one are all there.
    const std::int64_t id = bed.workbench.current()->id();
    bed.workbench.selectGauge(1);
    EXPECT_TRUE(bed.find<QWidget>("tile.wiring")->isVisible());
    bed.workbench.selectStage(Stage::Wiring);
    bed.workbench.selectGauge(id);
    EXPECT_EQ(bed.workbench.stage(), Stage::Reading);
}

TEST_F(Derived, WhatTheBoardSaysStandsBesideTheGaugesOwnValue) {
    tell(QStringLiteral("pot=2155\npot says=61.5 C\n"));
    bed.window.showLines();
    auto* channels = bed.find<QTableWidget>("lines.channels");
    int row = -1;
    for (int i = 0; i < channels->rowCount(); ++i)
        if (channels->item(i, 0)->text().contains(QStringLiteral("says"))) row = i;
    ASSERT_GE(row, 0);
    emit channels->cellClicked(row, 0);
    EXPECT_EQ(bed.find<QComboBox>("lines.saidUnit")->currentText(), QStringLiteral("°C"));
    pick("lines.saidOf", QStringLiteral("beside “Glue pot”"));
    const std::size_t before = bed.workbench.views().size();
    bed.find<QPushButton>("lines.takeSaid")->click();
    ASSERT_EQ(bed.workbench.views().size(), before + 1);
    tell(QStringLiteral("pot=2155\npot says=61.5 C\n"));
    const GaugeView& said = bed.workbench.views().back();
    EXPECT_EQ(said.spec().name, "Glue pot, as the board says");
    ASSERT_TRUE(said.evaluation());
    EXPECT_NEAR(said.evaluation()->reading(), 61.5, 1e-9);
    bed.workbench.selectGauge(2);
    bed.workbench.selectGauge(1);
    bed.workbench.selectStage(Stage::Reading);
    bed.find<QTabBar>("reading.pages")->setCurrentIndex(4);
    const QString text = bed.find<QLabel>("now.besideText")->text();
    EXPECT_TRUE(text.contains(QStringLiteral("61.5"))) << text.toStdString();
    EXPECT_TRUE(text.contains(QStringLiteral("1.0"))) << text.toStdString();  // 61.5 less 60.498
    // One step, undone as one.
    bed.workbench.bench().undo();
    EXPECT_EQ(bed.workbench.views().size(), before);
    EXPECT_TRUE(bed.workbench.views()[0].spec().beside.name.empty());
}

TEST_F(Derived, ASecondSourceBesideTheFirstHasChannelsOfItsOwn) {
    auto owned = std::make_unique<ToldLines>();
    ToldLines* second = owned.get();
    bed.workbench.feed().addSource(std::move(owned));
    EXPECT_EQ(bed.workbench.feed().sourceName(), QStringLiteral("Told + 2: Told"));
    tell(QStringLiteral("pot=2155\n"));
    emit second->bytes("pot=100\n");
    bed.workbench.feed().flush();
    EXPECT_EQ(bed.workbench.views()[0].evaluation()->at(Stage::Converter).value, 2155);
    EXPECT_TRUE(bed.workbench.feed().channels().contains(QStringLiteral("2:pot")));
    bed.workbench.bench().changeGauge(1, QStringLiteral("Listen"), [](GaugeSpec& spec) { spec.channel = "2:pot"; });
    EXPECT_EQ(bed.workbench.views()[0].evaluation()->at(Stage::Converter).value, 100);
    // What is wrong with one of them is said with its name; the simulated bench joins by the menu.
    emit second->stateChanged(QStringLiteral("unplugged"));
    ASSERT_TRUE(test::waitUntil([&] { return !bed.workbench.feed().problem().isEmpty(); }));
    EXPECT_TRUE(bed.workbench.feed().problem().contains(QStringLiteral("unplugged")));
    bed.find<QAction>("source.beside")->setChecked(true);
    bed.window.useSimulation();
    EXPECT_TRUE(bed.workbench.feed().sourceName().endsWith(QStringLiteral("3: Simulated bench")));
    EXPECT_FALSE(bed.find<QAction>("source.beside")->isChecked());
    bed.workbench.feed().setSource(nullptr);
    EXPECT_FALSE(bed.workbench.feed().hasSource());
}

TEST_F(Derived, NowPageFiltersAndCountsExtremes) {
    bed.workbench.selectGauge(1);
    bed.workbench.selectStage(Stage::Reading);
    bed.find<QTabBar>("reading.pages")->setCurrentIndex(4);
    for (const int code : {2150, 2160, 2150, 2160, 2155, 2155}) tell(QStringLiteral("pot=%1\n").arg(code));
    EXPECT_TRUE(bed.find<QLabel>("now.extremes")->text().contains(QStringLiteral("60.")));
    pick("now.filter", QStringLiteral("mean of the last ones"));
    auto* count = bed.find<QSpinBox>("now.count");
    ASSERT_TRUE(count->isVisible());
    count->setValue(6);
    emit count->editingFinished();
    EXPECT_EQ(bed.workbench.current()->spec().reading.filter.count, 6u);
    const QString filtered = bed.find<QLabel>("now.filtered")->text();
    EXPECT_TRUE(filtered.startsWith(QStringLiteral("60.5"))) << filtered.toStdString();  // the mean is that of 2155
    EXPECT_TRUE(filtered.contains(QStringLiteral("41 % of white noise"))) << filtered.toStdString();
    bed.find<QPushButton>("now.anew")->click();
    EXPECT_TRUE(bed.find<QLabel>("now.extremes")->text().isEmpty());
}

// A board at 9600 baud behind a real terminal line: what it sends is junk at any other speed the line is set to.
TEST(SerialSpeed, IsFoundAndSaid) {
    const int board = ::posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK);
    ASSERT_GE(board, 0);
    ASSERT_EQ(::grantpt(board), 0);
    ASSERT_EQ(::unlockpt(board), 0);
    const QString port = QString::fromLocal8Bit(::ptsname(board));
    Bed bed;
    bed.openDemo();
    QString said;
    QObject::connect(&bed.workbench.feed(), &LiveFeed::noticed, [&](const QString& text) { said = text; });
    bed.window.useSerial(port, 115200);
    const bool isRead = test::waitUntil(
        [&] {
            termios line{};
            ::tcgetattr(board, &line);
            const std::string text =
                ::cfgetospeed(&line) == B9600 ? "pot=2155\n" : "\xFF\x80\xA5\x01\n\xC0\x99\x07\xFE\n";
            (void)!::write(board, text.data(), text.size());
            bed.workbench.feed().flush();
            return !said.isEmpty() && bed.workbench.views()[0].origin() == Origin::Live;
        },
        30000);
    EXPECT_TRUE(isRead) << said.toStdString();
    EXPECT_TRUE(said.contains(QStringLiteral("9600"))) << said.toStdString();
    EXPECT_TRUE(bed.workbench.feed().sourceName().contains(QStringLiteral("9600")));
    bed.workbench.feed().setSource(nullptr);
    ::close(board);
}

}  // namespace
}  // namespace fg::gui
