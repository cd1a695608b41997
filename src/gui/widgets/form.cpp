#include "widgets/form.h"

#include "theme/theme.h"

namespace fg::gui {
namespace {

QLabel* quietLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setStyleSheet(QStringLiteral("color: %1").arg(colours().ink2.name()));
    label->setWordWrap(true);
    return label;
}

}  // namespace

Form::Form(QWidget* parent) : QWidget(parent), m_grid(this) {
    m_grid.setContentsMargins(0, 0, 0, 0);
    m_grid.setHorizontalSpacing(px(10));
    m_grid.setVerticalSpacing(px(5));
    m_grid.setColumnStretch(3, 1);
    m_grid.setColumnMinimumWidth(0, px(168));
}

void Form::addRow(const QString& label, QWidget* entry, QWidget* second, const QString& note) {
    auto* name = new QLabel(label);
    name->setBuddy(entry);
    entry->setAccessibleName(label);
    entry->setMinimumWidth(px(150));
    m_grid.addWidget(name, m_row, 0);
    m_grid.addWidget(entry, m_row, 1, 1, second || !note.isEmpty() ? 1 : 2);
    if (second) {
        second->setFixedWidth(px(110));
        if (second->accessibleName().isEmpty()) second->setAccessibleName(label + QStringLiteral(", ") + tr("tolerance"));
        m_grid.addWidget(second, m_row, 2);
    }
    if (!note.isEmpty()) m_grid.addWidget(quietLabel(note), m_row, second ? 3 : 2, 1, second ? 1 : 2);
    ++m_row;
}

QLabel* Form::addNote(const QString& text) {
    QLabel* label = quietLabel(text);
    m_grid.addWidget(label, m_row++, 0, 1, 4);
    return label;
}

void Form::clear() {
    while (QLayoutItem* item = m_grid.takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    m_row = 0;
}

}  // namespace fg::gui
