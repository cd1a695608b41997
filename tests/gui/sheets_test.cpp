// The sheets, each worked as a user would work it, and what must follow in the gauge.

#include "gui/gui_support.h"

#include "bench/gauge_json.h"
#include "circuits/lock_button.h"
#include "correction/correction_sheet.h"
#include "path/default_gauge.h"
#include "sheets/formula_sheet.h"
#include "sizing_panel/option_table.h"
#include "widgets/value_edit.h"

#include <algorithm>
#include <cmath>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QTabBar>
#include <QTableView>
#include <QTableWidget>
#include <QToolButton>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;

/// Picks the entry with that data in a choice, as a user's click does.
void choose(QComboBox* box, const QVariant& data) {
    const int index = box->findData(data);
    ASSERT_GE(index, 0) << data.toString().toStdString();
    box->setCurrentIndex(index);
    emit box->activated(index);
}

const GaugeSpec& specOf(Bed& bed) { return bed.workbench.current()->spec(); }

class Sheets : public testing::Test {
  protected:
    void SetUp() override { bed.openDemo(); }
    Bed bed;
};

TEST_F(Sheets, WorldRenamesAndKeepsTheSpanInAnotherUnit) {
    bed.workbench.selectStage(Stage::World);
    auto* name = bed.find<QLineEdit>("world.name");
    typeInto(name, QStringLiteral("Bone glue"));
    emit name->editingFinished();
    EXPECT_EQ(specOf(bed).name, "Bone glue");
    choose(bed.find<QComboBox>("world.unit"), QStringLiteral("degF"));
    EXPECT_EQ(specOf(bed).reading.unit, "degF");
    EXPECT_NEAR(specOf(bed).reading.span.low, 68, 1e-9);
    EXPECT_NEAR(specOf(bed).reading.span.high, 194, 1e-9);
    EXPECT_NEAR(specOf(bed).spanCanonical().high, 90, 1e-9);
    // Typed in the new unit, or with a unit of its own.
    typeInto(bed.find<ValueEdit>("world.low"), QStringLiteral("100"));
    EXPECT_NEAR(specOf(bed).reading.span.low, 100, 1e-9);
    typeInto(bed.find<ValueEdit>("world.low"), QStringLiteral("40 °C"));
    EXPECT_NEAR(specOf(bed).reading.span.low, 104, 1e-9);
}

TEST_F(Sheets, WorldRefusesASpanThatIsUpsideDown) {
    bed.workbench.selectStage(Stage::World);
    auto* low = bed.find<ValueEdit>("world.low");
    typeInto(low, QStringLiteral("95"));
    EXPECT_TRUE(low->isInvalid());
    EXPECT_TRUE(low->reason().contains(QStringLiteral("below 90"))) << low->reason().toStdString();
    EXPECT_EQ(low->text(), QStringLiteral("95"));
    EXPECT_EQ(specOf(bed).reading.span.low, 20);
    QTest::keyClick(low, Qt::Key_Escape);
    EXPECT_FALSE(low->isInvalid());
    EXPECT_EQ(low->text(), QStringLiteral("20 °C"));
}

TEST_F(Sheets, WorldCautionsShowAndGoWithTheGauge) {
    bed.workbench.selectStage(Stage::World);
    auto* mains = bed.find<QCheckBox>("caution.mains");
    EXPECT_FALSE(mains->isChecked());
    EXPECT_TRUE(bed.find<QCheckBox>("caution.heat")->isChecked());
    mains->click();
    const auto& findings = bed.workbench.current()->findings();
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(), [](const Finding& f) { return f.id == "care-mains"; }));
    bed.workbench.bench().undo();
    EXPECT_FALSE(mains->isChecked());
}

TEST_F(Sheets, SensorPartsAreExchangedWithAWiringThatFits) {
    bed.workbench.selectStage(Stage::Sensor);
    auto* part = bed.find<QComboBox>("sensor.part");
    choose(part, QStringLiteral("tmp36"));
    EXPECT_EQ(specOf(bed).sensor.part, "tmp36");
    EXPECT_EQ(specOf(bed).wiring.kind, "direct");
    EXPECT_EQ(specOf(bed).name, "Glue pot");
    EXPECT_TRUE(bed.workbench.current()->path());
    choose(part, QStringLiteral("ad590"));
    EXPECT_EQ(specOf(bed).wiring.kind, "load");
    choose(part, QStringLiteral("pt1000"));
    EXPECT_EQ(specOf(bed).wiring.kind, "divider");
    for (int i = 0; i < 3; ++i) bed.workbench.bench().undo();
    EXPECT_EQ(specOf(bed), fg::readGaugeFile(BenchActions::demoFolder() + "/glue-pot.json").value());
}

