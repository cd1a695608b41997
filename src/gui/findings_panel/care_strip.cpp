#include "findings_panel/care_strip.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {

CareStrip::CareStrip(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("care"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(36), px(6), px(12), px(6));
    column->addWidget(&m_text);
}

void CareStrip::show(const std::vector<Finding>& findings) {
    std::vector<LeadText::Paragraph> cautions;
    for (const Finding& finding : findings)
        if (finding.severity == Severity::Care)
            cautions.push_back({tr("Care: %1.").arg(qs(finding.title)), qs(finding.detail)});
    m_text.setFont(Theme::instance().text(12));
    m_text.show(cautions);
}

void CareStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().brassWash);
    paintSeverity(painter, Severity::Care, QRectF(px(13), px(9), px(14), px(14)));
}

}  // namespace fg::gui
