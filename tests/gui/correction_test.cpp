// The pages of the Correction sheet that guide a comparison, keep calibrations and hold gauges side by side; the
// journal.

#include "gui/gui_support.h"

#include "widgets/value_edit.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTabBar>
#include <QTableWidget>

namespace fg::gui {
namespace {

using test::Bed;
using test::typeInto;

class Calibrating : public testing::Test {
  protected:
    void SetUp() override {
        bed.openDemo();
        bed.workbench.selectStage(Stage::Correction);
    }
    void page(int index) { bed.find<QTabBar>("correction.pages")->setCurrentIndex(index); }
    const GaugeSpec& spec() { return bed.workbench.current()->spec(); }
    const Journal& journal() { return bed.workbench.bench().bench().journal; }
    void take(const char* reference, const char* reading) {
        typeInto(bed.find<ValueEdit>("correction.newReference"), QString::fromUtf8(reference));
        bed.find<QLineEdit>("correction.newReading")->setText(QString::fromUtf8(reading));
        bed.find<QPushButton>("correction.take")->click();
    }
    void fit(int row) { emit bed.find<QTableWidget>("correction.fits")->cellClicked(row, 0); }
    bool finds(const std::string& id) {
        const auto& findings = bed.workbench.current()->findings();
        return std::any_of(findings.begin(), findings.end(), [&](const Finding& one) { return one.id == id; });
    }
    QString label(const char* name) { return bed.find<QLabel>(name)->text(); }
    Bed bed;
};

// A maker holds the probe into steam: the page gives the reference, the point keeps what it was.
TEST_F(Calibrating, ASessionGivesTheReferenceOfAPoint) {
    page(1);
    auto* kind = bed.find<QComboBox>("session.kind");
    kind->setCurrentIndex(kind->findData(QStringLiteral("steam")));
    emit kind->activated(kind->currentIndex());
    auto* use = bed.find<QPushButton>("session.use");
    EXPECT_FALSE(use->isEnabled());
    EXPECT_TRUE(label("session.cautions").contains(QStringLiteral("scalds")));
    auto* pressure = bed.find<QLineEdit>("session.input.pressure");
    pressure->setText(QStringLiteral("98 bottles"));
    EXPECT_FALSE(use->isEnabled());
    pressure->setText(QStringLiteral("998 hPa ± 1 hPa"));
    EXPECT_TRUE(label("session.result").contains(QStringLiteral("99.55 °C"))) << label("session.result").toStdString();
    use->click();
    EXPECT_EQ(bed.find<QTabBar>("correction.pages")->currentIndex(), 0);
    bed.find<QLineEdit>("correction.newReading")->setText(QStringLiteral("98.9"));
    bed.find<QPushButton>("correction.take")->click();
    ASSERT_EQ(spec().correction.points.size(), 1u);
    EXPECT_NEAR(spec().correction.points[0].reference, 99.55, 0.01);
    EXPECT_NEAR(spec().correction.points[0].u, 0.0139, 0.0002);  // 0.277 K/kPa, 1 hPa at k = 2
    EXPECT_EQ(spec().correction.points[0].note, "Steam over boiling water");
    // A reference shown in whole degrees, and one that nobody has checked.
    auto* as = bed.find<QComboBox>("correction.statedAs");
    as->setCurrentIndex(2);
    typeInto(bed.find<ValueEdit>("correction.newU"), QStringLiteral("1"));
    take("21", "20.4");
    EXPECT_NEAR(spec().correction.points[1].u, 0.2887, 1e-4);
    as->setCurrentIndex(3);
    take("40", "39.4");
    EXPECT_EQ(spec().correction.points[2].u, 0);
    EXPECT_EQ(spec().correction.points[2].stated, "nobody has checked it");
}

TEST_F(Calibrating, IsKeptBegunAnewAndPutBack) {
    take("30.5", "30");
    take("80.5", "80");
    fit(1);
    EXPECT_NEAR(spec().correction.offset, 0.5, 1e-9);
    EXPECT_TRUE(finds("not-kept"));
    page(2);
    bed.find<QPushButton>("history.keep")->click();
    EXPECT_FALSE(finds("not-kept"));
    ASSERT_EQ(journal().calibrationsOf(1).size(), 1u);
    EXPECT_FALSE(bed.find<QPushButton>("history.keep")->isEnabled());
    // A year later: the correction in force stays while the new points are taken.
    bed.find<QPushButton>("history.new")->click();
    take("30.9", "30");
    take("81.1", "80");
    EXPECT_EQ(spec().correction.check.size(), 2u);
    EXPECT_NEAR(spec().correction.offset, 0.5, 1e-9);
    EXPECT_EQ(bed.find<QTableWidget>("correction.points")->item(1, 6)->text(), QStringLiteral("−0.60"));
    fit(2);
    EXPECT_EQ(spec().correction.kind, "line");
    EXPECT_TRUE(spec().correction.check.empty());
    ASSERT_EQ(journal().calibrationsOf(1).size(), 2u);
    page(2);
    auto* table = bed.find<QTableWidget>("history.table");
    ASSERT_EQ(table->rowCount(), 2);
    EXPECT_EQ(table->item(1, 3)->text(), QStringLiteral("−0.50"));  // found: mean of −0.4 and −0.6
    table->setCurrentCell(0, 0);
    bed.find<QPushButton>("history.backLeft")->click();
    EXPECT_EQ(spec().correction.kind, "offset");
    bed.workbench.bench().undo();
    EXPECT_EQ(spec().correction.kind, "line");
    // Undone as a whole: the fit and its entry.
    bed.workbench.bench().undo();
    EXPECT_EQ(journal().calibrationsOf(1).size(), 1u);
    EXPECT_EQ(spec().correction.check.size(), 2u);
    typeInto(bed.find<ValueEdit>("history.repeat"), QStringLiteral("365"));
    EXPECT_EQ(spec().correction.repeat_days, 365);
}

TEST_F(Calibrating, GaugesSideBySideAndTheVerdictInTheJournal) {
    page(3);
    ASSERT_TRUE(bed.workbench.tryText(Stage::World, QStringLiteral("60")));
    EXPECT_TRUE(label("sides.verdict").contains(QStringLiteral("takes two")));
    auto* other = bed.find<QLineEdit>("sides.other");
    other->setText(QStringLiteral("66 ± 0.1"));
    EXPECT_TRUE(label("sides.verdict").contains(QStringLiteral("cannot be told")))
        << label("sides.verdict").toStdString();
    bed.find<QPushButton>("sides.keep")->click();
    EXPECT_TRUE(QString::fromStdString(journal().search("side by side").at(0)->text).contains(QStringLiteral("66")));
    other->setText(QStringLiteral("60 ± −1"));
    EXPECT_FALSE(bed.find<QPushButton>("sides.keep")->isEnabled());
}

TEST_F(Calibrating, TheJournalTakesNotesAndNotesChanges) {
    (void)bed.workbench.edit(QStringLiteral("R1"),
                             [](GaugeSpec& one) { one.wiring.parameters.set("fixed_ohm", 3300.0); });
    bed.window.showJournal();
    auto* table = bed.find<QTableWidget>("journal.table");
    ASSERT_EQ(table->rowCount(), 1);
    EXPECT_EQ(table->item(0, 3)->text(), QStringLiteral("wiring.fixed_ohm 2200 → 3300"));
    auto* text = bed.find<QLineEdit>("journal.text");
    typeInto(text, QStringLiteral("<b>new</b> lid"));
    EXPECT_EQ(table->rowCount(), 2);
    bed.find<QLineEdit>("journal.search")->setText(QStringLiteral("LID"));
    ASSERT_EQ(table->rowCount(), 1);
    EXPECT_EQ(table->item(0, 3)->text(), QStringLiteral("<b>new</b> lid"));
    table->setCurrentCell(0, 0);
    bed.find<QPushButton>("journal.remove")->click();
    EXPECT_EQ(journal().entries().size(), 1u);
    bed.workbench.bench().undo();
    EXPECT_EQ(journal().entries().size(), 2u);
}

// The workshop as it is shipped: the pot was found and left twice, the iron is due, the store's humidity is disputed.
TEST_F(Calibrating, TheDemoTellsOfItsYears) {
    ASSERT_TRUE(
        bed.workbench.bench().createFile(bed.benchPath() + QStringLiteral("2"), BenchActions::demoBench().value()));
    const auto pot = journal().calibrationsOf(1);
    ASSERT_EQ(pot.size(), 2u);
    EXPECT_EQ(pot[1]->calibration->found.correction, pot[0]->calibration->left.correction);
    EXPECT_EQ(spec().correction, pot[1]->calibration->left.correction);
    EXPECT_FALSE(finds("not-kept"));
    bed.workbench.selectGauge(4);
    EXPECT_EQ(spec().name, "Bending iron");
    EXPECT_TRUE(finds("calibration-due"));
    EXPECT_EQ(journal().search("wood store disagree").size(), 1u);
}

TEST_F(Calibrating, TheSensorsConstantsFromThePoints) {
    take("30.4", "30");
    take("57", "55");
    take("83", "80");
    bed.find<QPushButton>("correction.constants")->click();
    EXPECT_EQ(spec().correction.kind, "parameters");
    EXPECT_NE(spec().sensor.parameters.numberOr("beta_K", 0), 3950);
    bed.workbench.bench().undo();
    bed.find<QPushButton>("correction.reference")->click();  // a divider of its own reference does not see it
    EXPECT_EQ(spec().correction.points.size(), 3u);
    bed.find<QPushButton>("correction.codesFit")->click();
    EXPECT_TRUE(spec().converter.parameters.has("nonlinearity_code_LSB"));
}

TEST_F(Calibrating, TheFingerTestAsksAndJudges) {
    bed.window.useSimulation();
    page(1);
    auto* button = bed.find<QPushButton>("session.finger");
    const auto isLive = [&] { return bed.workbench.current()->origin() == Origin::Live; };
    ASSERT_TRUE(test::waitUntil(isLive));
    button->click();
    ASSERT_TRUE(test::waitUntil([&] { return label("session.result").contains(QStringLiteral("Leave it alone")); }));
    button->click();
    ASSERT_TRUE(test::waitUntil([&] { return label("session.result").contains(QStringLiteral("Too few readings")); }));
    button->click();
    button->click();
    EXPECT_TRUE(button->text().contains(QStringLiteral("again")));
}

}  // namespace
}  // namespace fg::gui