TEST_F(Sheets, SensorToleranceGoesIntoTheBudget) {
    bed.workbench.selectStage(Stage::Sensor);
    const double before = bed.workbench.current()->expanded();
    typeInto(bed.find<ValueEdit>("parameter.beta_tolerance"), QStringLiteral("0.2 %"));
    EXPECT_DOUBLE_EQ(specOf(bed).sensor.parameters.number("beta_tolerance").value(), 0.002);
    EXPECT_LT(bed.workbench.current()->expanded(), before);
}

TEST_F(Sheets, SensorPointsAreReadAsTypedAndWrongOnesSaid) {
    bed.workbench.selectGauge(bed.workbench.views()[2].id());
    bed.workbench.selectStage(Stage::Sensor);
    auto* points = bed.find<QPlainTextEdit>("sensor.points");
    EXPECT_EQ(points->toPlainText(), QStringLiteral("0 °C ; 7355 Ω\n25 °C ; 2252 Ω\n100 °C ; 152.8 Ω"));
    points->setFocus();
    points->setPlainText(QStringLiteral("0 7355\n25 °C 2.252 kΩ\n50 ; 811R3"));
    const auto held = [&] { return specOf(bed).sensor.parameters.requirePoints("points_degC_ohm").value(); };
    EXPECT_EQ(held(), (std::vector<Point>{{0, 7355}, {25, 2252}, {50, 811.3}}));
    points->setPlainText(QStringLiteral("0 7355\n25 2252\n25 811"));
    EXPECT_EQ(held().back(), (Point{50, 811.3}));  // refused: two points at 25 °C
    bool said = false;
    for (QLabel* label : bed.window.findChildren<QLabel*>())
        said = said || label->text().contains(QStringLiteral("two points at 25 °C"));
    EXPECT_TRUE(said);
}

TEST_F(Sheets, SensorExpressionOfOnesOwn) {
    bed.workbench.selectStage(Stage::Sensor);
    choose(bed.find<QComboBox>("sensor.part"), QStringLiteral("own-expression"));
    auto* expression = bed.find<QLineEdit>("sensor.expression");
    EXPECT_TRUE(expression->isVisible());
    expression->setFocus();
    expression->selectAll();
    QTest::keyClicks(expression, QStringLiteral("0.4+0.0195*x"));
    EXPECT_NEAR(bed.workbench.current()->path()->sensor().forward(25), 0.8875, 1e-12);
}

TEST_F(Sheets, WiringTakesAStandardValueFromTheTable) {
    bed.workbench.selectStage(Stage::Wiring);
    auto* options = bed.find<OptionTable>("sizing.options");
    ASSERT_TRUE(options->isVisible());
    options->setFocus();
    QTest::keyClick(options, Qt::Key_Down);
    QTest::keyClick(options, Qt::Key_Return);
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 2700);
    EXPECT_EQ(bed.find<ValueEdit>("wiring.fixed_ohm")->text(), QStringLiteral("2.7 kΩ"));
    QTest::mouseClick(options, Qt::LeftButton, {}, QPoint(60, 30));
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 2200);
}

