#include "findings_panel/finding_item.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {

FindingItem::FindingItem(const Finding& finding, bool isFirstAction, QWidget* parent)
    : QWidget(parent), m_severity(finding.severity) {
    setObjectName(QStringLiteral("finding.") + qs(finding.id));
    setCursor(Qt::PointingHandCursor);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(9), px(12), px(10));
    column->setSpacing(px(3));
    m_title.setFont(Theme::instance().text(14));
    m_title.setIndent(px(22));
    dress(m_detail, Theme::instance().text(13), colours().ink2);
    m_detail.setWordWrap(true);
    makeSelectable(m_detail);
    column->addWidget(&m_title);
    column->addWidget(&m_detail);
    if (finding.action) {
        auto* row = new QHBoxLayout;
        auto* button = new QPushButton(qs(finding.action->label));
        button->setObjectName(QStringLiteral("finding.action"));
        button->setProperty("first", isFirstAction);
        connect(button, &QPushButton::clicked, this, &FindingItem::acted);
        row->addWidget(button);
        auto* effect = new QLabel(qs(finding.action->effect));
        effect->setFont(Theme::instance().text(12));
        row->addWidget(effect, 1);
        column->addSpacing(px(3));
        column->addLayout(row);
    }
    update(finding);
}

void FindingItem::update(const Finding& finding) {
    m_title.show({{severityWord(finding.severity), qs(finding.title)}});
    // A label lays out its text again even where it is the same.
    if (const QString detail = qs(finding.detail); m_detail.text() != detail) m_detail.setText(detail);
    setAccessibleName(severityWord(finding.severity) + QStringLiteral(": ") + qs(finding.title));
}

void FindingItem::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintSeverity(painter, m_severity, QRectF(px(14), m_title.y() + px(3), px(14), px(14)));
    paintRule(painter, 0, width(), height() - 1, colours().line);
}

void FindingItem::mousePressEvent(QMouseEvent*) { emit stageWanted(); }

}  // namespace fg::gui
