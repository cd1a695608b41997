// Hands that try everything: every choice and every field of every sheet, with what people type by mistake. The window answers each with
// a value or a reason, and everything can be taken back.

#include "gui/gui_support.h"

#include "sheets/sheet.h"

#include <algorithm>
#include <cmath>
#include <QComboBox>
#include <QLineEdit>
#include <QPointer>

namespace fg::gui {
namespace {

using test::Bed;

class Monkey : public testing::TestWithParam<Stage> {
  protected:
    void SetUp() override { bed.openDemo(); }

    /// The widgets of a kind on the sheet that is seen, named once: the sheet may build others while they are used.
    template <class Widget>
    [[nodiscard]] std::vector<QPointer<Widget>> seen() {
        std::vector<QPointer<Widget>> list;
        for (const auto* sheet : bed.window.findChildren<Sheet*>())
            if (sheet->isVisible())
                for (auto* widget : sheet->findChildren<Widget*>())
                    if (widget->isVisible() && widget->isEnabled()) list.emplace_back(widget);
        return list;
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
        for (const auto& choice : seen<QComboBox>())
            for (int item = 0; choice && item < std::min(choice->count(), 12); ++item) {
                SCOPED_TRACE(before.name + ", " + choice->objectName().toStdString() + " " + choice->itemText(item).toStdString());
                choice->setCurrentIndex(item);
                emit choice->activated(item);
                settle();
            }
        for (const auto& edit : seen<QLineEdit>())
            for (const char* text : {"", "-1", "1e999", "nonsense"}) {
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

INSTANTIATE_TEST_SUITE_P(Stages, Monkey, testing::ValuesIn(kStages), [](const auto& one) { return std::string(stageName(one.param)); });

}  // namespace
}  // namespace fg::gui