TEST_F(Sheets, AnOpenLockLetsTheSolverChoose) {
    bed.workbench.selectStage(Stage::Wiring);
    typeInto(bed.find<ValueEdit>("wiring.fixed_ohm"), QStringLiteral("10k"));
    const auto lock = [&] { return bed.find<LockButton>("lock.wiring.fixed_ohm"); };
    EXPECT_FALSE(lock()->isChecked());
    QTest::mouseClick(lock(), Qt::LeftButton);
    EXPECT_TRUE(lock()->isChecked());
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 2200);  // the design's own first choice of E12
    // Another series while the lock is open: the solver chooses again.
    auto* series = bed.find<QComboBox>("sizing.series");
    series->setCurrentIndex(series->findText(QStringLiteral("E3")));
    emit series->activated(series->currentIndex());
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 2200);
    series->setCurrentIndex(series->findText(QStringLiteral("E24")));
    emit series->activated(series->currentIndex());
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 2400);  // between 2.2 k and 2.7 k the worst ends meet
    EXPECT_TRUE(lock()->isChecked());
    // A value typed is fixed again.
    typeInto(bed.find<ValueEdit>("wiring.fixed_ohm"), QStringLiteral("3k3"));
    EXPECT_FALSE(lock()->isChecked());
    EXPECT_EQ(specOf(bed).wiring.parameters.number("fixed_ohm"), 3300);
}

TEST_F(Sheets, SizingASourceSolverOfPlainNumbersChangesNothing) {
    bed.workbench.selectStage(Stage::Wiring);
    const GaugeSpec before = specOf(bed);
    choose(bed.find<QComboBox>("sizing.solver"), QStringLiteral("zener"));
    EXPECT_TRUE(bed.find<QLabel>("sizing.why")->text().startsWith(QStringLiteral("Still needed")))
        << bed.find<QLabel>("sizing.why")->text().toStdString();
    choose(bed.find<QComboBox>("sizing.solver"), QStringLiteral("linearising"));
    EXPECT_TRUE(bed.find<OptionTable>("sizing.options")->isVisible());
    EXPECT_EQ(specOf(bed), before);
    QTest::mouseClick(bed.find<LockButton>("lock.wiring.parallel_ohm"), Qt::LeftButton);
    EXPECT_TRUE(specOf(bed).wiring.parameters.has("parallel_ohm"));
}

TEST_F(Sheets, WiringSideSourceAndToleranceAreSet) {
    bed.workbench.selectStage(Stage::Wiring);
    choose(bed.find<QComboBox>("wiring.side"), QStringLiteral("high"));
    EXPECT_TRUE(bed.workbench.current()->path()->isRising());
    choose(bed.find<QComboBox>("wiring.sourceKind"), QStringLiteral("rail"));
    EXPECT_EQ(specOf(bed).wiring.parameters.number("source_V"), 3.3);  // as it was fed before
    typeInto(bed.find<ValueEdit>("wiring.source"), QStringLiteral("3V0"));
    EXPECT_EQ(specOf(bed).wiring.parameters.number("source_V"), 3.0);
    typeInto(bed.find<ValueEdit>("wiring.tolerance"), QStringLiteral("0.1"));  // percent, the field's unit
    EXPECT_DOUBLE_EQ(specOf(bed).wiring.parameters.number("fixed_tolerance").value(), 0.001);
    auto* tolerance = bed.find<ValueEdit>("wiring.sourceTolerance");
    typeInto(tolerance, QStringLiteral("150 %"));
    EXPECT_TRUE(tolerance->isInvalid());
    typeInto(bed.find<ValueEdit>("wiring.capacitor_F"), QStringLiteral("47n"));
    EXPECT_DOUBLE_EQ(specOf(bed).wiring.parameters.number("capacitor_F").value(), 47e-9);
}

TEST_F(Sheets, WiringNetworkCanBeAnother) {
    bed.workbench.selectGauge(bed.workbench.views()[1].id());
    bed.workbench.selectStage(Stage::Wiring);
    choose(bed.find<QComboBox>("wiring.kind"), QStringLiteral("amplifier"));
    typeInto(bed.find<ValueEdit>("parameter.gain"), QStringLiteral("3"));
    const Evaluation evaluation = bed.workbench.current()->path()->evaluate({Stage::World, 25}).value();
    EXPECT_NEAR(evaluation.at(Stage::Wiring).exact, 3 * 0.75, 1e-12);
    EXPECT_EQ(specOf(bed).wiring.parameters.number("source_V"), 5.0);  // the supply stays
    EXPECT_FALSE(bed.window.grab().isNull());
}

