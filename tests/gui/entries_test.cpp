// What a new gauge says of values that nobody gave, and what becomes of an entry that was begun in a tile.

#include "gui/gui_support.h"

#include "../added_family.h"
#include "path/default_gauge.h"
#include "widgets/value_edit.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;

bool finds(const GaugeView& view, const std::string& id) {
    return std::any_of(view.findings().begin(), view.findings().end(),
                       [&](const Finding& one) { return one.id == id; });
}

TEST(Examples, StayMarkedUntilEachIsSetOrConfirmed) {
    Bed bed;
    bed.openDemo();
    bed.workbench.addGauge(defaultGauge(*bed.workbench.catalogue().findPart("ntc")));
    bed.workbench.selectStage(Stage::Sensor);
    ASSERT_TRUE(test::waitUntil(
        [&] { return bed.window.findChild<ValueEdit*>(QStringLiteral("parameter.r25_ohm")) != nullptr; }));
    const auto isExample = [&](const char* field) { return bed.workbench.current()->spec().examples.count(field) > 0; };
    EXPECT_TRUE(finds(*bed.workbench.current(), "example-values"));
    EXPECT_TRUE(isExample("sensor.r25_ohm"));
    typeInto(bed.find<ValueEdit>("parameter.r25_ohm"), QStringLiteral("4k7"));
    EXPECT_FALSE(isExample("sensor.r25_ohm"));
    EXPECT_TRUE(isExample("sensor.beta_K"));
    // As it stands it can be right too: the link beside it says so.
    for (QLabel* label : bed.window.findChildren<QLabel*>())
        if (label->isVisible() && label->text().contains(QStringLiteral("it is right"))) {
            EXPECT_EQ(label->textFormat(), Qt::RichText);  // a link, not its markup
            emit label->linkActivated(QStringLiteral("#"));
        }
    QCoreApplication::processEvents();
    EXPECT_FALSE(isExample("sensor.beta_K"));
    EXPECT_TRUE(finds(*bed.workbench.current(), "example-values"));  // the divider and the converter are still open
    (void)bed.workbench.edit(QStringLiteral("confirm"), [](GaugeSpec& spec) { spec.examples.clear(); });
    EXPECT_FALSE(finds(*bed.workbench.current(), "example-values"));
    bed.workbench.bench().undo();
    EXPECT_TRUE(finds(*bed.workbench.current(), "example-values"));
}

TEST(Examples, NewGaugesAreNamedAfterTheirPart) {
    Bed bed;
    bed.openDemo();
    EXPECT_EQ(bed.workbench.freeName("tmp36"), "tmp36");
    GaugeSpec spec = defaultGauge(*bed.workbench.catalogue().findPart("tmp36"));
    spec.name = "tmp36";
    bed.workbench.addGauge(spec);
    EXPECT_EQ(bed.workbench.freeName("tmp36"), "tmp36 2");
}

TEST(TileEntry, BeginsWithAHexadecimalLetterAndGivesWayToAnotherValue) {
    Bed bed;
    bed.openDemo();
    for (const GaugeView& view : bed.workbench.views())
        if (view.spec().name == "Barometer") bed.workbench.selectGauge(view.id());
    auto* converter = bed.find<QWidget>("tile.converter");
    converter->setFocus();
    QTest::keyClicks(converter, QStringLiteral("E"));
    auto* entry = bed.find<QLineEdit>("tile.edit.converter");
    EXPECT_TRUE(entry->isVisible());
    EXPECT_EQ(entry->text(), QStringLiteral("E"));
    QTest::keyClicks(entry, QStringLiteral("8 03"));
    EXPECT_EQ(entry->text(), QStringLiteral("E8 03"));
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("1000 hPa")));
    EXPECT_FALSE(entry->isVisible());
}

