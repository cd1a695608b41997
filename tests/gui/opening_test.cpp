// What makes a bench open quickly may change nothing that is seen: plots drawn once a painting, gauges judged on two
// threads, a bench read beside the first frame, a copy kept in the background.

#include "gui/gui_support.h"

#include "widgets/curve_plot.h"

#include <qcustomplot.h>
#include <QApplication>
#include <QSignalSpy>
#include <QStyle>

namespace fg::gui {
namespace {

using test::Bed;

Curve parabola(double factor) {
    Curve curve;
    for (int i = 0; i <= 40; ++i) {
        curve.x.append(i);
        curve.y.append(factor * (i - 10) * (i - 10));
    }
    curve.colour = colours().temperature.line;
    return curve;
}

TEST(Opening, APlotIsDrawnOnceForEachPainting) {
    CurvePlot plot;
    QSignalSpy drawn(plot.findChild<QCustomPlot*>(), &QCustomPlot::afterReplot);
    const auto settle = [] {
        for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();
    };
    // Out of sight nothing is drawn, whatever it is given.
    for (const int width : {200, 300, 400}) {
        plot.resize(width, 240);
        plot.setAxes(QStringLiteral("°C"), {});
        plot.setCurves({parabola(width)});
        settle();
    }
    EXPECT_EQ(drawn.count(), 0);
    plot.show();
    settle();
    EXPECT_EQ(drawn.count(), 1);
    plot.resize(420, 260);
    plot.setCurves({parabola(3), parabola(5)});
    plot.setMarks({10}, {0}, colours().ink);
    plot.setCursor(20.0, 300, QStringLiteral("here"));
    settle();
    EXPECT_EQ(drawn.count(), 2);
    const QImage seen = plot.grab().toImage();

    // It looks as one that was given the last of it alone.
    CurvePlot fresh;
    fresh.resize(420, 260);
    fresh.setAxes(QStringLiteral("°C"), {});
    fresh.show();
    settle();
    fresh.setCurves({parabola(3), parabola(5)});
    fresh.setMarks({10}, {0}, colours().ink);
    fresh.setCursor(20.0, 300, QStringLiteral("here"));
    settle();
    EXPECT_EQ(fresh.grab().toImage(), seen);
}

/// The mark that a menu bar shows where it is too narrow is made once; it is seen in both themes all the same.
TEST(Opening, TheMarkForMoreIsInTheInkOfTheTheme) {
    const QIcon mark = QApplication::style()->standardIcon(QStyle::SP_ToolBarHorizontalExtensionButton);
    for (const bool isNight : {false, true, false}) {
        Theme::instance().setNight(isNight);
        const QImage picture = mark.pixmap(32, 32).toImage();
        int inked = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) inked += picture.pixelColor(x, y) == colours().ink2 ? 1 : 0;
        EXPECT_GT(inked, 20) << isNight;
    }
}

TEST(Opening, EveryGaugeReadsAndFindsWhatItDoesByItself) {
    Bed bed;
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath(), BenchActions::demoBench().value()));
    const auto& views = bed.workbench.views();
    ASSERT_GE(views.size(), 11u);
    int alone = 0;
    for (const GaugeView& view : views) {
        if (!view.spec().inputs.empty()) continue;
        GaugeView one(view.gauge(), bed.workbench.catalogue());
        one.follow(std::nullopt, false);
        EXPECT_EQ(one.textAt(Stage::Reading).joined(), view.textAt(Stage::Reading).joined()) << view.spec().name;
        EXPECT_EQ(one.expanded(), view.expanded()) << view.spec().name;
        // Those of the bench and of the journal come on top.
        for (const Finding& finding : one.findings())
            EXPECT_TRUE(std::any_of(view.findings().begin(), view.findings().end(),
                                    [&](const Finding& other) {
                                        return other.id == finding.id && other.detail == finding.detail;
                                    }))
                << view.spec().name << finding.id;
        ++alone;
    }
    EXPECT_GE(alone, 8);
}

/// The chosen gauge is there at once; the others while or after it is looked at, whatever is done in between.
TEST(Opening, AGaugeIsChangedWhileTheOthersAreStillJudged) {
    Bed bed;
    const Bench demo = BenchActions::demoBench().value();
    for (int round = 0; round < 6; ++round) {
        ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath() + QString::number(round), demo));
        const GaugeView* current = bed.workbench.current();
        ASSERT_TRUE(current && current->evaluation() && current->budget());
        const std::string name = "Round " + std::to_string(round);
        if (round % 3 == 0) {
            ASSERT_TRUE(bed.workbench.tryText(Stage::Reading, QStringLiteral("40")));
            ASSERT_TRUE(bed.workbench.edit({}, [&](GaugeSpec& spec) { spec.name = name; }));
        }
        if (round % 3 == 1) bed.workbench.removeCurrent();
        if (round % 3 == 2) {
            bed.workbench.selectGauge(demo.gauges.back().id);
            bed.workbench.selectGauge(demo.gauges.front().id);
        }
        const auto& views = bed.workbench.views();
        ASSERT_EQ(views.size(), demo.gauges.size() - (round % 3 == 1 ? 1 : 0));
        for (const GaugeView& view : views) EXPECT_TRUE(view.evaluation()) << view.spec().name;
        EXPECT_EQ(bed.workbench.current()->spec().name == name, round % 3 == 0);
    }
    // The bench goes while they are still judged.
    ASSERT_TRUE(bed.workbench.bench().createFile(bed.benchPath() + QStringLiteral("last"), demo));
}

TEST(Opening, ABenchReadBesideTheStartIsTheOneThatOpens) {
    Bed bed;
    const QString demo = bed.benchPath(), other = demo + QStringLiteral(".other");
    ASSERT_TRUE(bed.workbench.bench().createFile(demo, BenchActions::demoBench().value()));
    ASSERT_TRUE(bed.workbench.bench().createFile(other));
    // The file that was read is the one that is worked with: nothing of it is open twice.
    bed.workbench.bench().readAhead(demo);
    ASSERT_TRUE(bed.workbench.bench().openFile(demo));
    EXPECT_EQ(bed.workbench.bench().bench(), BenchActions::demoBench().value());
    ASSERT_TRUE(bed.workbench.edit({}, [](GaugeSpec& spec) { spec.name = "Glue"; }));
    // Another is opened instead: the one read goes, and may be opened by somebody else.
    ASSERT_TRUE(bed.workbench.bench().openFile(other));
    bed.workbench.bench().readAhead(demo);
    ASSERT_TRUE(bed.workbench.bench().createFile(other + QStringLiteral(".new")));
    const auto again = BenchFile::open(demo.toStdString());
    ASSERT_TRUE(again);
    EXPECT_EQ((*again)->read()->gauges.front().spec.name, "Glue");
    // What is wrong with it is told when it is opened, and is not forgotten: the bench that is open stays.
    bed.workbench.bench().readAhead(demo);
    const auto busy = bed.workbench.bench().openFile(demo);
    ASSERT_FALSE(busy);
    EXPECT_EQ(busy.error().code, ErrorCode::Busy);
    EXPECT_EQ(bed.workbench.bench().filePath(), other + QStringLiteral(".new"));
    bed.workbench.bench().readAhead(demo + QStringLiteral(".nowhere"));
    EXPECT_EQ(bed.workbench.bench().openFile(demo + QStringLiteral(".nowhere")).error().code, ErrorCode::Missing);
}

}  // namespace
}  // namespace fg::gui