TEST_F(Sheets, WiringDrawsEveryKindOfSensor) {
    for (const Part& part : bed.workbench.catalogue().parts()) {
        GaugeSpec spec = defaultGauge(part);
        spec.name = part.id;
        bed.workbench.addGauge(spec);
        bed.workbench.selectStage(Stage::Wiring);
        ASSERT_TRUE(bed.workbench.current()->path()) << part.id;
        EXPECT_TRUE(bed.find<QWidget>("sheet.wiring")->isVisible()) << part.id;
        EXPECT_FALSE(bed.find<QWidget>("sheet.wiring")->grab().isNull()) << part.id;
        // Every value drawn can be edited where it stands, and shows what the gauge has.
        for (const auto& [name, value] : spec.wiring.parameters.all()) {
            if (!name.ends_with("_ohm")) continue;
            EXPECT_TRUE(bed.find<ValueEdit>("wiring." + name)->isVisible()) << part.id << " " << name;
        }
        bed.workbench.removeCurrent();
    }
    EXPECT_EQ(bed.workbench.views().size(), BenchActions::demoBench()->gauges.size());
}

TEST_F(Sheets, ConverterPolarityWordAndTheRestOfItsDataSheet) {
    bed.workbench.selectStage(Stage::Converter);
    const auto converter = [&]() -> const Converter& { return bed.workbench.current()->path()->converter(); };
    choose(bed.find<QComboBox>("converter.word"), QStringLiteral("left-justified"));
    EXPECT_EQ(converter().word(), WordFormat::LeftJustified);
    choose(bed.find<QComboBox>("converter.polarity"), QStringLiteral("bipolar"));
    EXPECT_EQ(converter().minCode(), -2048);
    auto* impedance = bed.find<ValueEdit>("parameter.source_impedance_max_ohm");
    EXPECT_FALSE(impedance->isVisible());
    bed.find<QToolButton>("converter.more")->click();
    EXPECT_TRUE(impedance->isVisible());
    typeInto(impedance, QStringLiteral("10k"));
    EXPECT_EQ(specOf(bed).converter.parameters.number("source_impedance_max_ohm"), 10e3);
    // A counter has no law and no reference.
    bed.workbench.addGauge(defaultGauge(*bed.workbench.catalogue().findPart("hs1101")));
    bed.workbench.selectStage(Stage::Converter);
    QCoreApplication::processEvents();  // a layout shows new entries in its own time
    EXPECT_FALSE(bed.find<QComboBox>("converter.law")->isVisible());
    EXPECT_TRUE(bed.find<ValueEdit>("parameter.gate_s")->isVisible());
    EXPECT_EQ(bed.workbench.current()->quantityAt(Stage::Wiring), Quantity::Frequency);
    EXPECT_FALSE(bed.window.grab().isNull());
}

TEST_F(Sheets, ConverterLawReferenceAndKnownConverters) {
    bed.workbench.selectStage(Stage::Converter);
    choose(bed.find<QComboBox>("converter.law"), QStringLiteral("2^n-1"));
    EXPECT_EQ(bed.workbench.current()->path()->converter().law(), CodeLaw::PowerOfTwoMinusOne);
    choose(bed.find<QComboBox>("converter.rounding"), QStringLiteral("down"));
    EXPECT_EQ(bed.workbench.current()->path()->converter().rounding(), Rounding::Down);
    typeInto(bed.find<ValueEdit>("parameter.reference_measured_V"), QStringLiteral("3.27"));
    EXPECT_EQ(bed.workbench.current()->path()->converter().reference_V(), 3.27);
    auto* bits = bed.find<ValueEdit>("parameter.bits");
    typeInto(bits, QStringLiteral("99"));
    EXPECT_TRUE(bits->isInvalid());
    EXPECT_TRUE(bits->reason().contains(QStringLiteral("1 to 24 bits")));
    QTest::keyClick(bits, Qt::Key_Escape);
    choose(bed.find<QComboBox>("converter.part"), QStringLiteral("adc-10bit-1v1"));
    EXPECT_EQ(bed.workbench.current()->path()->converter().bits(), 10);
    EXPECT_EQ(bed.workbench.current()->path()->converter().reference_V(), 3.27);  // measured stays measured
    EXPECT_FALSE(
        bed.find<QLabel>("converter.code")->text().contains(QStringLiteral("noise")));  // nobody gave its noise
    // 50 nV rms at gain 128: log2(3.27 V/128 / (6.6 · 50 nV)) = log2 77415 = 16.24 by hand.
    choose(bed.find<QComboBox>("converter.part"), QStringLiteral("hx711"));
    EXPECT_TRUE(bed.find<QLabel>("converter.code")
                    ->text()
                    .contains(QStringLiteral("<b>16.2</b> bits&nbsp;free&nbsp;of&nbsp;noise")))
        << bed.find<QLabel>("converter.code")->text().toStdString();
}

