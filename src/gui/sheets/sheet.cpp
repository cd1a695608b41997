#include "sheets/sheet.h"

#include "paint/marks.h"
#include "theme/theme.h"

#include <QPainter>

namespace fg::gui {

Sheet::Sheet(Workbench& workbench, const QString& title, const QString& subtitle, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_title(title, this),
      m_subtitle(subtitle, this),
      m_head(new QHBoxLayout),
      m_scroll(this),
      m_page(m_scroll.viewport()),
      m_column(&m_page) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    column->setSpacing(0);
    m_head->setContentsMargins(px(15), px(5), px(15), px(5));
    m_head->setSpacing(px(14));
    m_head->addWidget(&m_title);
    m_head->addWidget(&m_subtitle, 1);
    m_column.setContentsMargins(px(15), px(4), px(15), px(12));
    m_column.setSpacing(px(6));
    m_scroll.setWidget(&m_page);
    m_scroll.setWidgetResizable(true);
    m_scroll.setFocusPolicy(Qt::NoFocus);
    m_page.setAutoFillBackground(false);
    m_scroll.viewport()->setAutoFillBackground(false);
    column->addLayout(m_head);
    column->addWidget(&m_scroll, 1);
    connect(&workbench, &Workbench::gaugesChanged, this, &Sheet::refreshSpec);
    connect(&workbench, &Workbench::currentChanged, this, &Sheet::refreshSpec);
    connect(&workbench, &Workbench::valuesChanged, this, &Sheet::refreshValues);
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        dressLabels();
        refreshSpec();
    });
    dressLabels();
}

void Sheet::dressLabels() {
    const auto& theme = Theme::instance();
    dress(m_title, theme.text(16, true), colours().ink);
    dress(m_subtitle, theme.text(13), colours().ink2);
    for (QLabel* caption : m_captions) dress(*caption, theme.caption(), colours().ink2);
    for (QLabel* text : m_texts) dress(*text, theme.text(13), colours().ink2);
}

QLabel* Sheet::addCaption(const QString& text) {
    auto* caption = new QLabel(text, &m_page);
    m_captions.push_back(caption);
    m_column.addWidget(caption);
    dressLabels();
    return caption;
}

QLabel* Sheet::addText(const QString& text) {
    auto* label = new QLabel(text, &m_page);
    label->setWordWrap(true);
    m_texts.push_back(label);
    m_column.addWidget(label);
    dressLabels();
    return label;
}

void Sheet::refreshSpec() {
    if (!isVisible() || !view()) return;
    showSpec(*view());
    showValues(*view());
    update();
}

void Sheet::refreshValues() {
    if (!isVisible() || !view()) return;
    showValues(*view());
}

void Sheet::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refreshSpec();
}

void Sheet::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().line);
}

}  // namespace fg::gui
