#include "path_strip/ribbon.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <cmath>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {
namespace {
constexpr double kCaptionWidth = 104;
}

Ribbon::Ribbon(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    setObjectName(QStringLiteral("ribbon"));
    setFixedHeight(px(36));
    setToolTip(tr("How much of the uncertainty each stage brings. A click goes there."));
    connect(&workbench, &Workbench::valuesChanged, this, [this] {
        const GaugeView* view = m_workbench.current();
        QString now = QString::number(view ? view->id() : 0);
        for (const Piece& piece : pieces())
            now += QStringLiteral("|%1 %2").arg(piece.label).arg(std::round(piece.box.right()));
        if (view && view->budget())
            now +=
                QStringLiteral("|") + qs(roundedReading(0, view->expanded(), view->spec().readingUnit()).uncertainty);
        else if (view)
            now += view->evaluation() ? QStringLiteral("|limit") : QStringLiteral("|none");
        if (m_shown.changesTo(now)) update();
    });
    connect(&workbench, &Workbench::stageChanged, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, [this] { setFixedHeight(px(36)); });
}

std::vector<Ribbon::Piece> Ribbon::pieces() const {
    std::vector<Piece> pieces;
    const GaugeView* view = m_workbench.current();
    if (!view || !view->budget()) return pieces;
    for (const Stage stage : kStages) {
        double share = 0;
        const Contribution* largest = nullptr;
        int count = 0;
        for (const Contribution& line : view->budget()->contributions) {
            if (line.stage != stage) continue;
            share += line.share;
            ++count;
            if (!largest || line.share > largest->share) largest = &line;
        }
        if (!largest || share < 0.0005) continue;
        const QString title = qs(view->titleOf(stage));
        const QString what = count == 1 ? QStringLiteral(" ") + qs(largest->label) : QString();
        pieces.push_back({stage, title + what + QStringLiteral("  %1 %").arg(std::round(100 * share)), share, {}});
    }
    const double left = px(kCaptionWidth), width = this->width() - left;
    double x = left;
    for (Piece& piece : pieces) {
        piece.box = QRectF(x, 0, width * piece.share, px(16));
        x = piece.box.right();
    }
    return pieces;
}

void Ribbon::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    painter.setFont(Theme::instance().caption());
    painter.setPen(p.ink2);
    painter.drawText(QRectF(0, 0, px(kCaptionWidth), px(16)), Qt::AlignLeft | Qt::AlignVCenter, tr("Uncertainty"));
    const GaugeView* view = m_workbench.current();
    if (view && !view->budget()) {
        painter.setFont(Theme::instance().text(12));
        painter.drawText(QRectF(px(kCaptionWidth), 0, width(), px(16)), Qt::AlignLeft | Qt::AlignVCenter,
                         view->evaluation() && !std::isnan(view->evaluation()->reading())
                             ? tr("A limit has no uncertainty.")
                             : tr("No value yet."));
    }
    if (!view || !view->budget()) return;
    NumberStyle small;
    small.size = 13;
    small.unitSize = 12;
    const RoundedReading rounded = roundedReading(0, view->expanded(), view->spec().readingUnit());
    painter.setFont(Theme::instance().text(13));
    painter.setPen(p.ink);
    painter.drawText(QPointF(0, px(32)), QStringLiteral("U"));
    paintNumber(painter, QPointF(px(14), px(32)), qs(rounded.uncertainty), qs(rounded.value.unit), small);

    const QColor colour = p.of(view->spec().quantity).fill;
    const auto all = pieces();
    int hatch = 0;
    constexpr Qt::BrushStyle patterns[] = {Qt::SolidPattern, Qt::BDiagPattern, Qt::VerPattern, Qt::DiagCrossPattern};
    double labelEnd = px(kCaptionWidth);
    // From the right, so that the last labels keep their place; those that would overlap are left out (the budget has
    // them all).
    double limit = width();
    std::vector<std::pair<QRectF, QString>> labels;
    for (auto it = all.rbegin(); it != all.rend(); ++it) {
        const bool chosen = it->stage == m_workbench.stage();
        const QFontMetricsF metrics(Theme::instance().text(12, chosen));
        const double textWidth = metrics.horizontalAdvance(it->label) + 2;
        double x = std::max(labelEnd + px(6), std::min(it->box.left() + px(6), limit - textWidth));
        if (x + textWidth > limit + 1) continue;
        const bool isFirst = std::next(it) == all.rend();
        if (!isFirst && x < labelEnd + px(200) && it->share < 0.1) continue;
        labels.emplace_back(QRectF(x, px(19), textWidth, px(16)), it->label);
        painter.setFont(Theme::instance().text(12, chosen));
        painter.setPen(p.ink);
        painter.drawText(labels.back().first, Qt::AlignLeft | Qt::AlignVCenter, it->label);
        painter.setPen(QPen(p.rule, 1));
        if (it->box.width() >= 6)
            painter.drawLine(QPointF(std::floor(it->box.left()) + 0.5, px(16)),
                             QPointF(std::floor(it->box.left()) + 0.5, px(22)));
        limit = x - px(12);
    }
    for (const Piece& piece : all) {
        painter.fillRect(piece.box, p.sheet);
        painter.fillRect(piece.box, QBrush(colour, patterns[std::min(hatch++, 3)]));
        paintFrame(painter, piece.box, p.rule);
        if (piece.stage == m_workbench.stage())
            painter.fillRect(QRectF(piece.box.left(), px(15), piece.box.width(), px(3)), p.brass);
    }
}

void Ribbon::mousePressEvent(QMouseEvent* event) {
    for (const Piece& piece : pieces())
        if (event->position().x() >= piece.box.left() && event->position().x() < piece.box.right())
            m_workbench.selectStage(piece.stage);
}

}  // namespace fg::gui