/// Words of an 8-bit controller for the demo's thermometer on 5 V: what they must be, what is wrong with others.
TEST_F(Sheets, ConverterSetUpWordsFollowFromTheGaugeAndAreHeldAgainstIt) {
    bed.workbench.selectGauge(2);
    bed.workbench.selectStage(Stage::Converter);
    auto* verdict = bed.find<QLabel>("setup.verdict");
    auto* whose = bed.find<QComboBox>("setup.whose");
    choose(whose, QString());
    EXPECT_FALSE(verdict->isVisibleTo(bed.find<QWidget>("converter.setup")));
    choose(whose, QStringLiteral("atmega328p"));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("count as the gauge does")));
    // AVCC, right-justified, ADC0 and the converter on, by the data sheet's bit tables.
    EXPECT_TRUE(bed.find<QLabel>("register.word.admux")->text().contains(QStringLiteral("0x40")));
    // The demo's clock of 16 MHz is kept, and the prescaler of 128 follows from it; 1 MHz wants 8.
    EXPECT_TRUE(bed.find<QLabel>("register.word.adcsra")->text().contains(QStringLiteral("0x87")));
    typeInto(bed.find<QLineEdit>("setup.clock"), QStringLiteral("1MHz"));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("Set prescaler=8"))) << verdict->text().toStdString();
    QTest::mouseClick(bed.find<QPushButton>("setup.fit"), Qt::LeftButton);
    EXPECT_TRUE(bed.find<QLabel>("register.word.adcsra")->text().contains(QStringLiteral("0x83")));
    EXPECT_TRUE(bed.find<QLabel>("registers.costs")->text().contains(QStringLiteral("104 µs")));
    // Another reference on the sheet: said on the page, and a fault among the findings.
    choose(bed.find<QComboBox>("register.reference"), QStringLiteral("1.1V"));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("selects the internal reference")))
        << verdict->text().toStdString();
    const auto& findings = bed.workbench.current()->findings();
    EXPECT_TRUE(
        std::any_of(findings.begin(), findings.end(), [](const Finding& one) { return one.id == "setup-differs"; }));
    // Words as they stand in a program, by their names.
    typeInto(bed.find<QLineEdit>("registers.paste"), QStringLiteral("admux=0x42 adcsra=0x87"));
    EXPECT_TRUE(bed.find<QLabel>("registers.problem")->text().contains(QStringLiteral("not the 1.1V")))
        << bed.find<QLabel>("registers.problem")->text().toStdString();
    typeInto(bed.find<QLineEdit>("setup.clock"), QStringLiteral("soon"));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("Clock not read")));
    // A converter of one's own whose reference nobody named: it is asked for, not assumed.
    bed.workbench.selectGauge(1);
    choose(whose, QStringLiteral("atmega328p"));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("it is not given whether"))) << verdict->text().toStdString();
    choose(bed.find<QComboBox>("converter.reference"), QStringLiteral("supply"));
    EXPECT_EQ(bed.workbench.current()->spec().converter.parameters.textOr("reference_kind", ""), "supply");
    EXPECT_FALSE(verdict->text().contains(QStringLiteral("it is not given whether")));
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("10 bits; the gauge counts with 12 bits")))
        << verdict->text().toStdString();
    typeInto(bed.find<ValueEdit>("parameter.bits"), QStringLiteral("10"));
    QTest::mouseClick(bed.find<QPushButton>("setup.fit"), Qt::LeftButton);
    EXPECT_TRUE(verdict->text().contains(QStringLiteral("count as the gauge does"))) << verdict->text().toStdString();
}

