#include "findings_panel/care_strip.h"

#include "paint/marks.h"
#include "theme/theme.h"

#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {

CareStrip::CareStrip(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("care"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(36), px(6), px(12), px(6));
    column->addWidget(&m_text);
    m_text.setWordWrap(true);
    m_text.setTextFormat(Qt::RichText);
}

void CareStrip::show(const std::vector<Finding>& findings) {
    QString text;
    for (const Finding& finding : findings)
        if (finding.severity == Severity::Care)
            text += QStringLiteral("%1<b>Care: %2.</b> %3")
                        .arg(text.isEmpty() ? QString() : QStringLiteral("<br>"),
                             QString::fromStdString(finding.title).toHtmlEscaped(),
                             QString::fromStdString(finding.detail).toHtmlEscaped());
    if (m_text.text() == text && !text.isEmpty() && m_text.font() == Theme::instance().text(12) &&
        m_text.palette().color(QPalette::WindowText) == colours().ink)
        return;
    dress(m_text, Theme::instance().text(12), colours().ink);
    m_text.setText(text);
    update();
}

void CareStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().brassWash);
    paintSeverity(painter, Severity::Care, QRectF(px(13), px(9), px(14), px(14)));
}

}  // namespace fg::gui
