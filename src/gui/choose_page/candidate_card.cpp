#include "choose_page/candidate_card.h"
#include "choose_page/candidate_table.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QPainter>
#include <QPixmap>

namespace fg::gui {
namespace {}  // namespace

CandidateCard::CandidateCard(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("choose.card"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void CandidateCard::show(const Candidate& candidate) {
    m_candidate = candidate;
    setAccessibleDescription(plainText());
    fit();
    update();
}

void CandidateCard::clear() {
    m_candidate.reset();
    fit();
    update();
}

QString CandidateCard::plainText() const {
    if (!m_candidate) return {};
    QString text = qs(m_candidate->id) + QStringLiteral(": ") + qs(m_candidate->why);
    for (const Mark& mark : m_candidate->marks) {
        const std::string_view verdict = verdictName(mark.verdict);
        text += QStringLiteral("\n%1 (%2): %3")
                    .arg(qs(mark.title), QString::fromUtf8(verdict.data(), static_cast<qsizetype>(verdict.size())),
                         qs(mark.text));
    }
    return text;
}

double CandidateCard::paintAll(QPainter& painter, bool draw) const {
    const Palette& p = colours();
    const double left = px(14), width = this->width() - px(28);
    double y = px(8);
    const auto paragraph = [&](double x, double room, const QString& text, const QFont& font, const QColor& ink) {
        painter.setFont(font);
        painter.setPen(ink);
        const QRectF box = painter.boundingRect(QRectF(x, y, room, 2000), Qt::TextWordWrap, text);
        if (draw) painter.drawText(QRectF(x, y, room, 2000), Qt::TextWordWrap, text);
        return box.height();
    };
    y += paragraph(left, width, QStringLiteral("%1   %2").arg(qs(m_candidate->id), qs(m_candidate->title)),
                   Theme::instance().text(14, true), p.ink);
    y += px(2);
    y += paragraph(left, width, qs(m_candidate->why), Theme::instance().text(13), p.ink2) + px(6);
    // Two columns of marks where the page is wide enough.
    const std::size_t columns = width > px(520) ? 2 : 1;
    const double gap = px(20), each = (width - gap * static_cast<double>(columns - 1)) / static_cast<double>(columns),
                 title = px(84);
    double rowHeight = 0;
    for (std::size_t i = 0; i < m_candidate->marks.size(); ++i) {
        const Mark& mark = m_candidate->marks[i];
        const double x = left + static_cast<double>(i % columns) * (each + gap);
        if (draw) paintVerdict(painter, mark.verdict, QRectF(x, y + px(2), px(13), px(13)));
        paragraph(x + px(20), title, qs(mark.title), Theme::instance().text(13, true), p.ink);
        const double height =
            paragraph(x + px(20) + title, each - title - px(20), qs(mark.text), Theme::instance().text(13), p.ink);
        rowHeight = std::max({rowHeight, height, double(px(18))});
        if (i % columns == columns - 1 || i + 1 == m_candidate->marks.size()) {
            y += rowHeight + px(3);
            rowHeight = 0;
        }
    }
    return y + px(6);
}

void CandidateCard::fit() {
    if (!m_candidate) return setFixedHeight(px(40));
    QPixmap pixmap(1, 1);
    QPainter painter(&pixmap);
    setFixedHeight(static_cast<int>(paintAll(painter, false)));
}

void CandidateCard::resizeEvent(QResizeEvent*) { fit(); }

void CandidateCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    if (m_candidate) paintAll(painter, true);
}

}  // namespace fg::gui
