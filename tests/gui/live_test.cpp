// Live values: what arrives, what is junk, what grows old, and what the window says of it.

#include "gui/gui_support.h"

#include "circuits/schematic.h"
#include "path_strip/stage_tile.h"
#include "rack/gauge_tile.h"
#include "theme/theme.h"

#include <QLabel>
#include <QScreen>

namespace fg::gui {
namespace {

using test::Bed;

/// A transport that delivers what the test tells it to.
class ToldSource final : public ByteSource {
  public:
    void start() override { started = true; }
    [[nodiscard]] QString name() const override { return QStringLiteral("Told"); }
    void tell(const char* text) {
        emit bytes(QByteArray(text));
        if (feed) feed->flush();
    }
    LiveFeed* feed = nullptr;
    bool started = false;
};

struct Live : testing::Test {
    void SetUp() override {
        bed.openDemo();
        auto owned = std::make_unique<ToldSource>();
        source = owned.get();
        source->feed = &bed.workbench.feed();
        bed.workbench.feed().setSource(std::move(owned));
    }
    const GaugeView& pot() { return bed.workbench.views()[0]; }
    Bed bed;
    ToldSource* source = nullptr;
};

TEST_F(Live, EachGaugeListensToItsChannel) {
    EXPECT_TRUE(source->started);
    source->tell("pot=2155 ai");
    EXPECT_EQ(pot().origin(), Origin::Example);  // the line is not complete
    source->tell("r=156\r\n");
    EXPECT_EQ(pot().origin(), Origin::Live);
    EXPECT_NEAR(pot().evaluation()->reading(), 60.498, 1e-3);
    EXPECT_EQ(bed.workbench.views()[1].evaluation()->at(Stage::Converter).value, 156);
    EXPECT_EQ(bed.workbench.views()[2].origin(), Origin::Example);
    EXPECT_EQ(bed.workbench.feed().channels(), (QStringList{QStringLiteral("air"), QStringLiteral("pot")}));
}

TEST_F(Live, JunkIsCountedAndShown) {
    for (int i = 0; i < 12; ++i) source->tell("\xF0\x9F garbage\n");
    emit bed.workbench.feed().statusChanged();
    const QString status = bed.find<QLabel>("status.counts")->text();
    EXPECT_TRUE(status.contains(QStringLiteral("12 junk lines"))) << status.toStdString();
    EXPECT_TRUE(status.contains(QStringLiteral("is the speed right?")));
    source->tell("pot=2155\n");
    EXPECT_EQ(pot().origin(), Origin::Live);
}

TEST_F(Live, AnImpossibleCodeIsAFaultNotAnOldValue) {
    source->tell("pot=2155\n");
    source->tell("pot=9999\n");
    EXPECT_EQ(pot().evaluation(), nullptr);
    ASSERT_EQ(pot().findings().size(), 1u);
    EXPECT_EQ(pot().findings()[0].severity, Severity::Fault);
    EXPECT_NE(pot().findings()[0].detail.find("0 to 4095"), std::string::npos);
    EXPECT_FALSE(bed.window.grab().isNull());
    source->tell("pot=2155\n");
    EXPECT_TRUE(pot().evaluation());
}

TEST_F(Live, WordsWithASignAreReadAsTheConverterSendsThem) {
    // 24 bits, ± ½ · 5 V/32: −1 comes as 0xFFFFFF and is a hair below nothing; 4 194 304 is half of full scale, 39.0625
    // mV.
    const auto clamp = [&]() -> const GaugeView& { return bed.workbench.views()[4]; };
    bed.workbench.selectGauge(clamp().id());  // looked at, it is computed in full each time
    source->tell("clamp=16777215\n");
    EXPECT_EQ(clamp().evaluation()->at(Stage::Converter).value, -1);
    source->tell("clamp=0x400000\n");
    EXPECT_NEAR(clamp().evaluation()->at(Stage::Wiring).value, 0.0390625, 1e-12);
    EXPECT_NEAR(clamp().evaluation()->reading(), 0.0390625 / 0.06 * 1e5, 1e-6);
    source->tell("clamp=0x800000\n");
    EXPECT_EQ(clamp().textAt(Stage::Reading).sign, "≤ ");
    source->tell("clamp=0x1000000\n");
    EXPECT_EQ(clamp().evaluation(), nullptr);
}

TEST_F(Live, ClippedCodesAreLimitsInTheRack) {
    source->tell("pot=4095\n");
    EXPECT_EQ(pot().textAt(Stage::Reading).sign, "≤ ");
    EXPECT_EQ(pot().budget(), nullptr);
    EXPECT_EQ(bed.find<QWidget>("rack.gauge.1")->accessibleName().left(12), QStringLiteral("Glue pot: ≤ "));
}

TEST_F(Live, ATriedValueHoldsWhileTheLiveOneMoves) {
    source->tell("pot=2155\n");
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("50")));
    source->tell("pot=2000\n");
    EXPECT_EQ(pot().origin(), Origin::Tried);
    EXPECT_EQ(pot().evaluation()->at(Stage::World).value, 50);
    // ... and while the circuit around it is changed.
    bed.workbench.edit(QStringLiteral("R1"), [](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", 4700.0); });
    EXPECT_EQ(pot().evaluation()->at(Stage::World).value, 50);
    EXPECT_NEAR(pot().evaluation()->at(Stage::Converter).exact, 4096 * 3588.8 / (3588.8 + 4700), 1.5);
    bed.workbench.backToLive();
    EXPECT_EQ(pot().evaluation()->at(Stage::Converter).value, 2000);
}

TEST_F(Live, ValuesGrowOldAndSaySo) {
    source->tell("pot=2155\n");
    EXPECT_FALSE(pot().isStale());
    ASSERT_TRUE(QTest::qWaitFor([&] { return pot().isStale(); }, 8000));
    EXPECT_GT(pot().age_s(), LiveFeed::kStaleAfter_s);
    EXPECT_TRUE(pot().evaluation());  // the last value is still there to be read
    source->tell("pot=2100\n");
    EXPECT_FALSE(pot().isStale());
}

/// What moves is painted piece by piece: together the pieces look as the window painted anew.
TEST_F(Live, WhatIsPaintedInPiecesLooksAsTheWhole) {
    bed.window.show();
    bed.workbench.selectStage(Stage::Wiring);
    const auto painted = [&] {
        for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();
        return bed.window.screen()->grabWindow(bed.window.winId()).toImage();
    };
    const auto partOf = [&](const QWidget& widget, const QImage& all, int from) {
        return all.copy(QRect(widget.mapTo(&bed.window, QPoint(from, 0)), widget.size() - QSize(from, 0)));
    };
    QImage before = painted();
    ASSERT_FALSE(before.isNull());
    std::vector<std::pair<const QWidget*, int>> parts{{bed.window.findChild<Schematic*>(), 0}};
    for (const StageTile* tile : bed.window.findChildren<StageTile*>()) parts.emplace_back(tile, 0);
    // Without the mark at the side of a tile, which moves by whole pixels.
    for (const GaugeTile* tile : bed.window.findChildren<GaugeTile*>())
        if (tile->visibleRegion().boundingRect() == tile->rect()) parts.emplace_back(tile, 34);
    ASSERT_GT(parts.size(), 10u);
    // Up and down, by a digit and by many, at an end and beyond it, another gauge, and back again.
    for (const char* line : {"pot=2155 air=156\n", "pot=2156 air=157\n", "pot=300 air=12\n", "pot=4095\n", "pot=9999\n",
                             "pot=2155 air=900\n", "pot=2155 air=901\n", "pot=1000 air=901\n"}) {
        source->tell(line);
        const QImage pieces = painted();
        EXPECT_NE(pieces, before) << line;
        emit Theme::instance().changed();
        before = painted();
        for (const auto& [widget, from] : parts)
            EXPECT_EQ(partOf(*widget, pieces, from), partOf(*widget, before, from))
                << line << widget->objectName().toStdString() << widget->metaObject()->className();
    }
}

TEST_F(Live, NoSourceIsSaid) {
    bed.workbench.feed().setSource(nullptr);
    EXPECT_EQ(pot().origin(), Origin::Example);
    EXPECT_TRUE(bed.find<QLabel>("status.source")->text().contains(QStringLiteral("No source")));
    EXPECT_FALSE(bed.workbench.feed().latest(pot().gauge()));
}

TEST(FindingsPanelTest, BecomesAnEdgeWhereTheWindowIsNarrow) {
    Bed bed;
    bed.openDemo();
    auto* panel = bed.find<QWidget>("findings");
    EXPECT_EQ(panel->width(), px(320));
    Theme::instance().setTextScale(1.5);
    QCoreApplication::processEvents();
    EXPECT_EQ(panel->width(), px(40));  // larger text alone makes it narrow
    bed.window.resize(1281, 800);
    QCoreApplication::processEvents();
    EXPECT_EQ(panel->width(), px(40));
    QTest::mouseClick(panel, Qt::LeftButton);
    EXPECT_EQ(panel->width(), px(320));
    Theme::instance().setTextScale(1.0);
    bed.window.resize(1280, 800);
    QCoreApplication::processEvents();
    EXPECT_EQ(panel->width(), px(320));
}

}  // namespace
}  // namespace fg::gui
