// Gauges of digital parts in the window: bytes pasted, traced and lit; registers by meaning; the bus; options and
// readings.

#include "gui/gui_support.h"

#include "bench/gauge_json.h"
#include "digital/bytes_view.h"
#include "path/digital_path.h"
#include "path_strip/stage_tile.h"
#include "sheets/formula_sheet.h"
#include "widgets/value_edit.h"

#include <algorithm>
#include <cmath>
#include <QComboBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSpinBox>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;

class Digital : public testing::Test {
  protected:
    void SetUp() override { bed.openDemo(); }

    void open(const std::string& name, Stage stage) {
        for (const GaugeView& view : bed.workbench.views())
            if (view.spec().name == name) bed.workbench.selectGauge(view.id());
        bed.workbench.selectStage(stage);
    }
    void choose(const std::string& box, const QString& text) {
        auto* choice = bed.find<QComboBox>(box);
        const int index = choice->findData(text);
        ASSERT_GE(index, 0) << box << " " << text.toStdString();
        choice->setCurrentIndex(index);
        emit choice->activated(index);
    }
    void paste(const QString& text) {
        bed.find<QPlainTextEdit>("bytes.paste")->setPlainText(text);
        bed.find<QPushButton>("bytes.try")->click();
    }
    [[nodiscard]] const GaugeView& view() { return *bed.workbench.current(); }
    [[nodiscard]] bool finds(const std::string& id) {
        return std::any_of(view().findings().begin(), view().findings().end(),
                           [&](const Finding& one) { return one.id == id; });
    }
    Bed bed;
};

TEST_F(Digital, PastedBytesAreReadAndRefusedOnesSaySo) {
    open("Soaking tray", Stage::Converter);
    EXPECT_TRUE(bed.find<QWidget>("sheet.bytes")->isVisible());
    paste(QStringLiteral("50 05 4B 46 7F FF 0C 10 1C"));
    EXPECT_EQ(view().evaluation()->reading(), 85);
    EXPECT_EQ(view().origin(), Origin::Tried);
    EXPECT_TRUE(finds("power-on"));
    EXPECT_TRUE(bed.find<StageTile>("tile.converter")->accessibleName().contains(QStringLiteral("50 05 4B")));
    paste(QStringLiteral("50 05 4B 46 7F FF 0C 10 1D"));
    EXPECT_TRUE(bed.find<QLabel>("bytes.answer")->text().contains(QStringLiteral("0x1C")));
    EXPECT_EQ(view().evaluation()->reading(), 85);  // what was tried before stays
    // The tile takes bytes as well.
    QTest::mouseDClick(bed.find<StageTile>("tile.converter"), Qt::LeftButton);
    auto* edit = bed.find<QLineEdit>("tile.edit.converter");
    edit->selectAll();
    QTest::keyClicks(edit, QStringLiteral("91 01 4B 46 7F FF 0C 10 70"));
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(view().evaluation()->reading(), 25.0625);
    EXPECT_FALSE(bed.window.grab().isNull());
}

TEST_F(Digital, AValueTypedBecomesBytes) {
    open("Barometer", Stage::Formula);
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("1004.7 hPa")));
    EXPECT_NEAR(view().evaluation()->reading(), 100470, 0.5);
    auto* table = bed.window.findChild<TraceTable*>();
    ASSERT_TRUE(table);
    EXPECT_TRUE(table->asText().contains(QStringLiteral("dig_T1")));
    // Pointing at the first line lights the two bytes of dig_T1.
    EXPECT_TRUE(bed.find<BytesView>("bytes.view")->accessibleDescription().contains(QStringLiteral("0x88")));
    QTest::mouseMove(table, QPoint(40, 34));
    EXPECT_FALSE(bed.window.grab().isNull());
    EXPECT_FALSE(bed.workbench.tryText(Stage::Wiring, QStringLiteral("3")));
}

TEST_F(Digital, OptionsAndReadingsAreChosen) {
    open("Varnish cabinet", Stage::Sensor);
    EXPECT_TRUE(bed.find<QWidget>("sheet.device")->isVisible());
    ASSERT_TRUE(bed.workbench.tryText(Stage::Converter, QStringLiteral("E8 03 C8 00")));
    const double before = view().evaluation()->reading();
    choose("option.gain", QStringLiteral("16"));
    EXPECT_NEAR(view().evaluation()->reading(), before / 16, 1e-9);
    open("Wood store", Stage::Sensor);
    choose("device.reading", QStringLiteral("temperature"));
    EXPECT_EQ(view().spec().quantity, Quantity::Temperature);
    EXPECT_TRUE(view().digital());
    // A part on a single wire takes a scope's high times as well: DHT22 data sheet's example, 65.2 %RH and 35.1 °C.
    choose("device.part", QStringLiteral("dht22"));
    QString high_us;
    for (const int byte : {0x02, 0x8C, 0x01, 0x5F, 0xEE})
        for (int bit = 7; bit >= 0; --bit) high_us += byte >> bit & 1 ? QStringLiteral("70 ") : QStringLiteral("26 ");
    bed.workbench.selectStage(Stage::Converter);
    paste(high_us);
    EXPECT_EQ(view().evaluation()->reading(), 35.1);
    bed.workbench.selectStage(Stage::Sensor);
    choose("device.part", QStringLiteral("ds18b20"));
    EXPECT_EQ(view().spec().sensor.part, "ds18b20");
    EXPECT_TRUE(view().digital());
}

