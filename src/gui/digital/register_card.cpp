#include "digital/register_card.h"
#include "theme/theme.h"
#include "widgets/combo_box.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QPainter>

namespace fg::gui {
namespace {

QString inSecondInk(const QString& text) {
    return QStringLiteral("<span style='color:%1'>%2</span>").arg(colours().ink2.name(), text.toHtmlEscaped());
}

}  // namespace

RegisterCard::RegisterCard(const Register& in, std::function<void(const RegisterField&, const std::string&)> isAsked,
                           QWidget* parent)
    : QWidget(parent), m_in(in), m_isAsked(std::move(isAsked)) {
    const QString id = qs(in.name);
    m_word.setObjectName(QStringLiteral("register.word.") + id);
    m_bus.setObjectName(QStringLiteral("register.bus.") + id);
    m_read.setObjectName(QStringLiteral("register.read.") + id);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(7), 0, px(3));
    column->setSpacing(px(4));
    auto* head = new QHBoxLayout;
    head->setSpacing(px(10));
    head->addWidget(&m_name, 1);
    head->addWidget(&m_word, 1);
    m_word.setAlignment(Qt::AlignRight | Qt::AlignTop);
    column->addLayout(head);
    for (QLabel* label : {&m_name, &m_word, &m_effect, &m_read, &m_bus}) label->setWordWrap(true);
    column->addWidget(&m_effect);
    column->addWidget(&m_read);
    column->addWidget(&m_fields);
    column->addWidget(&m_bus);
    for (QLabel* label : {&m_name, &m_word, &m_read, &m_bus}) {
        label->setTextFormat(Qt::RichText);
        makeSelectable(*label);
    }
    m_fields.setWidths(210, 120, 60);
    m_fields.keepNarrow();
    for (const RegisterField& field : in.fields)
        if (!field.isReadOnly) addField(field);
    m_fields.setVisible(!m_choices.empty() || !m_numbers.empty());
}

void RegisterCard::addField(const RegisterField& field) {
    const QString name = QStringLiteral("register.") + qs(field.id);
    if (field.choices.empty()) {
        auto* entry = new QLineEdit;
        entry->setObjectName(name);
        connect(entry, &QLineEdit::editingFinished, this, [this, entry, &field] {
            if (!entry->isModified()) return;
            entry->setModified(false);
            m_isAsked(field, entry->text().toStdString());
        });
        m_numbers[&field] = entry;
        m_fields.addRow(qs(field.title), entry, nullptr, qs(field.effect));
        return;
    }
    auto* choice = new ComboBox;
    choice->setObjectName(name);
    for (const auto& [text, code] : field.choices) choice->addItem(qs(text), qs(text));
    connect(choice, &QComboBox::activated, this,
            [this, choice, &field] { m_isAsked(field, choice->currentData().toString().toStdString()); });
    m_choices[&field] = choice;
    m_fields.addRow(qs(field.title), choice, nullptr, qs(field.effect));
}

void RegisterCard::showWord(const RegisterWord& word, std::span<const FieldValue> values, const BusSite& site) {
    const auto& theme = Theme::instance();
    dress(m_name, theme.text(13), colours().ink);
    dress(m_word, theme.text(13), colours().ink);
    dress(m_effect, theme.text(12), colours().ink2);
    dress(m_read, theme.text(12), colours().ink2);
    dress(m_bus, theme.digits(12), colours().ink2);
    m_name.setText(
        QStringLiteral("<b>%1</b> &nbsp;%2").arg(qs(m_in.name).toHtmlEscaped(), inSecondInk(qs(m_in.place()))));
    m_word.setText(QStringLiteral("<b>%1</b> &nbsp;%2").arg(qs(word.text()), inSecondInk(qs(word.binary()))));
    QString effect = qs(m_in.effect);
    if (!m_in.isResetKnown)
        effect += (effect.isEmpty() ? QString() : QStringLiteral("; ")) +
                  tr("what it holds after power-on is not stated: write it");
    m_effect.setText(effect);
    m_effect.setVisible(!effect.isEmpty());
    QStringList read;
    for (const FieldValue& value : values) {
        if (value.in != &m_in) continue;
        if (value.field->isReadOnly)
            read << QStringLiteral("%1 <b>%2</b>")
                        .arg(qs(value.field->title).toHtmlEscaped(), qs(value.text).toHtmlEscaped());
        if (const auto it = m_choices.find(value.field); it != m_choices.end())
            it->second->setCurrentIndex(it->second->findData(qs(value.text)));
        if (const auto it = m_numbers.find(value.field); it != m_numbers.end() && !it->second->hasFocus())
            it->second->setText(qs(value.text));
    }
    m_read.setText(read.isEmpty() ? QString() : tr("Only read: %1").arg(read.join(QStringLiteral(" · "))));
    m_read.setVisible(!read.isEmpty());
    QStringList bus;
    for (const Transaction& one : transactionsOf(word, site))
        bus << QStringLiteral("%1: %2").arg(qs(one.title), qs(transactionText(one.steps)));
    m_bus.setText(bus.join(QStringLiteral("<br>")));
    m_bus.setVisible(!bus.isEmpty());
}

void RegisterCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(QRect(0, 0, width(), 1), colours().line);
}

}  // namespace fg::gui
