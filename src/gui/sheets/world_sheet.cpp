#include "sheets/world_sheet.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <array>
#include <QAbstractItemView>
#include <QGridLayout>

namespace fg::gui {
namespace {

struct Caution {
    const char* id;
    const char* text;
};
constexpr std::array kCautions{Caution{"heat", "heats something"},           Caution{"mains", "switches mains"},
                               Caution{"pressure", "vessel under pressure"}, Caution{"vacuum", "vessel under vacuum"},
                               Caution{"battery", "battery or cell"},        Caution{"water", "wet place"},
                               Caution{"health", "someone's health"}};

}  // namespace

WorldSheet::WorldSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("World"), tr("What is measured, how far, and what depends on it."), parent) {
    setObjectName(QStringLiteral("sheet.world"));
    m_name.setObjectName(QStringLiteral("world.name"));
    m_note.setObjectName(QStringLiteral("world.note"));
    m_low.setObjectName(QStringLiteral("world.low"));
    m_high.setObjectName(QStringLiteral("world.high"));
    m_unit.setObjectName(QStringLiteral("world.unit"));
    m_channel.setObjectName(QStringLiteral("world.channel"));
    m_channel.setEditable(true);
    m_form.addRow(tr("&Name"), &m_name);
    m_form.addRow(tr("No&te"), &m_note);
    m_form.addRow(tr("&Unit of the reading"), &m_unit);
    m_form.addRow(tr("Span, &low end"), &m_low, nullptr, tr("sizing and findings look at this span"));
    m_form.addRow(tr("Span, hi&gh end"), &m_high);
    m_form.addRow(tr("Live &channel"), &m_channel, nullptr, tr("the name before = in the board's lines"));
    body().addWidget(&m_form);
    addCaption(tr("Take care"));
    addText(
        tr("What this gauge watches. The usual cautions are shown with it; they do not replace a cut-out, a relief "
           "valve or licensed work."));
    addCautions();
    body().addStretch();

    connect(&m_name, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_name.text().trimmed().toStdString();
        if (view() && !name.empty() && name != view()->spec().name)
            this->workbench().edit(tr("Rename to %1").arg(m_name.text().trimmed()),
                                   [&](GaugeSpec& spec) { spec.name = name; });
    });
    connect(&m_note, &QLineEdit::editingFinished, this, [this] {
        const std::string note = m_note.text().trimmed().toStdString();
        if (view() && note != view()->spec().note)
            this->workbench().edit(tr("Change the note"), [&](GaugeSpec& spec) { spec.note = note; });
    });
    connect(&m_unit, &QComboBox::activated, this, [this] {
        if (!view()) return;
        const std::string id = m_unit.currentData().toString().toStdString();
        this->workbench().edit(tr("Read in %1").arg(m_unit.currentText()), [&](GaugeSpec& spec) {
            // The span stays the same stretch of the world.
            const Interval canonical = spec.spanCanonical();
            spec.reading.unit = id;
            const Unit& unit = spec.readingUnit();
            spec.reading.span = {unit.fromCanonical(canonical.low), unit.fromCanonical(canonical.high)};
            spec.reading.wanted = 0;
        });
    });
    const auto takeChannel = [this] {
        const std::string channel = m_channel.currentText().trimmed().toStdString();
        if (view() && channel != view()->spec().channel)
            this->workbench().edit(tr("Listen to %1").arg(m_channel.currentText()),
                                   [&](GaugeSpec& spec) { spec.channel = channel; });
    };
    connect(&m_channel, &QComboBox::activated, this, takeChannel);
    connect(m_channel.lineEdit(), &QLineEdit::editingFinished, this, takeChannel);
    addSpan();
}

void WorldSheet::addSpan() {
    const auto setEnd = [this](bool isLow, double canonical) -> Expected<void> {
        if (!view()) return {};
        const Unit& unit = view()->spec().readingUnit();
        const double value = unit.fromCanonical(canonical);
        const Interval span = view()->spec().reading.span;
        if (isLow ? !(value < span.high) : !(value > span.low))
            return fail(ErrorCode::Range, "span", plainNumber(value),
                        isLow ? "a low end below " + plainNumber(span.high)
                              : "a high end above " + plainNumber(span.low));
        workbench().edit(isLow ? tr("Span from %1").arg(value) : tr("Span to %1").arg(value),
                         [&](GaugeSpec& spec) { (isLow ? spec.reading.span.low : spec.reading.span.high) = value; });
        return {};
    };
    m_low.onCommit = [setEnd](double value) { return setEnd(true, value); };
    m_high.onCommit = [setEnd](double value) { return setEnd(false, value); };
}

void WorldSheet::addCautions() {
    auto* grid = new QGridLayout(&m_cautionBox);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(px(20));
    int at = 0;
    for (const Caution& caution : kCautions) {
        auto* box = new QCheckBox(tr(caution.text));
        box->setObjectName(QStringLiteral("caution.") + QLatin1String(caution.id));
        grid->addWidget(box, at / 3, at % 3);
        ++at;
        m_cautions.emplace_back(caution.id, box);
        connect(box, &QCheckBox::clicked, this, [this, id = std::string(caution.id), text = tr(caution.text)](bool on) {
            workbench().edit(on ? tr("Take care: %1").arg(text) : tr("No care: %1").arg(text), [&](GaugeSpec& spec) {
                std::erase(spec.cautions, id);
                if (on) spec.cautions.push_back(id);
            });
        });
    }
    grid->setColumnStretch(3, 1);
    body().addWidget(&m_cautionBox);
}

void WorldSheet::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    if (!m_name.hasFocus()) m_name.setText(qs(spec.name));
    if (!m_note.hasFocus()) m_note.setText(qs(spec.note));
    m_unit.clear();
    for (const Unit& unit : allUnits()) {
        if (unit.quantity != spec.quantity) continue;
        m_unit.addItem(qs(unit.symbol), qs(unit.id));
        if (unit.id == spec.reading.unit) m_unit.setCurrentIndex(m_unit.count() - 1);
    }
    const Unit& unit = spec.readingUnit();
    m_low.setUnit(&unit);
    m_high.setUnit(&unit);
    m_low.setValue(spec.spanCanonical().low);
    m_high.setValue(spec.spanCanonical().high);
    for (const auto& [id, box] : m_cautions)
        box->setChecked(std::find(spec.cautions.begin(), spec.cautions.end(), id) != spec.cautions.end());
}

void WorldSheet::showValues(const GaugeView& view) {
    if (m_channel.lineEdit()->hasFocus() || m_channel.view()->isVisible()) return;
    QStringList names = workbench().feed().channels();
    const QString own = qs(view.spec().channel);
    if (!names.contains(own)) names.prepend(own);
    QStringList shown;
    for (int i = 0; i < m_channel.count(); ++i) shown << m_channel.itemText(i);
    if (shown != names) {
        m_channel.clear();
        m_channel.addItems(names);
    }
    if (m_channel.currentText() != own) m_channel.setCurrentText(own);
}

}  // namespace fg::gui
