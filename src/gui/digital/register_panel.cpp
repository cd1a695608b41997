#include "digital/register_panel.h"
#include "bytes/dump_text.h"
#include "registers/alert_pin.h"
#include "registers/register_checks.h"
#include "theme/theme.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <fmt/format.h>

namespace fg::gui {
namespace {

/// What a device's words look like: "F4=27 F5=A0", or "24 00" of one that takes commands.
QString exampleOf(const RegisterMap& map) {
    QStringList example;
    for (const Register& in : map.registers) {
        const RegisterWord word{&in, in.reset};
        if (in.form == WordForm::Pulses) return QStringLiteral("pulses=") + qs(word.text());
        if (in.form == WordForm::Command && in.role != CommandRole::Measures) continue;
        QString bytes;
        for (const std::uint8_t byte : word.bytes())
            bytes += qs(fmt::format("{}{:02X}", bytes.isEmpty() ? "" : " ", byte));
        if (in.form == WordForm::Command) return bytes;
        if (example.size() < 2) example << qs(fmt::format("{:02X}={:0{}X}", in.address, word.word, 2 * in.bytes));
    }
    return example.join(QLatin1Char(' '));
}

}  // namespace

RegisterPanel::RegisterPanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_cardColumn(new QVBoxLayout) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(px(6));
    m_paste.setObjectName(QStringLiteral("registers.paste"));
    m_costs.setObjectName(QStringLiteral("registers.costs"));
    m_problem.setObjectName(QStringLiteral("registers.problem"));
    for (QLabel* label : {&m_costs, &m_problem}) {
        label->setWordWrap(true);
        label->setTextFormat(Qt::RichText);
        makeSelectable(*label);
    }
    m_pasteForm.addRow(tr("Words to &explain"), &m_paste);
    m_cardColumn->setSpacing(px(4));
    for (QLabel* label : {&m_legend, &m_scratchpad, &m_alertNote}) label->setWordWrap(true);
    m_scratchpad.setObjectName(QStringLiteral("registers.scratchpad"));
    for (QWidget* part : std::initializer_list<QWidget*>{&m_costs, &m_pasteForm, &m_problem, &m_legend, &m_scratchpad})
        column->addWidget(part);
    column->addLayout(m_cardColumn);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_alertTitle, &m_alert, &m_alertNote})
        column->addWidget(part);
    connect(&m_paste, &QLineEdit::returnPressed, this, &RegisterPanel::paste);
}

void RegisterPanel::showPart(const DevicePart& part, const RegisterMap& map, unsigned address,
                             const std::string& settings) {
    show({&map,
          {busKindOf(part.interface), address},
          settings,
          quantityFromName(part.readings.front()).value_or(Quantity::Temperature),
          [&part, &map](std::span<const RegisterWord>, std::span<const FieldValue> values) {
              return consequencesFor(part, map, values);
          },
          [](GaugeSpec& spec, const std::string& text) { spec.sensor.parameters.set("settings", text); }});
}

void RegisterPanel::show(RegisterSubject subject) {
    const bool isOther = m_map != subject.map;
    m_subject = std::move(subject);
    if (isOther || m_subject.settings != m_kept) {
        m_map = m_subject.map;
        m_kept = m_subject.settings;
        m_words.clear();
        m_asked = RegisterMap::readSettings(m_kept).value_or(std::vector<Setting>());
        for (const Register& one : m_map->registers) m_words.push_back({&one, one.reset});
        if (const auto words = m_map->set(m_asked, m_words)) m_words = *words;
        if (isOther) build();
    }
    refresh();
}

void RegisterPanel::build() {
    for (RegisterCard* card : m_cards) {
        card->hide();
        card->deleteLater();
    }
    m_cards.clear();
    m_problem.clear();
    m_paste.setPlaceholderText(m_map->hasCommands()
                                   ? tr("as they are sent, one after the other: %1").arg(exampleOf(*m_map))
                                   : tr("by address or name: %1").arg(exampleOf(*m_map)));
    for (const Register& in : m_map->registers) {
        m_cards.push_back(
            new RegisterCard(in, [this](const RegisterField& field, const std::string& value) { set(field, value); }));
        m_cardColumn->addWidget(m_cards.back());
        m_cards.back()->show();  // at once: shown later, the page that scrolls would not hear of it
    }
}

void RegisterPanel::set(const RegisterField& field, const std::string& value) {
    const std::vector<Setting> setting{{field.id, value}};
    const auto words = m_map->set(setting, m_words);
    m_problem.setText(words ? QString() : tr("Not set: %1.").arg(qs(words.error().message()).toHtmlEscaped()));
    if (words) {
        m_words = *words;
        std::erase_if(m_asked, [&](const Setting& one) { return one.id == field.id; });
        for (const FieldValue& now : m_map->all(m_words))
            if (now.field->id == field.id) m_asked.push_back({field.id, now.text});
        keep();
    }
    refresh();
}

// Into the gauge, one undoable step.
void RegisterPanel::keep() {
    std::string text;
    for (const Setting& one : m_asked) text += (text.empty() ? "" : ",") + one.id + "=" + one.value;
    if (text == m_kept) return;
    m_kept = text;
    m_workbench.edit(tr("Set registers"), [&](GaugeSpec& spec) { m_subject.keep(spec, text); });
}

