// Hands that try everything: every choice and every field of every sheet, with what people type by mistake. The window
// answers each with a value or a reason, and everything can be taken back.

#include "gui/gui_support.h"

#include "bench_page/bench_page.h"
#include "choose_page/choose_page.h"
#include "sheets/sheet.h"
#include "window/bench_actions.h"

#include <algorithm>
#include <cmath>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QSpinBox>
#include <QTabBar>
#include <QTableWidget>

namespace fg::gui {
namespace {

using test::Bed;

/// The widgets of a kind that are seen on a page, named once: the page may build others while they are used.
template <class Widget>
std::vector<QPointer<Widget>> seenOn(const QWidget& page) {
    std::vector<QPointer<Widget>> list;
    for (auto* widget : page.findChildren<Widget*>())
        if (widget->isVisible() && widget->isEnabled()) list.emplace_back(widget);
    return list;
}

class Monkey : public testing::TestWithParam<Stage> {
  protected:
    void SetUp() override { bed.openDemo(); }

    [[nodiscard]] const QWidget& sheet() {
        for (const auto* one : bed.window.findChildren<Sheet*>())
            if (one->isVisible()) return *one;
        throw std::runtime_error("no sheet is seen");
    }
    void settle() {
        for (int i = 0; i < 2; ++i) QCoreApplication::processEvents();
        ASSERT_EQ(bed.workbench.views().size(), m_gauges);
        const GaugeView* view = bed.workbench.current();
        ASSERT_TRUE(view);
        // A gauge that does not work says why.
        if (!view->evaluation()) {
            EXPECT_FALSE(view->findings().empty()) << view->spec().name;
        } else {
            for (const Stage stage : kStages) {
                if (!view->has(stage)) continue;
                const StageValue& at = view->evaluation()->at(stage);
                EXPECT_TRUE(std::isfinite(at.value) || !at.problem.empty() || !at.text.empty()) << stageName(stage);
            }
        }
        ++m_tried;
    }
    Bed bed;
    std::size_t m_gauges = 0;
    int m_tried = 0;
};

TEST_P(Monkey, GetsAnAnswerToEverything) {
    m_gauges = bed.workbench.views().size();
    for (std::size_t i = 0; i < m_gauges; ++i) {
        bed.workbench.selectGauge(bed.workbench.views()[i].id());
        bed.workbench.selectStage(GetParam());
        settle();
        const GaugeSpec before = bed.workbench.current()->spec();
        for (const auto& choice : seenOn<QComboBox>(sheet()))
            for (int item = 0; choice && item < std::min(choice->count(), 5); ++item) {
                SCOPED_TRACE(before.name + ", " + choice->objectName().toStdString() + " " +
                             choice->itemText(item).toStdString());
                choice->setCurrentIndex(item);
                emit choice->activated(item);
                settle();
            }
        for (const auto& edit : seenOn<QLineEdit>(sheet()))
            for (const char* text : {"", "-1", "1e999"}) {
                if (!edit || !edit->isVisible()) break;
                SCOPED_TRACE(before.name + ", " + edit->objectName().toStdString() + " “" + text + "”");
                test::typeInto(edit, QString::fromUtf8(text));
                settle();
            }
        while (bed.workbench.bench().canUndo()) bed.workbench.bench().undo();
        EXPECT_EQ(bed.workbench.views()[i].spec(), before) << before.name;
    }
    EXPECT_GE(m_tried, static_cast<int>(m_gauges));
}

INSTANTIATE_TEST_SUITE_P(Stages, Monkey, testing::ValuesIn(kStages),
                         [](const auto& one) { return std::string(stageName(one.param)); });

/// Every choice, box, number and text of a page, one after the other; `settle` after each.
void tryAll(const QWidget& page, const std::function<void()>& settle) {
    for (const auto& choice : seenOn<QComboBox>(page))
        for (int item = 0; choice && item < choice->count(); ++item) {
            choice->setCurrentIndex(item);
            emit choice->activated(item);
            settle();
        }
    for (const auto& box : seenOn<QCheckBox>(page))
        for (int times = 0; box && times < 2; ++times) {
            box->click();
            settle();
        }
    for (const auto& number : seenOn<QSpinBox>(page))
        for (const int value : {number ? number->minimum() : 0, number ? number->maximum() : 0})
            if (number) {
                number->setValue(value);
                settle();
            }
    for (const auto& edit : seenOn<QLineEdit>(page))
        for (const char* text : {"", "-1", "1e999", "nonsense", "3"}) {
            if (!edit || !edit->isVisible()) break;
            SCOPED_TRACE(edit->objectName().toStdString() + " “" + text + "”");
            test::typeInto(edit, QString::fromUtf8(text));
            settle();
        }
}

TEST(MonkeyPages, ChoosingAlwaysAnswers) {
    Bed bed;
    bed.openDemo();
    bed.window.showChoose(false);
    const auto* count = bed.find<QLabel>("choose.count");
    ASSERT_TRUE(test::waitUntil([&] { return count->text().contains(QStringLiteral(" parts")); }));
    tryAll(*bed.window.findChild<ChoosePage*>(), [] { QCoreApplication::processEvents(); });
    ASSERT_TRUE(test::waitUntil([&] { return count->text().contains(QStringLiteral(" parts")); }))
        << count->text().toStdString();
    EXPECT_EQ(bed.workbench.views().size(), BenchActions::demoBench()->gauges.size());
    EXPECT_FALSE(bed.workbench.bench().canUndo());  // asking changes nothing on the bench
}

TEST(MonkeyPages, ThePlanAlwaysAnswersAndIsTakenBack) {
    Bed bed;
    bed.openDemo();
    const Board before = bed.workbench.bench().bench().board;
    bed.window.showBench();
    auto* tabs = bed.find<QTabBar>("bench.tabs");
    for (int tab = 0; tab < tabs->count(); ++tab) {
        SCOPED_TRACE(tabs->tabText(tab).toStdString());
        tabs->setCurrentIndex(tab);
        QCoreApplication::processEvents();
        tryAll(*bed.window.findChild<BenchPage*>(), [&] {
            QCoreApplication::processEvents();
            ASSERT_EQ(bed.workbench.views().size(), BenchActions::demoBench()->gauges.size());
        });
        for (const auto& table : seenOn<QTableWidget>(*bed.window.findChild<BenchPage*>()))
            EXPECT_GT(table->rowCount(), 0);
    }
    EXPECT_TRUE(bed.workbench.bench().canUndo());
    while (bed.workbench.bench().canUndo()) bed.workbench.bench().undo();
    EXPECT_EQ(bed.workbench.bench().bench().board, before);
}

}  // namespace
}  // namespace fg::gui
