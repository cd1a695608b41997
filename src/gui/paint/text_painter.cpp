#include "paint/text_painter.h"

#include <algorithm>
#include <list>
#include <QCache>
#include <QFontMetricsF>
#include <QGlyphRun>
#include <QTextLayout>

namespace fg::gui {
namespace {

/// A text as it is set in one font.
struct Laid {
    QList<QGlyphRun> runs;
    double width = 0, ascent = 0, height = 0;
};

Laid laidOut(const QFont& font, const QString& text) {
    QTextLayout layout(text, font);
    layout.beginLayout();
    const QTextLine line = layout.createLine();
    layout.endLayout();
    if (!line.isValid()) return {};
    return {layout.glyphRuns(), line.naturalTextWidth(), line.ascent(), line.height()};
}

/// The texts set in one font lately.
struct Face {
    static constexpr int kKept = 400;
    explicit Face(const QFont& of) : font(of), texts(kKept) {}
    QFont font;
    QCache<QString, Laid> texts;
};

const Laid& laid(const QFont& font, const QString& text) {
    // Never taken apart: it would outlive what fonts stand on. A list: faces do not move.
    static auto& faces = *new std::list<Face>;
    auto face = std::find_if(faces.begin(), faces.end(), [&](const Face& one) { return one.font == font; });
    if (face == faces.end()) {
        constexpr std::size_t kMostFaces = 60;  // sizes that are left behind with a change of the text size
        if (faces.size() >= kMostFaces) faces.clear();
        face = faces.emplace(faces.end(), font);
    }
    if (const Laid* known = face->texts.object(text)) return *known;
    auto* made = new Laid(laidOut(font, text));
    face->texts.insert(text, made);
    return *made;
}

}  // namespace

void paintText(QPainter& painter, QPointF at, const QString& text) {
    if (text.isEmpty()) return;
    const Laid& one = laid(painter.font(), text);
    for (const QGlyphRun& run : one.runs) painter.drawGlyphRun(at - QPointF(0, one.ascent), run);
}

void paintText(QPainter& painter, const QRectF& box, Qt::Alignment alignment, const QString& text) {
    if (text.isEmpty()) return;
    const Laid& one = laid(painter.font(), text);
    double x = box.left(), y = box.top();
    if (alignment & Qt::AlignRight) x = box.right() - one.width;
    if (alignment & Qt::AlignHCenter) x = box.center().x() - one.width / 2;
    if (alignment & Qt::AlignBottom) y = box.bottom() - one.height;
    if (alignment & Qt::AlignVCenter) y = box.center().y() - one.height / 2;
    for (const QGlyphRun& run : one.runs) painter.drawGlyphRun({x, y}, run);
}

double textWidth(const QFont& font, const QString& text) { return text.isEmpty() ? 0 : laid(font, text).width; }

QString fittedText(const QFont& font, const QString& text, double room) {
    return textWidth(font, text) <= room ? text : QFontMetricsF(font).elidedText(text, Qt::ElideRight, room);
}

}  // namespace fg::gui
