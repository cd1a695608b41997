#include "correction/correction_page.h"
#include "theme/theme.h"
#include "widgets/selectable.h"

#include <QDateTime>

namespace fg::gui {

CorrectionPage::CorrectionPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_column(this) {
    m_column.setContentsMargins(0, px(4), 0, 0);
    m_column.setSpacing(px(6));
}

QLabel* CorrectionPage::addCaption(const QString& text) {
    m_captions.push_back(new QLabel(text));
    m_column.addWidget(m_captions.back());
    return m_captions.back();
}

QLabel* CorrectionPage::addText(const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    makeSelectable(*label);
    m_texts.push_back(label);
    m_column.addWidget(label);
    return label;
}

void CorrectionPage::dressLabels() {
    for (QLabel* caption : m_captions) dress(*caption, Theme::instance().caption(), colours().ink2);
    for (QLabel* text : m_texts) dress(*text, Theme::instance().text(13), colours().ink2);
}

std::string CorrectionPage::timeNow() { return QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString(); }

}  // namespace fg::gui
