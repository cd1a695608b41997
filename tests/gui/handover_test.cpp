// The hand-over as a maker uses it: choose an arithmetic, read the code, hold a line against the gauge, write the
// files.

#include "gui_support.h"

#include "handover_page/error_plot.h"
#include "handover_page/handover_page.h"
#include "handover_page/sender_dialog.h"
#include "path/derived_path.h"

#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTabBar>
#include <QTableWidget>

namespace fg::gui::test {
namespace {

HandoverPage& pageOf(Bed& bed) {
    QTest::keyClick(&bed.window, Qt::Key_H);
    auto* page = bed.window.findChild<HandoverPage*>(QStringLiteral("handover"));
    EXPECT_TRUE(page);
    return *page;
}

/// Until the last question is answered.
void settle(HandoverPage& page) {
    constexpr int kPatience_ms = 60000;
    ASSERT_TRUE(QTest::qWaitFor([&] { return !page.isBusy(); }, kPatience_ms));
    QTest::qWait(20);
}

int rowOf(const QTableWidget& table, const char* name) {
    for (int row = 0; row < table.rowCount(); ++row)
        if (table.item(row, 0)->text() == QLatin1String(name)) return row;
    return -1;
}

TEST(HandOverPage, ShowsEveryArithmeticAndWritesTheChosenOne) {
    Bed bed;
    bed.openDemo();
    HandoverPage& page = pageOf(bed);
    settle(page);
    EXPECT_TRUE(page.isVisible());
    auto* table = bed.find<QTableWidget>("handover.table");
    auto* code = bed.find<QPlainTextEdit>("handover.code");
    ASSERT_EQ(table->rowCount(), 6);
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("logf(R / R25)"))) << qPrintable(code->toPlainText());

    // A twentieth of a degree: the table of the design, 20 entries.
    typeInto(bed.find<QLineEdit>("handover.wanted"), QStringLiteral("0.05"));
    settle(page);
    const int row = rowOf(*table, "table");
    ASSERT_GE(row, 0);
    EXPECT_EQ(table->item(row, 1)->text(), QStringLiteral("20 entries, linear"));
    EXPECT_EQ(table->item(row, 7)->text(), QStringLiteral("yes"));
    EXPECT_TRUE(table->item(rowOf(*table, "int16"), 7)->text().startsWith(QStringLiteral("no")));
    table->selectRow(row);
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("points[20]")));
    bed.find<QPushButton>("handover.copy")->click();
    EXPECT_EQ(QGuiApplication::clipboard()->text(), code->toPlainText());

    QTemporaryDir folder;
    page.writeInto(folder.path());
    for (const char* name : {"glue_pot.c", "glue_pot.h", "README.md"})
        EXPECT_TRUE(QFile::exists(folder.filePath(QLatin1String(name)))) << name;
    page.writeInto(QStringLiteral("/proc/nowhere"));
    EXPECT_FALSE(bed.find<QLabel>("handover.note")->text().startsWith(QStringLiteral("Written")));

    bed.find<QPushButton>("handover.python")->click();
    settle(page);
    EXPECT_EQ(bed.find<QTabBar>("handover.files")->tabText(0), QStringLiteral("glue_pot.py"));
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("def glue_pot_read(raw):")));

    // In °F the same code gives °F.
    auto* unit = bed.find<QComboBox>("handover.unit");
    unit->setCurrentIndex(unit->findData(QStringLiteral("degF")));
    emit unit->activated(unit->currentIndex());
    settle(page);
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("The result is in degF")));

    // Another description of the gauge is another code, at once.
    bed.workbench.edit(QStringLiteral("R1"), [](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", 3300.0); });
    settle(page);
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("3.3 kΩ"))) << qPrintable(code->toPlainText());
    bed.find<QPushButton>("handover.back")->click();
    EXPECT_FALSE(page.isVisible());
}