TEST_F(Digital, RegistersBothWays) {
    open("Barometer", Stage::Converter);
    choose("register.osrs_t", QStringLiteral("x2"));
    choose("register.osrs_p", QStringLiteral("x16"));
    choose("register.mode", QStringLiteral("normal"));
    const auto label = [&](const char* name) { return bed.find<QLabel>(name)->text(); };
    EXPECT_TRUE(label("register.word.ctrl_meas").contains(QStringLiteral("0x57")))
        << label("register.word.ctrl_meas").toStdString();
    EXPECT_TRUE(label("register.bus.ctrl_meas").contains(QStringLiteral("S EC A F4 A 57 A P")));
    EXPECT_TRUE(bed.find<QLabel>("registers.costs")->text().contains(QStringLiteral("37.5 ms")));
    typeInto(bed.find<QLineEdit>("registers.paste"), QStringLiteral("F4=57"));
    const auto said = [&] { return bed.find<QLabel>("registers.problem")->text(); };
    EXPECT_TRUE(said().contains(QStringLiteral("do what was chosen"))) << said().toStdString();
    choose("register.standby", QStringLiteral("1000ms"));
    typeInto(bed.find<QLineEdit>("registers.paste"), QStringLiteral("F4=57 F5=80"));
    EXPECT_TRUE(said().contains(QStringLiteral("500ms, half of the 1000ms"))) << said().toStdString();
    typeInto(bed.find<QLineEdit>("registers.paste"), QStringLiteral("F4=27 F5=A0"));
    EXPECT_EQ(bed.find<QComboBox>("register.standby")->currentText(), QStringLiteral("1000ms"));
    typeInto(bed.find<QLineEdit>("registers.paste"), QStringLiteral("D0=58"));
    EXPECT_TRUE(bed.find<QLabel>("registers.problem")->text().contains(QStringLiteral("Not read")));
}

// The wood store's part takes commands: words sent alone, limits with a checksum, flags that are only read.
TEST_F(Digital, CommandsBothWays) {
    open("Wood store", Stage::Converter);
    const auto label = [&](const char* name) { return bed.find<QLabel>(name)->text(); };
    const auto said = [&] { return label("registers.problem"); };
    choose("register.repeat", QStringLiteral("2/s"));
    EXPECT_TRUE(label("register.word.measure").contains(QStringLiteral("0x2236")))
        << label("register.word.measure").toStdString();
    EXPECT_EQ(label("register.bus.measure"), QStringLiteral("send: S 88 A 22 A 36 A P"));
    EXPECT_TRUE(label("registers.costs").contains(QStringLiteral("500 ms")));
    auto* limit = bed.find<QLineEdit>("register.high_set");
    typeInto(limit, QStringLiteral("28 °C"));
    EXPECT_TRUE(label("register.bus.high_set").startsWith(QStringLiteral("write: S 88 A 61 A 1D A")))
        << label("register.bus.high_set").toStdString();
    typeInto(limit, QStringLiteral("400 °C"));
    EXPECT_TRUE(said().contains(QStringLiteral("Not set"))) << said().toStdString();
    auto* words = bed.find<QLineEdit>("registers.paste");
    typeInto(words, QStringLiteral("21 30"));
    EXPECT_TRUE(said().contains(QStringLiteral("half of the 2/s"))) << said().toStdString();
    EXPECT_EQ(bed.find<QComboBox>("register.repeat")->currentText(), QStringLiteral("1/s"));
    typeInto(words, QStringLiteral("24 01"));
    EXPECT_TRUE(said().contains(QStringLiteral("Not read")) && said().contains(QStringLiteral("24 01")))
        << said().toStdString();
    EXPECT_TRUE(label("register.read.status").contains(QStringLiteral("A reset since it was cleared <b>yes</b>")));
    typeInto(words, QStringLiteral("F32D: 00 01"));
    EXPECT_TRUE(label("register.read.status").contains(QStringLiteral("wrong CRC <b>yes</b>")))
        << label("register.read.status").toStdString();
    // Another part's sheet stands in its place.
    open("Soaking tray", Stage::Converter);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_TRUE(bed.window.findChild<QComboBox*>(QStringLiteral("register.resolution")));
    EXPECT_FALSE(bed.window.findChild<QComboBox*>(QStringLiteral("register.repeat")));
    // A probe takes all its words at once.
    choose("register.resolution", QStringLiteral("10"));
    EXPECT_TRUE(label("registers.scratchpad").startsWith(QStringLiteral("write: R p CC 4E 4B 46 3F")))
        << label("registers.scratchpad").toStdString();
}

