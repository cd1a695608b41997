// What makes a bench open quickly may change nothing that is seen: plots drawn once a painting, gauges judged on two
// threads, a copy kept in the background.

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

}  // namespace
}  // namespace fg::gui
