// What can be measured of the look: contrast, sizes, room, and ways through the window by keyboard and mouse alone.

#include "gui/gui_support.h"

#include "paint/number_painter.h"
#include "path_strip/ribbon.h"
#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/lead_text.h"
#include "widgets/selectable.h"

#include <cmath>
#include <QDirIterator>
#include <QFile>
#include <QLabel>
#include <QListWidget>
#include <QMenuBar>
#include <QPushButton>
#include <QRawFont>
#include <QScrollArea>
#include <set>

namespace fg::gui {
namespace {

using test::Bed;

/// Relative luminance and contrast ratio as WCAG 2.1 defines them.
double luminance(const QColor& colour) {
    const auto linear = [](double channel) {
        return channel <= 0.03928 ? channel / 12.92 : std::pow((channel + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
}

double contrast(const QColor& a, const QColor& b) {
    const double first = luminance(a), second = luminance(b);
    return (std::max(first, second) + 0.05) / (std::min(first, second) + 0.05);
}

TEST(Look, TextStandsOutFromEveryGroundInBothThemes) {
    for (const bool night : {false, true}) {
        Theme::instance().setNight(night);
        const Palette& p = colours();
        for (const QColor& ground : {p.ground, p.sheet, p.rack, p.field, p.brassWash}) {
            for (const QColor& ink : {p.ink, p.ink2, p.ink3})
                EXPECT_GE(contrast(ink, ground), 4.5)
                    << night << ink.name().toStdString() << ground.name().toStdString();
            EXPECT_GE(contrast(p.brass, ground), 4.5) << night << ground.name().toStdString();
        }
        EXPECT_GE(contrast(p.onBrass, p.brass), 4.5);
        for (const Quantity quantity :
             {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure, Quantity::Illuminance})
            EXPECT_GE(contrast(p.of(quantity).line, p.sheet), 4.5) << night << quantityName(quantity);
        EXPECT_GE(contrast(p.rule, p.sheet), 3.0);  // frames of things that can be used
    }
    Theme::instance().setNight(false);
}

/// A machine may have no other fonts. What the shipped ones lack is looked for in all that there are, at every start.
TEST(Look, WhatIsWrittenIsInTheFontsThatShip) {
    const QRawFont text = QRawFont::fromFont(Theme::instance().text());
    const QRawFont digits = QRawFont::fromFont(Theme::instance().digits(13));
    ASSERT_EQ(text.familyName(), QStringLiteral("B612"));
    ASSERT_EQ(digits.familyName(), QStringLiteral("B612 Mono"));
    EXPECT_FALSE(text.supportsCharacter(char32_t{U'ρ'}));  // the density's own letter, which they lack
    int lines = 0;
    std::set<char32_t> met;
    for (const char* room : {"/src/gui", "/src/core", "/data"}) {
        QDirIterator files(QStringLiteral(FAIRGAUGE_SOURCE) + QLatin1String(room),
                           {QStringLiteral("*.cpp"), QStringLiteral("*.h"), QStringLiteral("*.json")}, QDir::Files,
                           QDirIterator::Subdirectories);
        while (files.hasNext()) {
            QFile file(files.next());
            ASSERT_TRUE(file.open(QIODevice::ReadOnly));
            for (const QByteArray& line : file.readAll().split('\n')) {
                ++lines;
                const qsizetype comment = line.indexOf("//");
                for (const char32_t one : QString::fromUtf8(line.left(comment < 0 ? line.size() : comment)).toUcs4()) {
                    if (one < 0x80 || one == U'ρ' || !met.insert(one).second) continue;
                    EXPECT_TRUE(text.supportsCharacter(one) && digits.supportsCharacter(one))
                        << file.fileName().toStdString() << ": U+" << std::hex << static_cast<unsigned>(one);
                }
            }
        }
    }
    EXPECT_GT(lines, 50'000);
    EXPECT_GT(met.size(), 40u);
}

/// The arrow of a list of choices is drawn in the ink of the theme, and lighter where nothing can be chosen.
TEST(Look, AListOfChoicesHasItsArrow) {
    for (const bool isNight : {false, true}) {
        Theme::instance().setNight(isNight);
        for (const bool isEnabled : {true, false}) {
            ComboBox box;
            box.setEnabled(isEnabled);
            box.resize(120, 28);
            const QImage seen = box.grab(QRect(box.width() - 20, 0, 20, box.height())).toImage();
            const QColor ink = isEnabled ? colours().ink : colours().ink3;
            double closest = 21;
            for (int y = 4; y < seen.height() - 4; ++y)
                for (int x = 2; x < seen.width() - 3; ++x)
                    closest = std::min(closest, contrast(seen.pixelColor(x, y), ink));
            EXPECT_LT(closest, 1.6) << isNight << isEnabled;
        }
    }
    Theme::instance().setNight(false);
}

TEST(Look, NothingIsSetBelowTwelvePixels) {
    for (const double design : {5.0, 9.0, 12.0, 13.0}) {
        EXPECT_GE(Theme::instance().text(design).pixelSize(), 12);
        EXPECT_GE(Theme::instance().digits(design).pixelSize(), 12);
    }
    Theme::instance().setTextScale(1.5);
    EXPECT_EQ(Theme::instance().text(20).pixelSize(), 30);
    Theme::instance().setTextScale(7);
    EXPECT_EQ(Theme::instance().textScale(), 2);
    Theme::instance().setTextScale(1);
}

TEST(Look, TheShippedFontsAreTheOnesInUse) {
    EXPECT_EQ(QFontInfo(Theme::instance().text(13)).family(), QStringLiteral("B612"));
    EXPECT_EQ(QFontInfo(Theme::instance().digits(13)).family(), QStringLiteral("B612 Mono"));
    EXPECT_FALSE(QFontInfo(Theme::instance().text(13)).bold());
    EXPECT_TRUE(QFontInfo(Theme::instance().text(13, true)).bold());
}

TEST(Look, DigitsKeepTheirCellAndPointsAreNarrow) {
    NumberStyle style;
    style.size = 22;
    const double digit = numberWidth(QStringLiteral("0"), {}, style);
    for (const char* text : {"1", "8", "−"})
        EXPECT_NEAR(numberWidth(QString::fromUtf8(text), {}, style), digit, 0.01) << text;
    EXPECT_LT(numberWidth(QStringLiteral("."), {}, style), 0.6 * digit);
    EXPECT_NEAR(numberWidth(QStringLiteral("60.48"), {}, style),
                4 * digit + numberWidth(QStringLiteral("."), {}, style), 0.01);
    EXPECT_GT(numberWidth(QStringLiteral("60.48"), QStringLiteral("°C"), style),
              numberWidth(QStringLiteral("60.48"), {}, style) + 10);
}

TEST(Look, NoTileIsCutOffAtTheSizeTheWindowIsMadeFor) {
    Bed bed;
    bed.openDemo();
    bed.window.resize(1280, 800);
    QCoreApplication::processEvents();
    int right = 0;
    for (const Stage stage : kStages) {
        auto* tile = bed.find<StageTile>("tile." + std::string(stageName(stage)));
        const QPoint at = tile->mapTo(&bed.window, QPoint(0, 0));
        EXPECT_GT(at.x(), right);  // one beside the other, none over another
        right = at.x() + tile->width();
        EXPECT_GE(tile->width(), px(120)) << stageName(stage);
    }
    EXPECT_LE(right, bed.window.width());
}

// A page that scrolls is as high as what stands on it: squeezed, its rows would cover each other. And it never scrolls
// sideways.
TEST(Look, NoSheetIsSqueezedOrScrollsSideways) {
    for (const double scale : {1.0, 1.5}) {
        Theme::instance().setTextScale(scale);
        Bed bed;
        bed.window.resize(1280, 800);
        bed.openDemo();
        int seen = 0;
        for (const GaugeView& view : bed.workbench.views())
            for (const Stage stage : kStages) {
                bed.workbench.selectGauge(view.id());
                bed.workbench.selectStage(stage);
                for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();
                for (const auto* sheet : bed.window.findChildren<Sheet*>()) {
                    if (!sheet->isVisible()) continue;
                    const auto* scroll = sheet->findChild<QScrollArea*>();
                    const QWidget* page = scroll->widget();
                    const std::string where = view.spec().name + ", " + std::string(stageName(stage));
                    EXPECT_GE(page->height(), page->heightForWidth(page->width()))
                        << where << scale;  // −1 where it does not depend
                    EXPECT_LE(page->width(), scroll->viewport()->width()) << where << scale;
                    ++seen;
                }
                // Our own markup is never shown as letters.
                for (const auto* label : bed.window.findChildren<QLabel*>())
                    for (const char* markup : {"<b>", "<a ", "<br>", "&nbsp;"})
                        EXPECT_FALSE(label->isVisible() && label->textFormat() == Qt::PlainText &&
                                     label->text().contains(QLatin1String(markup)))
                            << label->text().toStdString();
            }
        EXPECT_GE(seen, 70);
    }
    Theme::instance().setTextScale(1);
}

TEST(Look, TheRackScrollsAndTheChosenGaugeStaysVisible) {
    Bed bed;
    bed.openDemo();
    for (int i = 0; i < 12; ++i) {
        GaugeSpec spec = bed.workbench.current()->spec();
        spec.name = "Gauge " + std::to_string(i);
        bed.workbench.addGauge(spec);
    }
    QCoreApplication::processEvents();
    auto* last = bed.find<QWidget>("rack.gauge.23");
    EXPECT_FALSE(last->visibleRegion().isEmpty());
    QTest::keyClick(&bed.window, Qt::Key_1, Qt::AltModifier);
    QCoreApplication::processEvents();
    EXPECT_FALSE(bed.find<QWidget>("rack.gauge.1")->visibleRegion().isEmpty());
    EXPECT_TRUE(last->visibleRegion().isEmpty());
}

TEST(Mouse, ChoosesGaugesStagesAndPiecesOfTheRibbon) {
    Bed bed;
    bed.openDemo();
    QTest::mouseClick(bed.find<QWidget>("rack.gauge.2"), Qt::LeftButton);
    EXPECT_EQ(bed.workbench.current()->spec().name, "Workshop air");
    QTest::mouseClick(bed.find<QWidget>("rack.gauge.1"), Qt::LeftButton);
    QTest::mouseClick(bed.find<QWidget>("tile.formula"), Qt::LeftButton);
    EXPECT_EQ(bed.workbench.stage(), Stage::Formula);
    auto* ribbon = bed.find<Ribbon>("ribbon");
    QTest::mouseClick(ribbon, Qt::LeftButton, {}, QPoint(px(120), px(8)));
    EXPECT_EQ(bed.workbench.stage(), Stage::Sensor);
    QTest::mouseDClick(bed.find<QWidget>("tile.reading"), Qt::LeftButton);
    EXPECT_TRUE(bed.find<QLineEdit>("tile.edit.reading")->isVisible());
    QTest::mouseClick(bed.find<QPushButton>("rack.new"), Qt::LeftButton);
    EXPECT_TRUE(bed.find<QLineEdit>("newGauge.search")->isVisible());
}

TEST(Keyboard, WalksTheStagesAndStartsAnEntryWithADigit) {
    Bed bed;
    bed.openDemo();
    for (int i = 0; i < 7; ++i) {
        QTest::keyClick(&bed.window, static_cast<Qt::Key>(Qt::Key_1 + i), Qt::ControlModifier);
        EXPECT_EQ(bed.workbench.stage(), kStages[static_cast<std::size_t>(i)]);
    }
    auto* tile = bed.find<StageTile>("tile.world");
    tile->setFocus();
    QTest::keyClick(tile, Qt::Key_4);
    auto* edit = bed.find<QLineEdit>("tile.edit.world");
    QTest::keyClicks(edit, QStringLiteral("5"));
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(bed.workbench.current()->evaluation()->at(Stage::World).value, 45);
    QTest::keyClick(tile, Qt::Key_Escape);
    EXPECT_NE(bed.workbench.current()->origin(), Origin::Tried);
}

TEST(Keyboard, UndoSaysWhatItTakesBack) {
    Bed bed;
    bed.openDemo();
    bed.workbench.edit(QStringLiteral("Set R1 to 3.3 kΩ"),
                       [](GaugeSpec& spec) { spec.wiring.parameters.set("fixed_ohm", 3300.0); });
    QStringList texts;
    for (QAction* menu : bed.window.menuBar()->actions())
        for (QAction* action : menu->menu()->actions()) texts << action->text();
    EXPECT_TRUE(texts.contains(QStringLiteral("&Undo: Set R1 to 3.3 kΩ")))
        << texts.join(QLatin1Char('|')).toStdString();
    bed.workbench.removeCurrent();
    EXPECT_EQ(bed.workbench.views().size(), 11u);
    EXPECT_EQ(bed.workbench.current()->spec().name, "Workshop air");
    QTest::keyClick(&bed.window, Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bed.workbench.views().size(), 12u);
}

TEST(NewGauge, SearchNarrowsByDesignationWordAndQuantity) {
    Bed bed;
    bed.openDemo();
    bed.window.showNewGauge();
    auto* search = bed.find<QLineEdit>("newGauge.search");
    auto* list = bed.find<QListWidget>("newGauge.list");
    const int all = list->count();
    EXPECT_GT(all, 40);
    search->setText(QStringLiteral("MPX"));
    EXPECT_EQ(list->count(), 10);
    search->setText(QStringLiteral("thermistor table"));
    EXPECT_GE(list->count(), 1);
    search->setText(QStringLiteral("NTC"));
    EXPECT_TRUE(list->item(0)->text().startsWith(QStringLiteral("ntc ")));  // the designation itself comes first
    EXPECT_GT(list->count(), 4);
    search->setText(QStringLiteral("no such thing"));
    EXPECT_EQ(list->count(), 0);
    EXPECT_FALSE(bed.find<QPushButton>("newGauge.create")->isEnabled());
    search->clear();
    EXPECT_EQ(list->count(), all);
    QTest::keyClick(search, Qt::Key_Escape);
    EXPECT_FALSE(search->isVisible());  // back to the gauge, nothing made
    EXPECT_EQ(bed.workbench.views().size(), 12u);
}

/// Bold words and what follows them, laid out as a label lays out the same; markup stands as it is.
TEST(Look, ATextWithALeadIsAsHighAsALabelAndTakesNoMarkup) {
    const QString text =
        QStringLiteral("A heated vessel or <b>tool</b> needs its own thermal cut-out, whatever this gauge says.");
    for (const double size : {12.0, 14.0}) {
        LeadText lead;
        lead.setFont(Theme::instance().text(size));
        lead.show({{QStringLiteral("Care & more."), text}});
        QLabel label(QStringLiteral("<b>Care &amp; more.</b>&nbsp; ") + text.toHtmlEscaped());
        label.setFont(Theme::instance().text(size));
        label.setTextFormat(Qt::RichText);
        label.setWordWrap(true);
        for (int width = 160; width <= 480; width += 40) {
            EXPECT_NEAR(lead.heightForWidth(width), label.heightForWidth(width), 1) << size << ' ' << width;
            lead.resize(width, lead.heightForWidth(width));
            label.resize(lead.size());
            const QImage a = lead.grab().toImage(), b = label.grab().toImage();
            qint64 inkOfA = 0, inkOfB = 0;
            for (int y = 0; y < a.height(); ++y)
                for (int x = 0; x < a.width(); ++x) {
                    inkOfA += 255 - a.pixelColor(x, y).lightness();
                    inkOfB += 255 - b.pixelColor(x, y).lightness();
                }
            EXPECT_GT(inkOfA, 10'000);
            EXPECT_NEAR(static_cast<double>(inkOfA), static_cast<double>(inkOfB), 0.02 * static_cast<double>(inkOfB));
        }
        lead.setIndent(100);
        EXPECT_EQ(lead.heightForWidth(300), label.heightForWidth(200));
    }
}

TEST(Look, ATextCanBeCopiedWhereTheMouseIsOverIt) {
    QLabel label(QStringLiteral("uncertainty"));
    makeSelectable(label);
    label.show();
    QEnterEvent enter({2, 2}, {2, 2}, {2, 2});
    QApplication::sendEvent(&label, &enter);
    QTest::mouseDClick(&label, Qt::LeftButton, {}, {label.width() / 2, label.height() / 2});
    EXPECT_EQ(label.selectedText(), QStringLiteral("uncertainty"));
    label.setText(QStringLiteral("± 0.2 °C"));
    EXPECT_EQ(label.text(), QStringLiteral("± 0.2 °C"));
}

}  // namespace
}  // namespace fg::gui
