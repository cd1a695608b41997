#include "choose_page/comparison.h"
#include "choose_page/candidate_table.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <QPainter>
#include <QPixmap>

namespace fg::gui {
namespace {}  // namespace

ComparisonTable::ComparisonTable(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("choose.comparison"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ComparisonTable::show(const std::vector<const Candidate*>& candidates) {
    m_candidates.clear();
    for (const Candidate* candidate : candidates) m_candidates.push_back(*candidate);
    fit();
    update();
}

double ComparisonTable::paintAll(QPainter& painter, bool draw) const {
    if (m_candidates.empty()) return px(10);
    const Palette& p = colours();
    const double titles = px(92), column = (width() - titles - px(20)) / static_cast<double>(m_candidates.size());
    double y = px(4);
    const auto cell = [&](double x, double room, const QString& text, const QFont& font, const QColor& ink) {
        painter.setFont(font);
        painter.setPen(ink);
        const QRectF box = painter.boundingRect(QRectF(x, y, room, 2000), Qt::TextWordWrap, text);
        if (draw) painter.drawText(QRectF(x, y, room, 2000), Qt::TextWordWrap, text);
        return box.height();
    };
    const auto row = [&](const QString& title, const auto& texts, bool bold) {
        double height = cell(px(14), titles - px(8), title, Theme::instance().text(12, true), p.ink2);
        for (std::size_t i = 0; i < m_candidates.size(); ++i) {
            const double x = px(14) + titles + column * static_cast<double>(i);
            const auto [verdict, text] = texts(m_candidates[i]);
            if (draw && verdict) paintVerdict(painter, *verdict, QRectF(x, y + px(1), px(12), px(12)));
            height = std::max(height, cell(x + (bold ? 0 : px(18)), column - px(28), text,
                                           Theme::instance().text(13, bold), p.ink));
        }
        y += height + px(4);
        if (draw) paintRule(painter, px(14), width() - px(6), y - px(2), p.line);
    };
    using Cell = std::pair<std::optional<Verdict>, QString>;
    row(
        QString(),
        [](const Candidate& c) {
            return Cell{std::nullopt, qs(c.id)};
        },
        true);
    std::vector<std::pair<std::string, std::string>> marks;
    for (const Candidate& candidate : m_candidates)
        for (const Mark& mark : candidate.marks)
            if (std::none_of(marks.begin(), marks.end(), [&](const auto& one) { return one.first == mark.id; }))
                marks.emplace_back(mark.id, mark.title);
    for (const auto& [id, title] : marks)
        row(
            qs(title),
            [id = id](const Candidate& c) {
                const Mark* mark = c.mark(id);
                return mark ? Cell{mark->verdict, qs(mark->text)} : Cell{std::nullopt, QStringLiteral("–")};
            },
            false);
    row(
        tr("Interface"),
        [](const Candidate& c) {
            return Cell{std::nullopt, qs(c.interface)};
        },
        false);
    return y + px(4);
}

void ComparisonTable::fit() {
    QPixmap pixmap(1, 1);
    QPainter painter(&pixmap);
    setFixedHeight(static_cast<int>(paintAll(painter, false)));
}

void ComparisonTable::resizeEvent(QResizeEvent*) { fit(); }

void ComparisonTable::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintAll(painter, true);
}

Comparison::Comparison(QWidget* parent) : QWidget(parent) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(4));
    for (QLabel* label : {&m_hint, &m_title}) {
        label->setContentsMargins(px(14), 0, px(14), 0);
        label->setWordWrap(true);
        column->addWidget(label);
    }
    m_plot.setFixedHeight(px(150));
    column->addWidget(&m_plot);
    column->addWidget(&m_table);
    column->addStretch();
}

void Comparison::show(const std::vector<const Candidate*>& candidates) {
    dress(m_hint, Theme::instance().text(13), colours().ink2);
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_hint.setText(tr("Tick up to four parts in the table (Space, or a click on the box) to see them side by side."));
    m_hint.setVisible(candidates.empty());
    m_table.setVisible(!candidates.empty());
    m_table.show(candidates);
    QVector<Curve> curves;
    const Unit* unit = nullptr;
    QStringList names;
    QColor colour;
    for (const Candidate* candidate : candidates) {
        if (candidate->gauges.empty() || candidate->trust.front().places.empty()) continue;
        const GaugeSpec& spec = candidate->gauges.front();
        unit = &spec.readingUnit();
        colour = colours().of(spec.quantity).line;
        Curve curve;
        for (std::size_t i = 0; i < candidate->trust.front().places.size(); ++i) {
            curve.x << unit->fromCanonical(candidate->trust.front().places[i]);
            curve.y << unit->differenceFromCanonical(candidate->trust.front().expandedAt[i]);
        }
        names << qs(candidate->id);
        curve.name = qs(candidate->id);
        curve.chosen = curves.isEmpty();
        if (curve.chosen) curve.colour = colour;
        curves << curve;
    }
    m_plot.setVisible(!curves.isEmpty());
    m_title.setVisible(!curves.isEmpty());
    if (!unit) return;
    const QString symbol = QString::fromUtf8(unit->symbol.data(), static_cast<qsizetype>(unit->symbol.size()));
    m_title.setText(tr("Expanded uncertainty (95 %) over the span, in %1").arg(symbol));
    m_plot.setAccessibleDescription(names.join(QStringLiteral(", ")));
    m_plot.setAxes(symbol, {});
    m_plot.setCurves(curves);
}

}  // namespace fg::gui
