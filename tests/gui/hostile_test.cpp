// What comes from outside into the window: markup in every name, files taken away, gauges that cannot be read.

#include "gui/gui_support.h"

#include "bench_page/bench_page.h"
#include "widgets/value_edit.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <QAbstractItemView>
#include <QFile>
#include <QHelpEvent>
#include <QLabel>
#include <QMessageBox>
#include <QTabBar>
#include <QTableWidget>
#include <QToolTip>

namespace fg::gui {
namespace {

using test::Bed;

constexpr const char* kMarkup = "<img src=/dev/zero><b>x</b>";

class ToldSource final : public ByteSource {
  public:
    void start() override {}
    [[nodiscard]] QString name() const override { return QString::fromLatin1(kMarkup); }
    void tell(const std::string& text) {
        emit bytes(QByteArray::fromStdString(text));
        if (feed) feed->flush();
    }
    LiveFeed* feed = nullptr;
};

/// No label takes the markup for markup: it is plain, or what stands in it is escaped.
void expectPlain(const QWidget& window, const std::string& where) {
    int seen = 0;
    for (const QLabel* label : window.findChildren<QLabel*>()) {
        if (!label->isVisible()) continue;
        const std::string text = label->text().toStdString();
        const bool isSafe = label->textFormat() == Qt::PlainText ||
                            (label->textFormat() == Qt::RichText && text.find("<img") == std::string::npos);
        EXPECT_TRUE(isSafe) << where << ": " << label->objectName().toStdString() << ": " << text;
        seen += text.find("img src") != std::string::npos ? 1 : 0;
    }
    EXPECT_GT(seen, 0) << where << ": the name stands nowhere, the test looks at nothing";
}

TEST(Markup, IsNeverTakenForMarkup) {
    Bed bed;
    const QString folder = QDir::tempPath() + QStringLiteral("/fair-gauge-markup-%1").arg(::getpid());
    ASSERT_TRUE(QDir().mkpath(folder));
    Bench bench = test::wiredDemo();
    for (BenchGauge& gauge : bench.gauges) {
        gauge.spec.name = kMarkup + std::to_string(gauge.id);
        gauge.spec.note = kMarkup;
    }
    bench.board.rails = {{kMarkup, 5, 0.001, 0}, {"3.3 V", 3.3, 0, 0}};
    bench.board.others = {{kMarkup, 0x76, "bus 1"}};
    // A name that the system takes for a file, with all that markup needs.
    const QString file = folder + QStringLiteral("/<img src=x><b>y<b>.fairgauge");
    ASSERT_TRUE(bed.workbench.bench().createFile(file, bench));
    auto owned = std::make_unique<ToldSource>();
    ToldSource* source = owned.get();
    source->feed = &bed.workbench.feed();
    bed.workbench.feed().setSource(std::move(owned));
    source->tell(std::string(kMarkup) + "\n" + kMarkup + "=1\npot=2155 " + kMarkup + "=7\n");
    emit bed.workbench.feed().statusChanged();
    for (const GaugeView& view : bed.workbench.views()) {
        bed.workbench.selectGauge(view.id());
        for (const Stage stage : kStages) {
            bed.workbench.selectStage(stage);
            QCoreApplication::processEvents();
            expectPlain(bed.window, view.spec().sensor.part + " " + std::string(stageName(stage)));
        }
    }
    bed.window.showBench();
    QCoreApplication::processEvents();
    auto* tabs = bed.find<QTabBar>("bench.tabs");
    for (int tab = 0; tab < tabs->count(); ++tab) {
        tabs->setCurrentIndex(tab);
        QCoreApplication::processEvents();
        expectPlain(bed.window, "bench, tab " + std::to_string(tab));
    }
    bed.window.showMessage(QString::fromLatin1(kMarkup));
    expectPlain(bed.window, "message");
    // Tips too: of a widget, and of a cell of a table.
    QLabel tipped;
    tipped.setToolTip(QString::fromLatin1(kMarkup));
    tipped.show();
    QHelpEvent help(QEvent::ToolTip, QPoint(1, 1), tipped.mapToGlobal(QPoint(1, 1)));
    QApplication::sendEvent(&tipped, &help);
    EXPECT_TRUE(QToolTip::text().contains(QStringLiteral("&lt;img"))) << QToolTip::text().toStdString();
    bed.workbench.feed().setSource(nullptr);
    QDir(folder).removeRecursively();
}

TEST(TakenAwayFile, LeavesTheWorkAndOffersAName) {
    Bed bed;
    bed.openDemo();
    const QString before = bed.benchPath();
    ASSERT_TRUE(QFile::remove(before));
    bed.workbench.edit(QStringLiteral("R1"), [](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", 3300.0); });
    // The very change that noticed it is kept in the window, and said to be in no file.
    EXPECT_EQ(bed.workbench.views().front().spec().wiring.parameters.number("fixed_ohm"), 3300);
    EXPECT_FALSE(bed.workbench.bench().hasFile());
    EXPECT_TRUE(bed.find<QWidget>("message")->accessibleName().contains(QStringLiteral("deleted or moved")));
    EXPECT_FALSE(QFile::exists(before));
    // Closing asks; Cancel stays.
    const auto answer = [](QMessageBox::StandardButton which) {
        QTimer::singleShot(50, [which] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            ASSERT_TRUE(box);
            box->button(which)->click();
        });
    };
    answer(QMessageBox::Cancel);
    EXPECT_FALSE(bed.window.close());
    ASSERT_TRUE(bed.workbench.bench().keepAs(before + QStringLiteral("2")));
    EXPECT_TRUE(bed.workbench.bench().canUndo());
    bed.workbench.bench().undo();
    const auto stored = BenchFile::look((before + QStringLiteral("2")).toStdString());
    EXPECT_EQ(stored.error().code, ErrorCode::Busy);
    ASSERT_TRUE(bed.workbench.bench().createFile(before + QStringLiteral("3")));
    EXPECT_EQ(BenchFile::look((before + QStringLiteral("2")).toStdString())->bench, test::wiredDemo());
    EXPECT_TRUE(bed.window.close());
}

TEST(DamagedBench, NamesTheCopyOfHowItLastWas) {
    Bed bed;
    bed.openDemo();
    const QString path = bed.benchPath();
    ASSERT_TRUE(bed.workbench.bench().createFile(path + QStringLiteral("2")));
    ASSERT_TRUE(bed.workbench.bench().openFile(path));  // in order: a copy is kept
    ASSERT_TRUE(bed.workbench.bench().createFile(path + QStringLiteral("3")));
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadWrite));
    file.seek(4096);
    file.write(QByteArray(4096, '\xA5'));
    file.close();
    const auto opened = bed.workbench.bench().openFile(path);
    ASSERT_FALSE(opened);
    const std::string message = opened.error().message();
    const std::size_t at = message.find("/fair-gauge/kept/");
    ASSERT_NE(at, std::string::npos) << message;
    const std::string copy = message.substr(message.rfind(' ') + 1);
    EXPECT_EQ(BenchFile::look(copy)->bench, test::wiredDemo());
}

TEST(UnreadableGauge, IsSaidAndTheOthersOpen) {
    Bed bed;
    bed.openDemo();
    const QString path = bed.benchPath();
    ASSERT_TRUE(bed.workbench.bench().createFile(path + QStringLiteral("2")));
    {
        SQLite::Database database(path.toStdString(), SQLite::OPEN_READWRITE);
        database.exec("UPDATE gauge SET json = '{' WHERE id = 3");
    }
    ASSERT_TRUE(bed.workbench.bench().openFile(path));
    EXPECT_EQ(bed.workbench.views().size(), 11u);
    EXPECT_TRUE(bed.find<QWidget>("message")->accessibleName().contains(QStringLiteral("gauge 3")));
}

}  // namespace
}  // namespace fg::gui
