#include "widgets/message_bar.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/selectable.h"

#include <QHBoxLayout>
#include <QPainter>

namespace fg::gui {

MessageBar::MessageBar(QWidget* parent) : QWidget(parent), m_close(tr("Close")) {
    setObjectName(QStringLiteral("message"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(px(38), px(6), px(8), px(6));
    row->addWidget(&m_text, 1);
    row->addWidget(&m_close);
    m_text.setTextFormat(Qt::PlainText);
    m_text.setWordWrap(true);
    makeSelectable(m_text);
    connect(&m_close, &QPushButton::clicked, this, &QWidget::hide);
    hide();
}

void MessageBar::showMessage(const QString& text) {
    m_text.setText(text);
    setAccessibleName(text);
    show();
}

void MessageBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().ink, 2);
    paintSeverity(painter, Severity::Fault, QRectF(px(14), (height() - px(14)) / 2.0, px(14), px(14)));
}

}  // namespace fg::gui