TEST(TileEntry, TakesWordsAsALineFromABoardHasThem) {
    Bed bed;
    bed.openDemo();
    GaugeSpec spec = defaultGauge(*bed.workbench.catalogue().findPart("tmp36"));
    spec.converter = {"adc", "adc-10bit-left", {}};
    bed.workbench.addGauge(spec);
    // Left-justified 10 bits: 0x2640 is code 153, as two registers too.
    for (const char* text : {"0x2640", "0x26 0x40", "low=0x40 high=0x26"}) {
        ASSERT_TRUE(bed.workbench.tryText(Stage::Converter, QString::fromLatin1(text))) << text;
        EXPECT_EQ(bed.workbench.current()->evaluation()->at(Stage::Converter).value, 153) << text;
    }
    EXPECT_FALSE(bed.workbench.tryText(Stage::Converter, QStringLiteral("0x2641")));
}

TEST(Settings, OfADigitalPartAreKeptInTheGauge) {
    Bed bed;
    bed.openDemo();
    for (const GaugeView& view : bed.workbench.views())
        if (view.spec().name == "Barometer") bed.workbench.selectGauge(view.id());
    EXPECT_EQ(bed.workbench.current()->spec().sensor.parameters.text("settings"),
              "osrs_t=x2,osrs_p=x16,filter=4,standby=125ms,mode=normal");
    bed.workbench.selectStage(Stage::Converter);
    auto* mode = bed.find<QComboBox>("register.mode");
    ASSERT_EQ(mode->currentText(), QStringLiteral("normal"));
    mode->setCurrentText(QStringLiteral("sleep"));
    emit mode->activated(mode->currentIndex());
    EXPECT_NE(bed.workbench.current()->spec().sensor.parameters.textOr("settings", "").find("mode=sleep"),
              std::string::npos);
}

// A family that only this test has (tests/added_family.h): its parameters are entries of the Sensor sheet, and what is
// typed there counts.
TEST(AddedFamily, HasItsEntriesOnTheSensorSheet) {
    if (!findSensorFamily("exponential-ptc")) addSensorFamily(fg::test::exponentialPtc());
    Bed bed;
    bed.openDemo();
    const auto part = bed.workbench.catalogue().partOrFamily("exponential-ptc", Quantity::Temperature);
    ASSERT_TRUE(part);
    bed.workbench.addGauge(defaultGauge(*part));
    bed.workbench.selectStage(Stage::Sensor);
    QCoreApplication::processEvents();
    typeInto(bed.find<ValueEdit>("parameter.r0_ohm"), QStringLiteral("2k"));
    typeInto(bed.find<ValueEdit>("parameter.share_per_K"), QStringLiteral("0.02"));
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("50")));
    EXPECT_NEAR(bed.workbench.current()->evaluation()->at(Stage::Sensor).value, 2000 * std::exp(1.0), 1e-9);
}

// Every sample has its reading; what the window shows of gauges nobody looks at is the engine's.
TEST(Glance, ShowsTheEnginesReadingOfGaugesInTheBackground) {
    Bed bed;
    bed.openDemo();
    class Told final : public ByteSource {
      public:
        void start() override {}
        [[nodiscard]] QString name() const override { return QStringLiteral("Told"); }
    };
    auto owned = std::make_unique<Told>();
    Told* source = owned.get();
    bed.workbench.feed().setSource(std::move(owned));
    const auto tell = [&](const char* line) {
        emit source->bytes(QByteArray(line));
        bed.workbench.feed().flush();
    };
    const GaugeView& air = bed.workbench.views()[1];
    ASSERT_NE(bed.workbench.current()->id(), air.id());
    tell("air=156\n");
    // 10 bits of a reference measured as 4.94 V, 10 mV a degree from 0.5 V on: by hand, whichever gauge's turn it is.
    for (int code = 150; code < 170; ++code) {
        tell(("air=" + std::to_string(code) + "\n").c_str());
        EXPECT_NEAR(air.evaluation()->reading(), (code * 4.94 / 1024 - 0.5) * 100, 1e-9) << code;
        EXPECT_TRUE(air.budget());
    }
    tell("air=1023\n");  // another kind of value is judged at once
    EXPECT_EQ(air.budget(), nullptr);
    EXPECT_EQ(air.textAt(Stage::Reading).sign, "≥ ");
    // Chosen, it is computed in full.
    tell("air=153\n");
    bed.workbench.selectGauge(air.id());
    EXPECT_NEAR(air.evaluation()->at(Stage::Wiring).value, 153 * 4.94 / 1024, 1e-12);
}

}  // namespace
}  // namespace fg::gui
