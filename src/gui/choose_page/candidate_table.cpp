#include "choose_page/candidate_table.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kCandidateRow = 24, kCandidateHead = 26, kBox = 30, kRank = 30, kName = 124;
constexpr double kTextColumn = 100, kMarkColumn = 56;
constexpr int kMostCompared = 4;

}  // namespace

void paintVerdict(QPainter& painter, Verdict verdict, const QRectF& box) {
    if (verdict == Verdict::Open) return paintSeverity(painter, Severity::Doubt, box);
    if (verdict == Verdict::Ruled) return paintSeverity(painter, Severity::Fault, box);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colours().ink, 2));
    painter.drawPolyline(QPolygonF({{box.left() + 0.15 * box.width(), box.top() + 0.55 * box.height()},
                                    {box.left() + 0.42 * box.width(), box.top() + 0.82 * box.height()},
                                    {box.left() + 0.88 * box.width(), box.top() + 0.2 * box.height()}}));
    painter.restore();
}

CandidateTable::CandidateTable(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("choose.table"));
    setAccessibleName(tr("Parts, best first"));
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize CandidateTable::sizeHint() const {
    return {px(640), px(kCandidateHead + kCandidateRow * static_cast<double>(m_candidates.size()) + 2)};
}

void CandidateTable::show(const std::vector<Candidate>& candidates) {
    const std::string kept = m_row < static_cast<int>(m_candidates.size()) && m_row > 0
                                 ? m_candidates[static_cast<std::size_t>(m_row)].id
                                 : "";
    m_candidates = candidates;
    m_row = 0;
    for (std::size_t i = 0; i < candidates.size(); ++i)
        if (candidates[i].id == kept) m_row = static_cast<int>(i);
    layoutColumns();
    updateGeometry();
    setFixedHeight(sizeHint().height());
    emit rowChanged(m_row);
    emit comparedChanged();
    update();
}

std::vector<const Candidate*> CandidateTable::compared() const {
    std::vector<const Candidate*> list;
    for (const Candidate& candidate : m_candidates)
        if (m_compared.contains(qs(candidate.id))) list.push_back(&candidate);
    return list;
}

void CandidateTable::toggle(int row) {
    if (row < 0 || row >= static_cast<int>(m_candidates.size())) return;
    const QString id = qs(m_candidates[static_cast<std::size_t>(row)].id);
    if (m_compared.contains(id))
        m_compared.remove(id);
    else if (m_compared.size() < kMostCompared)
        m_compared.insert(id);
    emit comparedChanged();
    update();
}

void CandidateTable::layoutColumns() {
    m_columns.clear();
    if (m_candidates.empty()) return;
    // A rule that does not apply to the first part may to another: every mark that anyone has, in the order of the
    // rules.
    for (const Candidate& candidate : m_candidates)
        for (const Mark& mark : candidate.marks) {
            const bool known =
                std::any_of(m_columns.begin(), m_columns.end(), [&](const Column& one) { return one.id == mark.id; });
            const bool hasText = mark.id == "accuracy" || mark.id == "resolution" || mark.id == "interval";
            if (!known && mark.id != "quantity")
                m_columns.push_back({mark.id, qs(mark.title), 0, hasText ? kTextColumn : kMarkColumn, hasText});
        }
    double needed = 0;
    for (const Column& column : m_columns) needed += px(column.width);
    const double room = width() - px(kBox + kRank + kName) - 6;
    const double squeeze = needed > room ? room / needed : 1;
    double x = px(kBox + kRank + kName);
    for (Column& column : m_columns) {
        column.from = x;
        column.width = px(column.width) * squeeze;
        x += column.width;
    }
}

void CandidateTable::resizeEvent(QResizeEvent*) { layoutColumns(); }