TEST_F(Sheets, CorrectionMovesTheReadingAndItsBudget) {
    ASSERT_TRUE(bed.workbench.tryText(Stage::Converter, QStringLiteral("2155")));
    const double plain = bed.workbench.current()->evaluation()->reading();
    bed.workbench.selectStage(Stage::Correction);
    choose(bed.find<QComboBox>("correction.kind"), QStringLiteral("line"));
    typeInto(bed.find<ValueEdit>("correction.offset"), QStringLiteral("-0.121"));
    typeInto(bed.find<ValueEdit>("correction.slope"), QStringLiteral("1.038 %"));
    typeInto(bed.find<ValueEdit>("correction.uncertainty"), QStringLiteral("0.275 °C"));
    const auto& now = *bed.workbench.current()->evaluation();
    EXPECT_NEAR(now.reading(), plain - 0.121 + 0.01038 * plain, 1e-9);
    EXPECT_EQ(bed.find<StageTile>("tile.correction")->accessibleName(), QStringLiteral("Correction: +0.51 °C"));
    EXPECT_NEAR(bed.workbench.current()->budget()->contributions.back().standard, 0.1375, 1e-12);
    auto* slope = bed.find<ValueEdit>("correction.slope");
    typeInto(slope, QStringLiteral("-100 %"));
    EXPECT_TRUE(slope->isInvalid());
    choose(bed.find<QComboBox>("correction.kind"), QStringLiteral("none"));
    EXPECT_EQ(specOf(bed).correction, CorrectionSpec{});
}

// A maker compares the pot with a thermometer: two points typed, one set aside, a fit chosen.
TEST_F(Sheets, PointsGiveAFitAndTheBudgetFollows) {
    bed.workbench.selectStage(Stage::Correction);
    const double before = bed.workbench.current()->budget()->expanded;
    const auto take = [&](const QString& reference, const QString& reading) {
        typeInto(bed.find<ValueEdit>("correction.newReference"), reference);
        auto* entry = bed.find<QLineEdit>("correction.newReading");
        entry->setText(reading);
        bed.find<QPushButton>("correction.take")->click();
    };
    typeInto(bed.find<ValueEdit>("correction.newU"), QStringLiteral("0.1"));
    take(QStringLiteral("30.4 °C"), QStringLiteral("30"));
    take(QStringLiteral("57"), QStringLiteral("55"));
    take(QStringLiteral("79.2"), QStringLiteral("176 °F"));
    ASSERT_EQ(specOf(bed).correction.points.size(), 3u);
    EXPECT_NEAR(specOf(bed).correction.points[2].reading, 80, 1e-9);
    EXPECT_EQ(specOf(bed).correction.kind, "none");
    // A code stands for its reading.
    take(QStringLiteral("61.5"), QStringLiteral("code 2155"));
    EXPECT_NEAR(specOf(bed).correction.points[3].reading, 60.498, 0.001);  // R1·2155/1941, Beta law by hand
    auto* points = bed.find<QTableWidget>("correction.points");
    EXPECT_EQ(points->rowCount(), 4);
    points->item(1, 7)->setText(QStringLiteral("bath not stirred"));
    EXPECT_EQ(specOf(bed).correction.points[1].setAside, "bath not stirred");
    points->item(3, 2)->setText(QStringLiteral("warm"));
    EXPECT_FALSE(points->item(3, 2)->toolTip().isEmpty());
    EXPECT_NEAR(specOf(bed).correction.points[3].reference, 61.5, 1e-9);
    typeInto(bed.find<ValueEdit>("correction.shared"), QStringLiteral("0.1"));
    auto* fits = bed.find<QTableWidget>("correction.fits");
    ASSERT_EQ(fits->rowCount(), 6);
    emit fits->cellClicked(2, 0);
    EXPECT_EQ(specOf(bed).correction.kind, "line");
    EXPECT_LT(bed.workbench.current()->budget()->expanded, before);
    auto* sheet = &bed.find<CorrectionSheet>("sheet.correction")->points();
    const QTemporaryDir folder;
    const auto written = [&](const char* name) {
        const auto done = sheet->writeRecord(folder.filePath(QString::fromLatin1(name)));
        EXPECT_TRUE(done) << done.error().message();
        QFile file(folder.filePath(QString::fromLatin1(name)));
        EXPECT_TRUE(file.open(QIODevice::ReadOnly)) << name;
        return file.readAll();
    };
    EXPECT_TRUE(written("record.pdf").startsWith("%PDF"));
    EXPECT_TRUE(written("record.html").startsWith("<!DOCTYPE html>"));
    EXPECT_TRUE(written("record.md").contains("bath not stirred"));
    EXPECT_FALSE(sheet->writeRecord(QStringLiteral("/nowhere/record.md")));
    // The fit follows its points; one that they no longer give is dropped, the points stay.
    const double slope = specOf(bed).correction.slope;
    points->item(0, 2)->setText(QStringLiteral("30.9"));
    EXPECT_NE(specOf(bed).correction.slope, slope);
    for (const int row : {0, 3}) points->item(row, 7)->setText(QStringLiteral("doubted"));
    EXPECT_EQ(specOf(bed).correction.kind, "none");
    EXPECT_EQ(specOf(bed).correction.points.size(), 4u);
    bed.workbench.bench().undo();
    EXPECT_EQ(specOf(bed).correction.kind, "line");
}