void RegisterPanel::paste() {
    const auto raw = readDump(m_map->withAddresses(m_paste.text().toStdString()));
    const auto words = raw ? m_map->words(*raw) : Expected<std::vector<RegisterWord>>(tl::unexpected(raw.error()));
    m_problem.setText(words ? QString() : tr("Not read: %1.").arg(qs(words.error().message()).toHtmlEscaped()));
    if (!words) return refresh();
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
    dress(m_costs, Theme::instance().text(13), colours().ink);
    dress(m_legend, Theme::instance().text(12), colours().ink2);
    dress(m_scratchpad, Theme::instance().digits(12), colours().ink2);
    const std::string_view legend = transactionLegend(m_subject.place.kind);
    m_legend.setText(qs(std::string(legend)));
    m_legend.setVisible(!legend.empty());
    QStringList lines;
    for (const Transaction& one : scratchpadTransactions(*m_map, m_words, m_subject.place))
        lines << QStringLiteral("%1: %2").arg(qs(one.title), qs(transactionText(one.steps)));
    m_scratchpad.setText(lines.join(QLatin1Char('\n')));
    m_scratchpad.setVisible(!lines.isEmpty());
    dress(m_problem, Theme::instance().text(13, true), colours().ink);
    m_problem.setVisible(!m_problem.text().isEmpty());
    const auto values = m_map->all(m_words);
    for (std::size_t i = 0; i < m_cards.size(); ++i) m_cards[i]->showWord(m_words[i], values, m_subject.place);
    showAlert(values);
    QString costs;
    for (const Consequence& one : m_subject.costs(m_words, values))
        costs += QStringLiteral("<tr><td>%1 &nbsp;</td><td><b>%2</b> &nbsp;</td><td>%3</td></tr>")
                     .arg(qs(one.title), qs(consequenceText(one)), qs(one.note));
    for (const DeviceStatus& one : checkSettings(values))
        costs = QStringLiteral("<tr><td colspan=3><b>%1</b>: %2.</td></tr>")
                    .arg(one.kind == StatusKind::Fault ? tr("Fault") : tr("Note"), qs(one.text).toHtmlEscaped()) +
                costs;
    m_costs.setText(QStringLiteral("<table cellspacing=1>%1</table>").arg(costs));
    m_costs.setVisible(!costs.isEmpty());
}

void RegisterPanel::showAlert(const std::vector<FieldValue>& values) {
    const auto setting = alertSettingOf(values);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_alertTitle, &m_alert, &m_alertNote})
        part->setVisible(setting.has_value());
    if (!setting) return;
    dress(m_alertTitle, Theme::instance().caption(), colours().ink2);
    dress(m_alertNote, Theme::instance().text(12), colours().ink2);
    m_alertTitle.setText(tr("The alert pin over a reading that passes both limits"));
    const QString marks = setting->isClearedByWrite ? tr("◎ the host writes the bit that clears the interrupt. %1")
                                                    : tr("◎ the host reads the device. %1");
    m_alertNote.setText(
        marks.arg(
            !setting->isEnabled ? tr("The output is switched off, as after a reset: nothing moves it.")
            : setting->mode == AlertMode::WindowEdges
                ? tr("Latched at each crossing of the window's edges until it is cleared by a write.")
            : setting->mode == AlertMode::Interrupt
                ? tr("Latched at the high limit until read, then at the low one: reading clears it.")
            : setting->mode == AlertMode::Window
                ? tr("On beyond the limits that set it, off again inside those that clear it; reading clears nothing.")
            : setting->mode == AlertMode::WindowLatched
                ? tr("Latched outside the limits: reading clears it.")
                : tr("On from the high limit down to the low one: only the temperature clears it.")) +
        (setting->offset != 0 ? tr(" The offset moves the reading away from what is sensed; the limits stay.")
                              : QString()));
    m_alert.setMinimumHeight(px(180));
    const AlertPicture picture = alertPicture(*setting);
    const auto flat = [&](double level) { return QVector<double>(static_cast<qsizetype>(picture.time.size()), level); };
    const QVector<double> time(picture.time.begin(), picture.time.end());
    m_alert.setAxes({}, {});
    QVector<Curve> curves{{time,
                           QVector<double>(picture.value.begin(), picture.value.end()),
                           {},
                           colours().of(m_subject.quantity).line,
                           true},
                          {time, flat(picture.high), tr("high"), {}, false},
                          {time, flat(picture.low), tr("low"), {}, false},
                          {time, QVector<double>(picture.pin.begin(), picture.pin.end()), tr("pin"), colours().ink,
                           true}};
    if (!picture.sensed.empty())
        curves << Curve{time, QVector<double>(picture.sensed.begin(), picture.sensed.end()), tr("sensed"),
                        colours().ink2, true};
    if (picture.clearHigh) curves << Curve{time, flat(*picture.clearHigh), tr("clears"), {}, false};
    if (picture.clearLow) curves << Curve{time, flat(*picture.clearLow), tr("clears"), {}, false};
    m_alert.setCurves(curves);
    m_alert.setMarks(QVector<double>(picture.readTime.begin(), picture.readTime.end()),
                     QVector<double>(picture.readValue.begin(), picture.readValue.end()), colours().ink);
}

}  // namespace fg::gui
