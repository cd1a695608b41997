#include "widgets/form.h"

#include "theme/theme.h"
#include "widgets/clear_layout.h"
#include "widgets/value_edit.h"

#include <QComboBox>
#include <QSpinBox>

namespace fg::gui {
namespace {

constexpr double kLabelWidth = 178;
constexpr double kEntryWidth = 150;
constexpr double kSecondWidth = 110;

}  // namespace

Form::Form(QWidget* parent)
    : QWidget(parent), m_grid(this), m_labelWidth(kLabelWidth), m_entryWidth(kEntryWidth), m_secondWidth(kSecondWidth) {
    m_grid.setContentsMargins(0, 0, 0, 0);
    m_grid.setHorizontalSpacing(px(10));
    m_grid.setVerticalSpacing(px(5));
    m_grid.setColumnStretch(3, 1);
    setWidths(kLabelWidth, kEntryWidth, kSecondWidth);
    connect(&Theme::instance(), &Theme::changed, this, &Form::dressNotes);
}

void Form::setWidths(double label, double entry, double second) {
    m_labelWidth = label;
    m_entryWidth = entry;
    m_secondWidth = second;
    m_grid.setColumnMinimumWidth(0, px(label));
    m_grid.setColumnMinimumWidth(1, px(entry));
    m_grid.setColumnMinimumWidth(2, px(second));
}

QLabel* Form::note(const QString& text) {
    auto* label = new QLabel(text, this);
    label->setWordWrap(true);
    m_notes.push_back(label);
    dressNotes();
    return label;
}

void Form::dressNotes() {
    for (QLabel* label : m_notes) dress(*label, Theme::instance().text(12), colours().ink2);
}

QLabel* Form::addRow(const QString& label, QWidget* entry, QWidget* second, const QString& remark) {
    auto* name = new QLabel(label, this);
    name->setBuddy(entry);
    // A sentence for a label goes over several lines; a few letters too many only push the entries along.
    if (QFontMetrics(Theme::instance().text()).horizontalAdvance(label) > 1.3 * px(m_labelWidth)) {
        name->setWordWrap(true);
        name->setMaximumWidth(px(m_labelWidth));
    }
    entry->setAccessibleName(label);
    m_grid.addWidget(name, m_row, 0);
    // Values keep one width, so that their right edges line up; texts and choices take what is there.
    const bool isValue = qobject_cast<ValueEdit*>(entry) != nullptr || qobject_cast<QSpinBox*>(entry) != nullptr;
    if (isValue) entry->setFixedWidth(px(m_entryWidth));
    // A long choice may be cut off before the page gets wider than the window.
    if (qobject_cast<QComboBox*>(entry)) entry->setMinimumWidth(px(m_entryWidth));
    const bool wide = !m_isNarrow && !isValue && remark.isEmpty() && !second;
    m_grid.addWidget(entry, m_row, 1, 1, wide ? 3 : isValue ? 1 : 2);
    if (second) {
        second->setFixedWidth(px(m_secondWidth));
        if (second->accessibleName().isEmpty())
            second->setAccessibleName(label + QStringLiteral(", ") + tr("tolerance"));
        m_grid.addWidget(second, m_row, 2);
    }
    QLabel* said = remark.isEmpty() ? nullptr : note(remark);
    if (said) m_grid.addWidget(said, m_row, second || !isValue ? 3 : 2, 1, second || !isValue ? 1 : 2);
    ++m_row;
    return said;
}

QLabel* Form::addNote(const QString& text) {
    QLabel* label = note(text);
    m_grid.addWidget(label, m_row++, 0, 1, 4);
    return label;
}

void Form::setRowVisible(const QWidget& entry, bool isVisible) {
    const int index = m_grid.indexOf(&entry);
    if (index < 0) return;
    int row = 0, column = 0, rows = 0, columns = 0;
    m_grid.getItemPosition(index, &row, &column, &rows, &columns);
    for (int at = 0; at < m_grid.columnCount(); ++at)
        if (const QLayoutItem* item = m_grid.itemAtPosition(row, at))
            if (QWidget* widget = item->widget()) widget->setVisible(isVisible);
}

void Form::clear() {
    clearLayout(m_grid);
    m_row = 0;
    m_notes.clear();
}

}  // namespace fg::gui
