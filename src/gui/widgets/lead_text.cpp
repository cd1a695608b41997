#include "widgets/lead_text.h"

#include <cmath>
#include <QEvent>
#include <QPainter>

namespace fg::gui {

LeadText::LeadText(QWidget* parent) : QWidget(parent) {
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void LeadText::show(const std::vector<Paragraph>& paragraphs) {
    if (paragraphs == m_paragraphs) return;
    m_paragraphs = paragraphs;
    setText();
    updateGeometry();
    update();
}

void LeadText::setIndent(int indent) {
    m_indent = indent;
    updateGeometry();
}

void LeadText::setText() {
    m_layouts.clear();
    m_arrangedFor = -1;
    QStringList all;
    for (const auto& [lead, text] : m_paragraphs) {
        // Two spaces, the first of which does not break: the bold words stand apart from what follows.
        const QString whole = lead + QStringLiteral("\u00a0 ") + text;
        auto layout = std::make_unique<QTextLayout>(whole, font());
        QFont bold = font();
        bold.setBold(true);
        QTextCharFormat format;
        format.setFont(bold);
        layout->setFormats({{0, static_cast<int>(lead.size()), format}});
        layout->setCacheEnabled(true);
        m_layouts.push_back(std::move(layout));
        all << whole;
    }
    setAccessibleName(all.join(QLatin1Char('\n')));
}

double LeadText::arrange(double width) const {
    if (width == m_arrangedFor) return m_height;
    m_arrangedFor = width;
    m_height = 0;
    for (const auto& layout : m_layouts) {
        layout->beginLayout();
        for (QTextLine line = layout->createLine(); line.isValid(); line = layout->createLine()) {
            line.setLineWidth(std::max(1.0, width));
            line.setPosition({0, m_height});
            m_height += line.height();
        }
        layout->endLayout();
    }
    return m_height;
}

int LeadText::heightForWidth(int width) const { return static_cast<int>(std::ceil(arrange(width - m_indent))); }

QSize LeadText::sizeHint() const {
    const int width = m_indent + fontMetrics().averageCharWidth() * 40;
    return {width, heightForWidth(width)};
}

QSize LeadText::minimumSizeHint() const { return {m_indent + fontMetrics().averageCharWidth() * 10, 0}; }

void LeadText::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    arrange(width() - m_indent);
    for (const auto& layout : m_layouts) layout->draw(&painter, {static_cast<double>(m_indent), 0});
}

void LeadText::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() != QEvent::FontChange) return;
    setText();
    updateGeometry();
    update();
}

}  // namespace fg::gui
