#include "sheets/setup_words.h"

#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

namespace fg::gui {
namespace {

QString titleOf(const RegisterMap& map) {
    return map.title.empty() ? qs(map.id) : QStringLiteral("%1: %2").arg(qs(map.id), qs(map.title));
}

double clockOf(const GaugeSpec& spec) { return spec.converter.parameters.numberOr("setup_clock_Hz", 0); }

}  // namespace

SetupWords::SetupWords(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_panel(workbench) {
    setObjectName(QStringLiteral("converter.setup"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(8), 0, 0);
    column->setSpacing(px(6));
    m_title.setText(tr("Set-up words"));
    m_whose.setObjectName(QStringLiteral("setup.whose"));
    m_clock.setObjectName(QStringLiteral("setup.clock"));
    m_clock.setPlaceholderText(tr("16 MHz"));
    m_clock.setMaximumWidth(px(150));
    m_verdict.setObjectName(QStringLiteral("setup.verdict"));
    m_verdict.setWordWrap(true);
    m_verdict.setTextFormat(Qt::PlainText);
    makeSelectable(m_verdict);
    m_fit.setObjectName(QStringLiteral("setup.fit"));
    m_fit.setText(tr("Set as the gauge counts"));
    m_form.addRow(tr("The converter is of"), &m_whose);
    m_form.addRow(tr("Clock of its controller"), &m_clock);
    column->addWidget(&m_title);
    column->addWidget(&m_form);
    column->addWidget(&m_verdict);
    column->addWidget(&m_fit, 0, Qt::AlignLeft);
    column->addWidget(&m_panel);
    connect(&m_whose, &QComboBox::activated, this,
            [this] { chooseMap(m_whose.currentData().toString().toStdString()); });
    connect(&m_clock, &QLineEdit::editingFinished, this, &SetupWords::setClock);
    connect(&m_fit, &QPushButton::clicked, this, &SetupWords::setAsCounted);
}

void SetupWords::showSpec(const GaugeSpec& spec) {
    const auto maps = setupMaps(m_workbench.catalogue(), spec);
    const RegisterMap* map = setupMapOf(m_workbench.catalogue(), spec);
    setVisible(!maps.empty() || map);
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_whose.clear();
    m_whose.addItem(tr("not given"), QString());
    for (const RegisterMap* each : maps) m_whose.addItem(titleOf(*each), qs(each->id));
    if (map && m_whose.findData(qs(map->id)) < 0) m_whose.addItem(titleOf(*map), qs(map->id));
    m_whose.setCurrentIndex(map ? m_whose.findData(qs(map->id)) : 0);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_verdict, &m_fit, &m_panel}) part->setVisible(map);
    m_form.setRowVisible(m_clock, map && !map->title.empty());
    if (!map) return;
    if (!m_clock.hasFocus())
        m_clock.setText(clockOf(spec) > 0 ? qs(shortEngineering(clockOf(spec), Quantity::Frequency).joined())
                                          : QString());
    m_panel.show(
        {map,
         {},
         spec.converter.parameters.textOr("setup", ""),
         spec.quantity,
         [map, clock = clockOf(spec)](std::span<const RegisterWord> words, std::span<const FieldValue> values) {
             auto costs = setupTiming(*map, words, clock).consequences;
             for (Consequence& one : consequencesOf(*map, values)) costs.push_back(std::move(one));
             return costs;
         },
         [](GaugeSpec& changed, const std::string& text) { changed.converter.parameters.set("setup", text); }});
    showVerdict(spec, *map);
}

void SetupWords::showVerdict(const GaugeSpec& spec, const RegisterMap& map) {
    const auto settings = RegisterMap::readSettings(spec.converter.parameters.textOr("setup", ""));
    const auto words =
        settings ? map.set(*settings) : Expected<std::vector<RegisterWord>>(tl::unexpected(settings.error()));
    QStringList lines;
    bool isCounted = false;
    if (!words) {
        lines << tr("Not read: %1.").arg(qs(words.error().message()));
    } else {
        for (const SetupMismatch& one : checkSetup(map, *words, spec, m_workbench.catalogue()))
            lines << qs(one.text) + QLatin1Char('.');
        const SetupTiming timing = setupTiming(map, *words, clockOf(spec));
        if (!timing.problem.empty()) {
            QString text = qs(timing.problem) + QLatin1Char('.');
            text.front() = text.front().toUpper();
            lines << text + (timing.advice.empty() ? QString() : tr(" Set %1.").arg(qs(timing.advice)));
        }
        isCounted = lines.isEmpty();
        for (const std::string& one : setupFor(map, spec, m_workbench.catalogue()).impossible)
            lines << tr("Not from this gauge: %1.").arg(qs(one));
        if (lines.isEmpty()) lines << tr("These words make the converter count as the gauge does.");
    }
    dress(m_verdict, Theme::instance().text(13, true), colours().ink);
    m_verdict.setText(lines.join(QLatin1Char('\n')));
    m_fit.setVisible(!isCounted);
}

void SetupWords::chooseMap(const std::string& id) {
    m_workbench.edit(id.empty() ? tr("No set-up words") : tr("Set-up words of %1").arg(qs(id)), [&](GaugeSpec& spec) {
        spec.converter.parameters.set("setup_part", id);
        spec.converter.parameters.set("setup", "");
        fit(spec);
    });
}

void SetupWords::setAsCounted() {
    m_workbench.edit(tr("Set up as the gauge counts"), [this](GaugeSpec& spec) { fit(spec); });
}

void SetupWords::fit(GaugeSpec& spec) const {
    if (const RegisterMap* map = setupMapOf(m_workbench.catalogue(), spec))
        spec.converter.parameters.set("setup", settingsAsCounted(*map, spec, m_workbench.catalogue()));
}

void SetupWords::setClock() {
    if (!m_clock.isModified()) return;
    m_clock.setModified(false);
    const QString typed = m_clock.text().trimmed();
    const auto clock =
        typed.isEmpty() ? Expected<ReadValue>(ReadValue{}) : readValue(typed.toStdString(), Quantity::Frequency);
    if (!clock) {
        dress(m_verdict, Theme::instance().text(13, true), colours().ink);
        return m_verdict.setText(tr("Clock not read: %1.").arg(qs(clock.error().message())));
    }
    m_workbench.edit(tr("Controller's clock"),
                     [&](GaugeSpec& spec) { spec.converter.parameters.set("setup_clock_Hz", clock->canonical); });
}

}  // namespace fg::gui