// The same entry serves a gauge of another quantity, in that gauge's words.
TEST_F(Sheets, AHumidityGaugeTakesPointsInItsOwnUnit) {
    for (const GaugeView& view : bed.workbench.views())
        if (view.spec().quantity == Quantity::RelativeHumidity) bed.workbench.selectGauge(view.id());
    ASSERT_EQ(specOf(bed).quantity, Quantity::RelativeHumidity);
    bed.workbench.selectStage(Stage::Correction);
    auto* reference = bed.find<ValueEdit>("correction.newReference");
    typeInto(reference, QStringLiteral("75.3 %"));
    EXPECT_FALSE(reference->isInvalid()) << reference->reason().toStdString();
    bed.find<QLineEdit>("correction.newReading")->setText(QStringLiteral("73"));
    bed.find<QPushButton>("correction.take")->click();
    ASSERT_EQ(specOf(bed).correction.points.size(), 1u);
    EXPECT_NEAR(specOf(bed).correction.points[0].reference, 75.3, 1e-9);
    emit bed.find<QTableWidget>("correction.fits")->cellClicked(1, 0);
    EXPECT_EQ(specOf(bed).correction.kind, "offset");
    EXPECT_NEAR(specOf(bed).correction.offset, 2.3, 1e-9);
}

TEST_F(Sheets, ReadingNamesTheCodesOfAThreshold) {
    bed.workbench.selectStage(Stage::Reading);
    bed.find<QTabBar>("reading.pages")->setCurrentIndex(1);
    typeInto(bed.find<ValueEdit>("reading.threshold"), QStringLiteral("113 °F"));
    const QString codes = bed.find<QLabel>("reading.codes")->text();
    // 45 °C by hand: R = 10k·exp(3950(1/318.15 − 1/298.15)), code = 4096·R/(R + 2200).
    const double ohm = 10000 * std::exp(3950 * (1 / 318.15 - 1 / 298.15));
    const double exact =
        4096 * ohm / (ohm + 2200);  // the cell that holds it is round(exact), the one below it is wholly beyond
    const int holds = static_cast<int>(std::floor(exact + 0.5));
    EXPECT_TRUE(codes.contains(QStringLiteral("<b>code &lt;= %1</b>").arg(holds))) << codes.toStdString();
    EXPECT_TRUE(codes.contains(QStringLiteral("<b>code &lt;= %1</b>").arg(holds - 1)));
    EXPECT_TRUE(codes.contains(QStringLiteral("code &lt; %1").arg(holds)));
    EXPECT_TRUE(codes.contains(QStringLiteral("falls as the code rises")));
    bed.find<QTabBar>("reading.pages")->setCurrentIndex(0);
    typeInto(bed.find<ValueEdit>("reading.wanted"), QStringLiteral("0.1"));
    const auto& findings = bed.workbench.current()->findings();
    EXPECT_TRUE(
        std::any_of(findings.begin(), findings.end(), [](const Finding& f) { return f.id == "accuracy-wanted"; }));
}

