#include "digital/register_panel.h"

#include "devices/alert_pin.h"
#include "devices/bus_transaction.h"
#include "devices/dump_text.h"
#include "theme/theme.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

QString qs(const std::string& text) { return QString::fromStdString(text); }

/// What a device's words look like: "F4=27 F5=A0", or "24 00" of one that takes commands.
QString exampleOf(const RegisterMap& map) {
    QStringList example;
    for (const Register& in : map.registers) {
        const RegisterWord word{&in, in.reset};
        if (in.form == WordForm::Pulses) return QStringLiteral("pulses=") + qs(word.text());
        if (in.form == WordForm::Command && in.role != CommandRole::Measures) continue;
        QString bytes;
        for (const std::uint8_t byte : word.bytes()) bytes += qs(fmt::format("{}{:02X}", bytes.isEmpty() ? "" : " ", byte));
        if (in.form == WordForm::Command) return bytes;
        if (example.size() < 2) example << qs(fmt::format("{:02X}={:0{}X}", in.address, word.word, 2 * in.bytes));
    }
    return example.join(QLatin1Char(' '));
}

/// A word with all that can be said of it, as a row of a table.
QString rowOf(const RegisterWord& word, unsigned address) {
    const Register& in = *word.in;
    QStringList bus;
    if (address)
        for (const Transaction& one : transactionsOf(word, address))
            bus << QStringLiteral("%1: %2").arg(qs(one.title), qs(transactionText(one.steps)));
    QString about = qs(in.effect).toHtmlEscaped();
    if (!in.isResetKnown) about = RegisterPanel::tr("what it holds after power-on is not stated: write it");
    return QStringLiteral("<tr><td>%1&nbsp;</td><td>%2%3&nbsp;</td><td><b>%4</b>&nbsp;&nbsp; %5&nbsp;&nbsp;</td><td>%6</td></tr>")
        .arg(qs(in.place()), qs(in.name), about.isEmpty() ? QString() : QStringLiteral("<br><i>%1</i>").arg(about), qs(word.text()),
             in.isReadOnly ? RegisterPanel::tr("only read") : qs(word.binary()), bus.join(QStringLiteral("<br>")));
}

}  // namespace

RegisterPanel::RegisterPanel(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(px(6));
    m_paste.setObjectName(QStringLiteral("registers.paste"));
    m_wordsText.setObjectName(QStringLiteral("registers.words"));
    m_costs.setObjectName(QStringLiteral("registers.costs"));
    m_problem.setObjectName(QStringLiteral("registers.problem"));
    for (QLabel* label : {&m_wordsText, &m_costs, &m_problem}) {
        label->setWordWrap(true);
        label->setTextFormat(Qt::RichText);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    }
    m_pasteForm.addRow(tr("Words to &explain"), &m_paste);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_wordsText, &m_costs, &m_fields, &m_pasteForm, &m_problem, &m_alertTitle,
                                                         &m_alert, &m_alertNote})
        column->addWidget(part);
    connect(&m_paste, &QLineEdit::returnPressed, this, &RegisterPanel::paste);
}

void RegisterPanel::showPart(const DevicePart& part, const RegisterMap& map, unsigned address) {
    m_part = &part;  // of the catalogue, which outlives the window
    m_address = address;
    if (m_map != &map) {
        m_map = &map;
        m_words.clear();
        m_asked.clear();
        for (const Register& one : map.registers) m_words.push_back({&one, one.reset});
        build();
    }
    refresh();
}

void RegisterPanel::build() {
    m_fields.clear();
    m_choices.clear();
    m_numbers.clear();
    m_problem.clear();
    m_paste.setPlaceholderText(exampleOf(*m_map));
    for (const Register& in : m_map->registers)
        for (const RegisterField& field : in.fields) {
            if (field.isReadOnly) continue;
            if (field.choices.empty()) {
                auto* entry = new QLineEdit;
                entry->setObjectName(QStringLiteral("register.") + qs(field.id));
                connect(entry, &QLineEdit::editingFinished, this, [this, entry, &field] {
                    if (!entry->isModified()) return;
                    entry->setModified(false);
                    set(field, entry->text().toStdString());
                });
                m_numbers[&field] = entry;
                m_fields.addRow(qs(field.title), entry, nullptr, qs(field.effect));
                continue;
            }
            auto* choice = new QComboBox;
            choice->setObjectName(QStringLiteral("register.") + qs(field.id));
            for (const auto& [name, code] : field.choices) choice->addItem(qs(name), qs(name));
            connect(choice, &QComboBox::activated, this,
                    [this, choice, &field] { set(field, choice->currentData().toString().toStdString()); });
            m_choices[&field] = choice;
            m_fields.addRow(qs(field.title), choice, nullptr, qs(field.effect));
        }
}

void RegisterPanel::set(const RegisterField& field, const std::string& value) {
    const std::vector<Setting> setting{{field.id, value}};
    const auto words = m_map->set(setting, m_words);
    m_problem.setText(words ? QString() : tr("Not set: %1.").arg(qs(words.error().message()).toHtmlEscaped()));
    if (words) {
        m_words = *words;
        std::erase_if(m_asked, [&](const Setting& one) { return one.id == field.id; });
        m_asked.push_back(setting.front());
    }
    refresh();
}