void CandidateTable::paintRow(QPainter& painter, int row, double top) const {
    const Palette& p = colours();
    const Candidate& candidate = m_candidates[static_cast<std::size_t>(row)];
    const bool chosen = row == m_row, ruled = candidate.isRuledOut();
    if (chosen) painter.fillRect(QRectF(0, top, width(), px(kCandidateRow)), p.brassWash);
    if (chosen) painter.fillRect(QRectF(0, top, px(4), px(kCandidateRow)), p.brass);
    paintRule(painter, 0, width(), top + px(kCandidateRow) - 1, p.line);
    const double y = top + px(17);
    const QRectF box(px(11), top + px(6), px(12), px(12));
    paintFrame(painter, box, p.rule);
    if (m_compared.contains(qs(candidate.id))) paintVerdict(painter, Verdict::Met, box.adjusted(1, 1, -1, -1));
    painter.setFont(Theme::instance().text(13));
    painter.setPen(p.ink2);
    painter.drawText(QRectF(px(kBox), top, px(kRank - 6), px(kCandidateRow)), Qt::AlignRight | Qt::AlignVCenter,
                     QString::number(row + 1));
    painter.setFont(Theme::instance().text(13, chosen));
    painter.setPen(ruled ? p.ink2 : p.ink);
    painter.drawText(QPointF(px(kBox + kRank + 4), y),
                     painter.fontMetrics().elidedText(qs(candidate.id), Qt::ElideRight, px(kName - 8)));
    for (const Column& column : m_columns) {
        const Mark* mark = candidate.mark(column.id);
        if (!mark) continue;
        const QRectF shape(column.from + px(4), top + px(6), px(12), px(12));
        paintVerdict(painter, mark->verdict, shape);
        if (!column.hasText) continue;
        painter.setFont(Theme::instance().text(12));
        painter.setPen(ruled ? p.ink2 : p.ink);
        painter.drawText(QPointF(shape.right() + px(4), y),
                         painter.fontMetrics().elidedText(qs(mark->brief).section(QStringLiteral(", "), 0, 0),
                                                          Qt::ElideRight, static_cast<int>(column.width) - px(22)));
    }
    if (!hasFocus() || !chosen) return;
    painter.setPen(QPen(p.ink, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(6.5, top + 1.5, width() - 9, px(kCandidateRow) - 4));
}

void CandidateTable::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    if (m_candidates.empty()) return;
    painter.setFont(Theme::instance().text(12));
    painter.setPen(colours().ink2);
    painter.drawText(QRectF(px(kBox + kRank + 4), 0, px(kName), px(kCandidateHead - 4)),
                     Qt::AlignLeft | Qt::AlignVCenter, tr("Part"));
    for (const Column& column : m_columns)
        painter.drawText(
            QRectF(column.from + 2, 0, column.width - 4, px(kCandidateHead - 4)), Qt::AlignLeft | Qt::AlignVCenter,
            painter.fontMetrics().elidedText(column.head, Qt::ElideRight, static_cast<int>(column.width) - 4));
    paintRule(painter, 0, width(), px(kCandidateHead) - 2, colours().rule);
    for (int row = 0; row < static_cast<int>(m_candidates.size()); ++row) {
        const double top = px(kCandidateHead) + row * px(kCandidateRow);
        if (top + px(kCandidateRow) >= event->rect().top() && top <= event->rect().bottom())
            paintRow(painter, row, top);
    }
}

QRect CandidateTable::rowArea(int row) const {
    return {0, px(kCandidateHead) + row * px(kCandidateRow), width(), px(kCandidateRow)};
}

int CandidateTable::rowAt(double y) const {
    if (y < px(kCandidateHead)) return -1;
    const int row = static_cast<int>((y - px(kCandidateHead)) / px(kCandidateRow));
    return row < static_cast<int>(m_candidates.size()) ? row : -1;
}

void CandidateTable::moveTo(int row) {
    if (row == m_row || row < 0) return;
    m_row = row;
    emit rowChanged(row);
    update();
}

void CandidateTable::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(event->position().y());
    if (row < 0) return;
    if (event->position().x() < px(kBox)) toggle(row);
    moveTo(row);
}

void CandidateTable::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const int row = rowAt(event->position().y()); row >= 0 && event->position().x() >= px(kBox))
        emit activated(row);
}

void CandidateTable::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_candidates.size()) - 1;
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up)
        return moveTo(std::clamp(m_row + (event->key() == Qt::Key_Down ? 1 : -1), 0, std::max(0, last)));
    if (event->key() == Qt::Key_Space) return toggle(m_row);
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && last >= 0) return emit activated(m_row);
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
