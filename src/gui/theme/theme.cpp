#include "theme/theme.h"

#include "theme/flat_style.h"
#include "theme/plain_text.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QScreen>
#include <tuple>

namespace fg::gui {
namespace {

Palette paper() {
    return {"#EFE9DC",
            "#FBF8F1",
            "#E7E0D0",
            "#FFFFFF",
            "#14202F",
            "#465160",
            "#59606C",
            "#8C8372",
            "#CBC2AF",
            "#7A5709",
            "#FBF8F1",
            "#F3E6C6",
            {"#9E3A2B", "#F0DCD3", "#9E3A2B"},
            {"#1F6683", "#D6E5EA", "#1F6683"},
            {"#57458A", "#E1DBEC", "#57458A"},
            {"#566414", "#E4E6CC", "#566414"}};
}

Palette nightBench() {
    return {"#14171B",
            "#1C2026",
            "#101316",
            "#0F1215",
            "#ECE6D8",
            "#B9B6AA",
            "#A3A299",
            "#6F7682",
            "#363C45",
            "#E0B65C",
            "#14171B",
            "#3A311C",
            {"#E48D78", "#3E2A27", "#8E5244"},
            {"#7BBBD4", "#1F3540", "#7BBBD4"},
            {"#B7A8EA", "#2F2B42", "#6B5FA0"},
            {"#B9C86C", "#31351F", "#B9C86C"}};
}

QPalette widgetPalette(const Palette& p) {
    QPalette q;
    q.setColor(QPalette::Window, p.ground);
    q.setColor(QPalette::WindowText, p.ink);
    q.setColor(QPalette::Base, p.field);
    q.setColor(QPalette::AlternateBase, p.sheet);
    q.setColor(QPalette::Text, p.ink);
    q.setColor(QPalette::Button, p.sheet);
    q.setColor(QPalette::ButtonText, p.ink);
    q.setColor(QPalette::Highlight, p.brass);
    q.setColor(QPalette::HighlightedText, p.onBrass);
    q.setColor(QPalette::ToolTipBase, p.sheet);
    q.setColor(QPalette::ToolTipText, p.ink);
    q.setColor(QPalette::PlaceholderText, p.ink3);
    q.setColor(QPalette::Mid, p.rule);
    q.setColor(QPalette::Light, p.sheet);
    q.setColor(QPalette::Dark, p.rule);
    for (const auto role : {QPalette::Text, QPalette::WindowText, QPalette::ButtonText})
        q.setColor(QPalette::Disabled, role, p.ink3);
    return q;
}

// Standard widgets in the flat, ruled look of the drawn ones. %n are design lengths at the present scale.
QString styleSheet(const Palette& p, const Theme& theme) {
    const QString sheet = QStringLiteral(R"(
* { outline: none; }
QMenuBar { background: RACK; color: INK; padding: 2px 4px; }
QMenuBar::item { padding: 3px 8px; background: transparent; }
QMenuBar::item:selected { background: WASH; }
QMenu { background: SHEET; color: INK; border: 1px solid RULE; padding: 4px 0; }
QMenu::item { padding: 4px 24px 4px 20px; }
QMenu::item:selected { background: WASH; color: INK; }
QMenu::item:disabled { color: INK3; }
QMenu::separator { height: 1px; background: LINE; margin: 4px 0; }
QStatusBar { background: RACK; color: INK2; border-top: 1px solid RULE; }
QStatusBar::item { border: none; }
QToolTip { background: SHEET; color: INK; border: 1px solid RULE; padding: 3px; }
QLineEdit, QPlainTextEdit { background: FIELD; color: INK; border: 1px solid RULE; padding: 1px 6px;
    selection-background-color: BRASS; selection-color: ONBRASS; min-height: H24px; }
QLineEdit:focus, QPlainTextEdit:focus { border: 2px solid BRASS; padding: 0 5px; }
QPushButton { background: FIELD; color: INK; border: 1px solid RULE; padding: 2px 12px; min-height: H22px; }
QPushButton:checked { background: WASH; border: 2px solid BRASS; padding: 1px 11px; font-weight: bold; }
QPushButton:hover { background: WASH; }
QPushButton:focus { border: 2px solid BRASS; padding: 1px 11px; }
QPushButton:default, QPushButton[first="true"] { background: BRASS; color: ONBRASS; border: 1px solid BRASS;
    font-weight: bold; }
QPushButton[first="true"]:focus { border: 2px solid INK; padding: 1px 11px; }
QPushButton:disabled { color: INK3; }
QPushButton[rack] { border: none; background: transparent; color: INK; font-weight: bold; text-align: left;
    padding: 5px 16px; }
QPushButton[rack="new"] { color: BRASS; padding: 8px 16px; }
QPushButton[rack]:focus, QPushButton[rack]:hover { background: WASH; }
QComboBox { background: FIELD; color: INK; border: 1px solid RULE; padding: 1px 6px; min-height: H24px; }
QComboBox:focus { border: 2px solid BRASS; padding: 0 5px; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox QAbstractItemView { background: SHEET; color: INK; border: 1px solid RULE;
    selection-background-color: WASH; selection-color: INK; }
QListView { background: FIELD; color: INK; border: 1px solid RULE; }
QListView::item { padding: 3px 6px; border-left: 4px solid transparent; }
QListView::item:selected { background: WASH; color: INK; border-left: 4px solid BRASS; }
QListView:focus { border: 2px solid BRASS; }
QCheckBox { color: INK; spacing: 8px; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid RULE; background: FIELD; }
QCheckBox::indicator:checked { border: 1px solid INK; image: url(:/marks/CHECK.svg); }
QCheckBox:focus { color: BRASS; }
QScrollArea { border: none; background: transparent; }
QScrollBar:vertical { background: transparent; width: 10px; }
QScrollBar::handle:vertical { background: RULE; min-height: 24px; margin: 2px; }
QScrollBar:horizontal { background: transparent; height: 10px; }
QScrollBar::handle:horizontal { background: RULE; min-width: 24px; margin: 2px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
)");
    QString text = sheet;
    const auto put = [&](const char* name, const QString& value) { text.replace(QLatin1String(name), value); };
    put("H24", QString::number(theme.px(22)));
    put("H22", QString::number(theme.px(22)));
    put("CHECK", theme.isNight() ? QStringLiteral("check-night") : QStringLiteral("check-paper"));
    put("ONBRASS", p.onBrass.name());
    put("BRASS", p.brass.name());
    put("WASH", p.brassWash.name());
    put("SHEET", p.sheet.name());
    put("FIELD", p.field.name());
    put("RACK", p.rack.name());
    put("RULE", p.rule.name());
    put("LINE", p.line.name());
    put("INK3", p.ink3.name());
    put("INK2", p.ink2.name());
    put("INK", p.ink.name());
    return text;
}

/// What the desktop asks for. QFontInfo would tell it too, but load that font, which nothing is written in.
double pixelSizeOf(const QFont& font) {
    if (font.pixelSize() > 0) return font.pixelSize();
    const QScreen* screen = QGuiApplication::primaryScreen();  // there may be none yet
    return font.pointSizeF() * (screen ? screen->logicalDotsPerInchY() : 96) / 72;
}

void loadFont(const char* name) {
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1.otf").arg(QLatin1String(name)));
}

}  // namespace

const QuantityColours& Palette::of(Quantity quantity) const {
    switch (quantity) {
        case Quantity::RelativeHumidity:
        case Quantity::VapourDensity:
        case Quantity::WoodMoisture:
        case Quantity::HumidityRate:
            return humidity;
        case Quantity::Pressure:
        case Quantity::PressureRate:
        case Quantity::Height:
            return pressure;
        case Quantity::Illuminance:
            return light;
        default:
            return temperature;
    }
}

Theme& Theme::instance() {
    static Theme theme;
    return theme;
}

void Theme::install() {
    PlainTextByDefault::install();
    // All of them at once, before anything is written: each one that comes later makes the toolkit forget every font it
    // has at hand.
    for (const char* name : {"B612-Regular", "B612-Bold", "B612Mono-Regular", "B612Mono-Bold"}) loadFont(name);
    // 10 pt at 96 dpi, a desktop's usual text, is the design's 13 px.
    m_desktopScale = std::max(1.0, pixelSizeOf(QApplication::font()) / 13.4);
    QApplication::setStyle(new FlatStyle);
    apply();
}

void Theme::setNight(bool night) {
    if (night == m_night) return;
    m_night = night;
    apply();
}

void Theme::setTextScale(double scale) {
    scale = std::clamp(scale, 1.0, 2.0);
    if (scale == m_textScale) return;
    m_textScale = scale;
    apply();
}

void Theme::apply() {
    m_palette = m_night ? nightBench() : paper();
    QApplication::setPalette(widgetPalette(m_palette));
    QApplication::setFont(text());
    qApp->setStyleSheet(styleSheet(m_palette, *this));
    emit changed();
}

void dress(QLabel& label, const QFont& font, const QColor& ink) {
    if (label.textFormat() == Qt::AutoText) label.setTextFormat(Qt::PlainText);
    label.setFont(font);
    QPalette own = label.palette();
    own.setColor(QPalette::WindowText, ink);
    label.setPalette(own);
}

int Theme::px(double design) const { return static_cast<int>(std::lround(design * m_textScale * m_desktopScale)); }

namespace {

/// A copy of a font that was painted with knows its glyphs; a new one has to look for them. The list is never taken
/// apart: it would outlive what fonts stand on.
const QFont& keptFont(const QString& family, int size, bool bold) {
    static auto& fonts = *new std::map<std::tuple<QString, int, bool>, QFont>;
    const auto key = std::tuple(family, size, bold);
    const auto it = fonts.find(key);
    if (it != fonts.end()) return it->second;
    QFont font(family);
    font.setPixelSize(size);
    font.setBold(bold);
    return fonts.emplace(key, font).first->second;
}

}  // namespace

QFont Theme::text(double designPx, bool bold) const {
    return keptFont(QStringLiteral("B612"), std::max(12, px(designPx)), bold);
}

QFont Theme::caption() const {
    QFont font = text(12, true);
    font.setLetterSpacing(QFont::AbsoluteSpacing, 0.8);
    font.setCapitalization(QFont::AllUppercase);
    return font;
}

QFont Theme::digits(double designPx, bool bold) const {
    return keptFont(QStringLiteral("B612 Mono"), std::max(12, px(designPx)), bold);
}

}  // namespace fg::gui