TEST_F(Sheets, ReadingTabulatesTheSpan) {
    bed.workbench.selectStage(Stage::Reading);
    bed.find<QTabBar>("reading.pages")->setCurrentIndex(2);
    typeInto(bed.find<ValueEdit>("table.step"), QStringLiteral("10 °C"));
    auto* table = bed.find<QTableView>("table.rows");
    ASSERT_EQ(table->model()->rowCount(), 8);  // 20, 30 … 90 °C
    // 60 °C by hand: R = 10k·exp(3950(1/333.15 − 1/298.15)) = 2.4862 kΩ, code 4096·R/(R + 2.2 kΩ) = 2173.05.
    EXPECT_EQ(table->model()->index(4, 2).data().toString(), QStringLiteral("2173"));
    EXPECT_EQ(table->model()->index(4, 3).data().toString(), QStringLiteral("0x87D"));
    EXPECT_EQ(table->model()->index(4, 4).data().toString(), QStringLiteral("100001111101"));
    bed.find<QPushButton>("table.copy")->click();
    EXPECT_TRUE(QApplication::clipboard()->text().startsWith(QStringLiteral("value_degC,input_V,code,hex,binary")));
    auto* step = bed.find<ValueEdit>("table.step");
    typeInto(step, QStringLiteral("0"));
    EXPECT_TRUE(step->isInvalid());
}

TEST_F(Sheets, TrustDrawsAndKeepsWhatItFound) {
    bed.workbench.selectStage(Stage::Reading);
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("60 °C")));
    choose(bed.find<QComboBox>("trust.draws"), QStringLiteral("20000"));
    bed.find<QPushButton>("trust.draw")->click();
    ASSERT_TRUE(test::waitUntil([&] { return bed.workbench.current()->run() != nullptr; }));
    EXPECT_EQ(bed.workbench.current()->run()->draws, 20000u);
    EXPECT_TRUE(bed.find<QLabel>("trust.result")->text().contains(QStringLiteral("both agree")));
    // A long one can be stopped, and then nothing comes of it.
    choose(bed.find<QComboBox>("trust.draws"), QStringLiteral("2000000"));
    bed.find<QPushButton>("trust.draw")->click();
    EXPECT_TRUE(bed.find<QProgressBar>("trust.bar")->isVisible());
    bed.find<QPushButton>("trust.draw")->click();
    EXPECT_FALSE(bed.find<QProgressBar>("trust.bar")->isVisible());
    EXPECT_EQ(bed.workbench.current()->run()->draws, 20000u);
    // What it offers it does; another gauge description drops the run.
    bed.find<QPushButton>("trust.apply")->click();
    EXPECT_DOUBLE_EQ(specOf(bed).wiring.parameters.number("fixed_tolerance").value(), 0.001);
    EXPECT_EQ(bed.workbench.current()->run(), nullptr);
}

TEST_F(Sheets, AThermometerLendsItsReadingToAThermocouple) {
    bed.workbench.addGauge(defaultGauge(*bed.workbench.catalogue().findPart("thermocouple-k")));
    const std::int64_t couple = bed.workbench.current()->id();
    bed.workbench.selectStage(Stage::Sensor);
    choose(bed.find<QComboBox>("input.sensor.cold_junction_degC"), qint64{bed.workbench.views()[1].id()});
    EXPECT_EQ(specOf(bed).inputs.at("sensor.cold_junction_degC").name, "Workshop air");
    // The lender tries 31 °C: the couple's cold junction follows, and takes over its uncertainty.
    bed.workbench.selectGauge(bed.workbench.views()[1].id());
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("31 °C")));
    const double lent = bed.workbench.current()->evaluation()->reading(),
                 standard = bed.workbench.current()->budget()->standard;
    bed.workbench.selectGauge(couple);
    bed.workbench.selectStage(Stage::World);
    const Parameters& now = bed.workbench.current()->effective().sensor.parameters;
    EXPECT_DOUBLE_EQ(now.number("cold_junction_degC").value(), lent);
    EXPECT_DOUBLE_EQ(now.number("cold_junction_tolerance_K").value(), std::sqrt(3.0) * standard);
    // Its removal is a fault that says who is missed.
    bed.workbench.selectGauge(bed.workbench.views()[1].id());
    bed.workbench.removeCurrent();
    bed.workbench.selectGauge(couple);
    ASSERT_TRUE(bed.workbench.current()->problem());
    EXPECT_TRUE(
        QString::fromStdString(bed.workbench.current()->problem()->message()).contains(QStringLiteral("Workshop air")));
}

}  // namespace
}  // namespace fg::gui
