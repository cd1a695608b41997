#include "planning/pin_drawing.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace fg::plan {
namespace {

using Point = Drawing::Point;
using Side = Drawing::Label::Side;

// In units of the drawing: a line of text is 12 high.
constexpr const char* kModule = "module";
constexpr double kRow = 20, kLead = 18, kMargin = 10, kCharacter = 7.4, kAboveLine = 4;

std::string wordsOf(const DrawnPin& pin) { return pin.note.empty() ? pin.name : pin.name + "  " + pin.note; }

/// Room for a text of 12 high, whatever the font.
double lengthOf(const std::string& text) {
    return kCharacter *
           static_cast<double>(std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; }));
}

Drawing::Stroke box(double left, double top, double width, double height) {
    return {{{left, top}, {left + width, top}, {left + width, top + height}, {left, top + height}}, true};
}

/// The notch at the end with pin 1: half a circle that opens downwards.
Drawing::Stroke notch(double middle, double top, double radius) {
    constexpr int kSteps = 12;
    Drawing::Stroke stroke;
    for (int i = 0; i <= kSteps; ++i) {
        const double angle = std::numbers::pi * i / kSteps;
        stroke.points.push_back({middle - radius * std::cos(angle), top + radius * std::sin(angle)});
    }
    return stroke;
}

/// Pins on two sides: their numbers inside the body, their words outside.
void drawSides(Drawing& drawing, const Outline& outline, const std::vector<DrawnPin>& pins) {
    constexpr double kLeastWidth = 52;
    const double scale = std::max(kRow / outline.pitch_mm, kLeastWidth / outline.width_mm);
    const double width = scale * outline.width_mm, height = scale * outline.height_mm, pitch = scale * outline.pitch_mm;
    const double bodyHeight = std::max(height, pitch * std::max(outline.left, outline.right));
    double leftWords = 0, rightWords = 0;
    for (std::size_t i = 0; i < pins.size(); ++i) {
        double& words = static_cast<int>(i) < outline.left ? leftWords : rightWords;
        words = std::max(words, lengthOf(wordsOf(pins[i])));
    }
    constexpr double kBeside = 6;
    const double left = kMargin + leftWords + kBeside + kLead, top = kMargin;
    drawing.width = left + width + kLead + kBeside + rightWords + kMargin;
    drawing.height = bodyHeight + 2 * kMargin;
    drawing.strokes.push_back(box(left, top, width, bodyHeight));
    if (outline.hasNotch) drawing.strokes.push_back(notch(left + width / 2, top, 0.1 * width));
    for (int i = 0; i < outline.pins() && i < static_cast<int>(pins.size()); ++i) {
        const bool isLeft = i < outline.left;
        const int count = isLeft ? outline.left : outline.right;
        // Down the left side, up the right one.
        const int row = isLeft ? i : outline.pins() - 1 - i;
        const double y = top + bodyHeight / 2 + pitch * (row - 0.5 * (count - 1));
        const double edge = isLeft ? left : left + width, outwards = isLeft ? -1 : 1;
        drawing.strokes.push_back({{{edge, y}, {edge + outwards * kLead, y}}});
        drawing.labels.push_back(
            {isLeft ? Side::Left : Side::Right, {edge - outwards * 5, y + kAboveLine}, std::to_string(i + 1), true});
        drawing.labels.push_back({isLeft ? Side::Right : Side::Left,
                                  {edge + outwards * (kLead + kBeside), y + kAboveLine},
                                  wordsOf(pins[static_cast<std::size_t>(i)])});
    }
}

/// Leads in a row: each has its words in a line of its own below the body, the right one's uppermost, so that no leader
/// runs through a word.
void drawLeads(Drawing& drawing, const Outline& outline, const std::vector<DrawnPin>& pins) {
    constexpr double kWidestPitch = 34, kHighest = 84;
    const double scale = std::min(kWidestPitch / outline.pitch_mm, kHighest / outline.height_mm);
    const double width = scale * outline.width_mm, height = scale * outline.height_mm, pitch = scale * outline.pitch_mm;
    const double left = kMargin, top = kMargin;
    const int count = std::min(outline.left, static_cast<int>(pins.size()));
    const auto xOf = [&](int i) { return left + width / 2 + pitch * (i - 0.5 * (outline.left - 1)); };
    drawing.width = left + width + kMargin;
    drawing.strokes.push_back(box(left, top, width, height));
    const char* const face = outline.isFlatFaced ? "flat face" : outline.id == kModule ? "module" : "";
    if (*face) drawing.labels.push_back({Side::Middle, {left + width / 2, top + height / 2 + kAboveLine}, face, true});
    for (int i = 0; i < count; ++i) {
        const double x = xOf(i), bottom = top + height;
        const double y = bottom + kLead + kRow * (count - i);
        drawing.strokes.push_back({{{x, bottom}, {x, bottom + kLead}}});
        drawing.strokes.push_back({{{x, bottom + kLead}, {x, y - kAboveLine}, {x + 8, y - kAboveLine}}, false, true});
        const std::string words = fmt::format("{}  {}", i + 1, wordsOf(pins[static_cast<std::size_t>(i)]));
        drawing.labels.push_back({Side::Left, {x + 12, y}, words});
        drawing.width = std::max(drawing.width, x + 12 + lengthOf(words) + kMargin);
    }
    drawing.height = top + height + kLead + kRow * count + kMargin;
}

}  // namespace

Outline moduleOutline(int pins) {
    constexpr double kPitch_mm = 2.54;
    Outline outline;
    outline.id = kModule;
    outline.title = "small board with a strip of pins";
    outline.view = "its side with the printing towards you, pins down";
    outline.form = OutlineForm::Leads;
    outline.left = pins;
    outline.pitch_mm = kPitch_mm;
    outline.width_mm = kPitch_mm * (pins + 1);
    outline.height_mm = 12;
    return outline;
}

Drawing pinDrawing(const Outline& outline, const std::vector<DrawnPin>& pins, const std::string& title) {
    Drawing drawing;
    drawing.title = title;
    if (outline.form == OutlineForm::Sides)
        drawSides(drawing, outline, pins);
    else
        drawLeads(drawing, outline, pins);
    return drawing;
}

}  // namespace fg::plan