TEST(HandOverPage, HoldsALineAgainstTheGauge) {
    Bed bed;
    bed.openDemo();
    HandoverPage& page = pageOf(bed);
    settle(page);
    auto* line = bed.find<QLineEdit>("handover.line");
    auto* result = bed.find<QLabel>("handover.lineResult");
    auto* take = bed.find<QPushButton>("handover.lineTake");
    line->setText(QStringLiteral("124-adc*295/10000"));
    ASSERT_TRUE(waitUntil([&] { return result->text().contains(QStringLiteral("overflows 16 bits from code 112")); }))
        << qPrintable(result->text());
    ASSERT_TRUE(take->isVisible());
    take->click();
    EXPECT_EQ(line->text(), QStringLiteral("12571-adc*3"));
    ASSERT_TRUE(waitUntil([&] { return result->text().contains(QStringLiteral("Worst 1.17 °C")); }))
        << qPrintable(result->text());
    // What cannot be read stays, with the reason.
    line->setText(QStringLiteral("124-adc*<b>"));
    EXPECT_TRUE(result->text().contains(QStringLiteral("character"))) << qPrintable(result->text());
    EXPECT_EQ(line->text(), QStringLiteral("124-adc*<b>"));
}

/// A mean of the last hour, taken from the stove's gauge: what has no code says why across its row, what has no curve
/// says how it was run and what its window needs.
TEST(HandOverPage, HandsOverAValueOfTheLastWhile) {
    Bed bed;
    bed.openDemo();
    GaugeSpec spec = *defaultDerivedGauge("running-mean");
    spec.name = "Calm <b>air</b>";
    spec.inputs["sensor.reading"] = {0, bed.workbench.views()[1].spec().name};
    bed.workbench.addGauge(spec);
    bed.workbench.selectGauge(bed.workbench.views().back().id());
    HandoverPage& page = pageOf(bed);
    settle(page);
    auto* table = bed.find<QTableWidget>("handover.table");
    auto* code = bed.find<QPlainTextEdit>("handover.code");
    const int none = rowOf(*table, "int16");
    ASSERT_GE(none, 0) << qPrintable(bed.find<QLabel>("handover.note")->text());
    EXPECT_EQ(table->columnSpan(none, 1), table->columnCount() - 1);
    EXPECT_TRUE(table->item(none, 1)->text().contains(QStringLiteral("16 bits")))
        << qPrintable(table->item(none, 1)->text());
    EXPECT_EQ(table->columnSpan(rowOf(*table, "float"), 1), 1);
    auto* note = bed.find<QLabel>("handover.plotNote");
    for (const char* arithmetic : {"float", "int32"}) {
        table->selectRow(rowOf(*table, arithmetic));
        EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("uint32_t now_ms"))) << qPrintable(code->toPlainText());
        EXPECT_TRUE(note->text().contains(QStringLiteral("bytes of variables"))) << qPrintable(note->text());
        EXPECT_FALSE(page.findChild<ErrorPlot*>()->isVisible());
    }
    // Another gauge has a curve again.
    bed.workbench.selectGauge(bed.workbench.views().front().id());
    settle(page);
    EXPECT_TRUE(page.findChild<ErrorPlot*>()->isVisible());
}