TEST_F(Digital, CalibrationIsKeptOnlyWhenItWorks) {
    open("Barometer", Stage::Converter);
    const std::string before = view().spec().sensor.parameters.textOr("calibration", "");
    bed.find<QPlainTextEdit>("bytes.paste")->setPlainText(QStringLiteral("88: 00 00"));
    bed.find<QPushButton>("bytes.keep")->click();
    EXPECT_EQ(view().spec().sensor.parameters.textOr("calibration", ""), before);
    bed.find<QPlainTextEdit>("bytes.paste")
        ->setPlainText(QStringLiteral("88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17"));
    bed.find<QPushButton>("bytes.keep")->click();
    EXPECT_NE(view().spec().sensor.parameters.textOr("calibration", ""), before);
}

TEST_F(Digital, TheBusSaysWhoIsThereAndWhatThePullUpDoes) {
    open("Barometer", Stage::Wiring);
    EXPECT_TRUE(bed.find<QWidget>("sheet.bus")->isVisible());
    EXPECT_TRUE(bed.find<QLabel>("bus.neighbours")->text().contains(QStringLiteral("0x39 tsl2561")));
    const auto verdict = [&] { return bed.find<QLabel>("bus.verdict")->text(); };
    EXPECT_TRUE(verdict().contains(QStringLiteral("Pull-ups not given")));
    // 1.7 m of cable hang on this bus by the plan: 4.7 kΩ would do without them.
    typeInto(bed.find<ValueEdit>("bus.own"), QStringLiteral("4k7"));
    EXPECT_TRUE(verdict().contains(QStringLiteral("too weak"))) << verdict().toStdString();
    EXPECT_TRUE(verdict().contains(QStringLiteral("1.7 m of cable")));
    typeInto(bed.find<ValueEdit>("bus.own"), QStringLiteral("1k2"));
    EXPECT_TRUE(verdict().contains(QStringLiteral("does it"))) << verdict().toStdString();
    bed.find<QSpinBox>("bus.modules")->setValue(12);
    EXPECT_TRUE(verdict().contains(QStringLiteral("too strong"))) << verdict().toStdString();
    EXPECT_TRUE(finds("pull-up-too-strong"));
    bed.find<QSpinBox>("bus.modules")->setValue(0);
    EXPECT_FALSE(finds("pull-up-too-strong"));
    typeInto(bed.find<ValueEdit>("bus.interval"), QStringLiteral("2 ms"));
    EXPECT_TRUE(finds("over-polled"));
    auto* cable = bed.find<ValueEdit>("bus.cable");
    typeInto(cable, QStringLiteral("900"));
    EXPECT_TRUE(cable->isInvalid());
    // A second part at the same address.
    GaugeSpec other = defaultDeviceGauge(*bed.workbench.catalogue().findDevicePart("bme280"), "humidity");
    other.name = "Loft";
    bed.workbench.addGauge(other);
    open("Barometer", Stage::Wiring);
    EXPECT_TRUE(bed.find<QLabel>("bus.neighbours")->text().contains(QStringLiteral("SDO to supply makes it 0x77")));
    ASSERT_TRUE(finds("address-taken"));
    typeInto(bed.find<ValueEdit>("bus.supply"), QStringLiteral("5 V"));
    EXPECT_TRUE(finds("supply-unsuitable"));  // BMP280: 1.71 … 3.6 V
    typeInto(bed.find<ValueEdit>("bus.supply"), QStringLiteral("3.3 V"));
    EXPECT_FALSE(finds("supply-unsuitable"));
    choose("bus.address", QString::number(0x77));
    EXPECT_FALSE(finds("address-taken"));
    EXPECT_EQ(view().spec().wiring.parameters.number("address"), 0x77);
    EXPECT_FALSE(bed.find<QLabel>("bus.neighbours")->text().contains(QStringLiteral("Two at one address")));
}

TEST_F(Digital, TheSimulatedBenchFeedsThem) {
    bed.window.useSimulation();
    open("Wood store", Stage::Reading);
    ASSERT_TRUE(test::waitUntil([&] { return view().origin() == Origin::Live && view().evaluation(); }));
    EXPECT_GT(view().evaluation()->reading(), 30);
    EXPECT_LT(view().evaluation()->reading(), 70);
    EXPECT_GT(view().expanded(), 1.9);  // ± 2 %RH stated: 95 % of a rectangle
    for (const Stage stage : kStages) {
        bed.workbench.selectStage(stage);
        EXPECT_FALSE(bed.window.grab().isNull());
    }
    // From one of its kind to the other and back, on every page.
    for (const Stage stage : kStages)
        for (const char* name : {"Glue pot", "Barometer", "Glue pot"}) {
            open(name, stage);
            EXPECT_FALSE(bed.window.grab().isNull());
        }
}

}  // namespace
}  // namespace fg::gui