void RegisterPanel::paste() {
    const auto raw = readDump(m_paste.text().toStdString());
    const auto words = raw ? m_map->words(*raw) : Expected<std::vector<RegisterWord>>(tl::unexpected(raw.error()));
    m_problem.setText(words ? QString() : tr("Not read: %1.").arg(qs(words.error().message()).toHtmlEscaped()));
    if (!words) return;
    compare(*words);
    for (const RegisterWord& word : *words)
        for (RegisterWord& own : m_words)
            if (own.in == word.in) own.word = word.word;
    refresh();
}

// The pasted words against what was chosen on the sheet; a register that was not pasted is as the sheet had it.
void RegisterPanel::compare(const std::vector<RegisterWord>& pasted) {
    if (m_asked.empty()) return;
    std::vector<RegisterWord> words = m_words;
    for (RegisterWord& own : words)
        for (const RegisterWord& word : pasted)
            if (own.in == word.in) own.word = word.word;
    const auto found = m_map->compare(words, m_asked);
    if (!found) return m_problem.setText(qs(found.error().message()).toHtmlEscaped());
    QStringList lines;
    for (const Mismatch& one : *found) lines << tr("Not as chosen: %1.").arg(qs(one.text).toHtmlEscaped());
    m_problem.setText(lines.isEmpty() ? tr("These words do what was chosen.") : lines.join(QStringLiteral("<br>")));
}

void RegisterPanel::refresh() {
    for (QLabel* label : {&m_wordsText, &m_costs}) dress(*label, Theme::instance().text(13), colours().ink);
    dress(m_problem, Theme::instance().text(13, true), colours().ink);
    QString text = QStringLiteral("<table cellspacing=3>");
    for (const RegisterWord& word : m_words) text += rowOf(word, m_address);
    m_wordsText.setText(text + QStringLiteral("</table>"));
    const auto values = m_map->all(m_words);
    showAlert(values);
    QStringList costs;
    for (const Consequence& one : consequencesFor(*m_part, *m_map, values))
        costs << QStringLiteral("%1 <b>%2</b>%3")
                     .arg(qs(one.title), qs(engineering(one.value, one.quantity, 4).joined()),
                          one.note.empty() ? QString() : QStringLiteral(" (%1)").arg(qs(one.note)));
    m_costs.setText(costs.join(QStringLiteral("<br>")));
    m_costs.setVisible(!costs.isEmpty());
    for (const FieldValue& value : values) {
        if (const auto it = m_choices.find(value.field); it != m_choices.end())
            it->second->setCurrentIndex(it->second->findData(qs(value.text)));
        if (const auto it = m_numbers.find(value.field); it != m_numbers.end() && !it->second->hasFocus())
            it->second->setText(qs(value.text));
    }
}

void RegisterPanel::showAlert(const std::vector<FieldValue>& values) {
    const auto setting = alertSettingOf(values);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_alertTitle, &m_alert, &m_alertNote}) part->setVisible(setting.has_value());
    if (!setting) return;
    dress(m_alertTitle, Theme::instance().caption(), colours().ink2);
    dress(m_alertNote, Theme::instance().text(12), colours().ink2);
    m_alertTitle.setText(tr("The alert pin over a temperature that passes both limits"));
    m_alertNote.setText(tr("○ the host reads the device. %1")
                            .arg(setting->mode == AlertMode::Interrupt
                                     ? tr("Latched at the high limit until read, then at the low one: reading clears it.")
                                 : setting->mode == AlertMode::Window
                                     ? tr("On beyond the limits that set it, off again inside those that clear it; reading clears nothing.")
                                 : setting->mode == AlertMode::WindowLatched
                                     ? tr("Latched outside the limits: reading clears it.")
                                     : tr("On from the high limit down to the low one: only the temperature clears it.")));
    m_alert.setMinimumHeight(px(180));
    const AlertPicture picture = alertPicture(*setting);
    const auto flat = [&](double level) { return QVector<double>(static_cast<qsizetype>(picture.time.size()), level); };
    const QVector<double> time(picture.time.begin(), picture.time.end());
    m_alert.setAxes({}, {});
    QVector<Curve> curves{{time, QVector<double>(picture.value.begin(), picture.value.end()), {}, colours().temperature.line, true},
                          {time, flat(picture.high), tr("high"), {}, false},
                          {time, flat(picture.low), tr("low"), {}, false},
                          {time, QVector<double>(picture.pin.begin(), picture.pin.end()), tr("pin"), colours().ink, true}};
    if (picture.clearHigh) curves << Curve{time, flat(*picture.clearHigh), tr("clears"), {}, false};
    if (picture.clearLow) curves << Curve{time, flat(*picture.clearLow), tr("clears"), {}, false};
    m_alert.setCurves(curves);
    m_alert.setMarks(QVector<double>(picture.readTime.begin(), picture.readTime.end()),
                     QVector<double>(picture.readValue.begin(), picture.readValue.end()), colours().ink);
}

}  // namespace fg::gui