TEST(HandOverPage, HandsOverDigitalPartsAndSaysWhyNot) {
    Bed bed;
    bed.openDemo();
    HandoverPage& page = pageOf(bed);
    settle(page);
    for (const GaugeView& view : bed.workbench.views())
        if (view.spec().name == "Barometer") {
            bed.workbench.selectGauge(view.id());
            break;
        }
    auto* table = bed.find<QTableWidget>("handover.table");
    auto* code = bed.find<QPlainTextEdit>("handover.code");
    // What is chosen is there before the others are: their proofs take seconds.
    ASSERT_TRUE(QTest::qWaitFor([&] { return code->toPlainText().contains(QStringLiteral("barometer_read")); }, 60000));
    EXPECT_TRUE(page.isBusy());
    ASSERT_EQ(table->rowCount(), 6);
    EXPECT_EQ(table->item(rowOf(*table, "int64"), 1)->text(), QStringLiteral("being run…"));
    table->selectRow(rowOf(*table, "int64"));
    EXPECT_TRUE(code->toPlainText().isEmpty());
    EXPECT_FALSE(bed.find<QPushButton>("handover.write")->isEnabled());
    settle(page);
    EXPECT_NE(table->item(rowOf(*table, "int64"), 1)->text(), QStringLiteral("being run…"));
    EXPECT_TRUE(code->toPlainText().contains(QStringLiteral("int64_t *value"))) << qPrintable(code->toPlainText());
    table->selectRow(rowOf(*table, "double"));
    EXPECT_TRUE(
        code->toPlainText().contains(QStringLiteral("barometer_read(const uint8_t *calibration, const uint8_t *data")))
        << qPrintable(code->toPlainText());
    EXPECT_FALSE(bed.find<QLineEdit>("handover.line")->isVisible());
    // Integers that its calibration does not fit.
    table->selectRow(rowOf(*table, "int16"));
    EXPECT_FALSE(bed.find<QPushButton>("handover.write")->isEnabled());
    EXPECT_TRUE(code->toPlainText().isEmpty());
    EXPECT_TRUE(table->item(rowOf(*table, "int16"), 1)->text().contains(QStringLiteral("does not fit")));
}

TEST(Papers, TheBenchGoesIntoAFolderAsPdfToo) {
    Bed bed;
    bed.openDemo();
    QTemporaryDir folder;
    const auto done = bed.window.benchActions().writePapersInto(folder.path());
    ASSERT_TRUE(done) << done.error().message();
    QFile pdf(folder.filePath(QStringLiteral("Glue_pot.pdf")));
    ASSERT_TRUE(pdf.open(QIODevice::ReadOnly));
    EXPECT_TRUE(pdf.read(5) == "%PDF-");
    EXPECT_GT(pdf.size(), 5000);
    EXPECT_TRUE(QFile::exists(folder.filePath(QStringLiteral("bench.html"))));
}

/// The program for the board: shown, in both languages, saved; a gauge that listens to nothing is bound to it.
TEST(SenderDialog, ShowsSavesAndBinds) {
    Bed bed;
    bed.openDemo();
    bed.workbench.selectGauge(1);
    bed.workbench.edit(QStringLiteral("No channel"), [](GaugeSpec& spec) { spec.channel.clear(); });
    SenderDialog dialog(bed.workbench, "workshop", &bed.window);
    dialog.show();
    auto* text = dialog.findChild<QPlainTextEdit*>(QStringLiteral("sender.text"));
    auto* bind = dialog.findChild<QPushButton*>(QStringLiteral("sender.bind"));
    EXPECT_TRUE(text->toPlainText().contains(QStringLiteral("put_raw(\" glue_pot=\"")));
    EXPECT_TRUE(text->toPlainText().contains(QStringLiteral("baro_set_up")));
    ASSERT_TRUE(bind->isVisible());
    QTest::mouseClick(bind, Qt::LeftButton);
    EXPECT_EQ(bed.workbench.bench().bench().find(1)->spec.channel, "glue_pot");
    EXPECT_FALSE(bind->isVisible());
    auto* language = dialog.findChild<QComboBox*>(QStringLiteral("sender.language"));
    language->setCurrentIndex(1);
    emit language->activated(1);
    EXPECT_TRUE(text->toPlainText().contains(QStringLiteral("def port_i2c(site, out, count):")));
    const QTemporaryDir folder;
    dialog.saveInto(folder.path());
    EXPECT_TRUE(QFile::exists(folder.filePath(QStringLiteral("workshop_sender.py"))));
    // Where nothing can be written it says so.
    dialog.saveInto(QStringLiteral("/proc/none"));
    EXPECT_FALSE(dialog.findChild<QLabel*>(QStringLiteral("sender.notes"))->text().isEmpty());
}

}  // namespace
}  // namespace fg::gui::test
