#include "sheets/inputs_sheet.h"
#include "path/derived_path.h"
#include "path/gauge_field.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>

namespace fg::gui {
namespace {

/// Where the law comes from and where it holds.
QString factsOf(const GaugeSpec& spec) {
    QStringList facts;
    if (const RunningKind* kind = findRunningKind(spec.sensor.part)) facts << qs(kind->source) + QLatin1Char('.');
    if (const Law* law = findLaw(spec.sensor.part)) {
        facts << QObject::tr("Source: %1.").arg(qs(law->source()));
        for (const LawInput& input : law->inputs()) {
            const QString unit = qs(input.unit.empty() ? canonicalUnit(input.quantity).symbol : input.unit);
            facts << QObject::tr("%1: %2 … %3 %4.")
                         .arg(qs(input.label), qs(plainNumber(input.range.low, 6)),
                              qs(plainNumber(input.range.high, 6)), unit);
        }
        if (law->expanded() > 0)
            facts << QObject::tr("The formula itself is true to ± %1 %2.")
                         .arg(qs(significantDigits(law->expanded(), 2)), qs(law->output().unit));
    }
    return facts.join(QLatin1Char(' '));
}

}  // namespace

InputsSheet::InputsSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Inputs"), tr("What this value follows from: gauges of this bench, or fixed values."),
            parent),
      m_linkedInputs(workbench),
      m_parameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.sensor.parameters; }, "sensor.") {
    setObjectName(QStringLiteral("sheet.inputs"));
    m_law.setObjectName(QStringLiteral("inputs.law"));
    m_law.setAccessibleName(tr("What it follows"));
    body().addWidget(&m_law);
    m_facts = addText({});
    addCaption(tr("Readings it takes"));
    body().addWidget(&m_linkedInputs);
    m_fixed = addCaption(tr("Fixed values, for what no gauge reads"));
    body().addWidget(&m_parameters);
    m_now = addText({});
    body().addStretch();
    connect(&m_law, &QComboBox::activated, this, [this] { chooseLaw(m_law.currentData().toString()); });
}

void InputsSheet::chooseLaw(const QString& id) {
    if (!view() || id.toStdString() == view()->spec().sensor.part) return;
    workbench().edit(tr("Follow %1").arg(m_law.currentText()), [&](GaugeSpec& spec) {
        GaugeSpec changed = spec;
        changed.sensor.part = id.toStdString();
        // Inputs of the same name stay.
        const auto taken = derivedParameters(changed);
        const auto isTaken = [&](const std::string& name) {
            return std::any_of(taken.begin(), taken.end(),
                               [&](const ParameterSpec& one) { return one.id == name || one.toleranceId == name; });
        };
        for (const auto& [name, value] : spec.sensor.parameters.all())
            if (!isTaken(name)) changed.sensor.parameters.remove(name);
        std::erase_if(changed.inputs, [&](const auto& input) { return !isTaken(fieldName(input.first)); });
        spec = changed;
    });
}

void InputsSheet::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    m_law.clear();
    for (const Law* law : laws())
        if (law->output().quantity == spec.quantity) m_law.addItem(qs(law->title()), qs(law->id()));
    for (const RunningKind& kind : runningKinds())
        if (outputOf(kind, spec.quantity) == spec.quantity ||
            (kind.over == Over::Rate && !outputOf(kind, spec.quantity) && !isMeasurand(spec.quantity) &&
             spec.sensor.part == kind.id))
            m_law.addItem(qs(kind.title), qs(kind.id));
    m_law.setCurrentIndex(m_law.findData(qs(spec.sensor.part)));
    m_facts->setText(factsOf(spec));
    m_linkedInputs.showSpec(view);
    std::vector<ParameterSpec> typed;
    for (const ParameterSpec& one : derivedParameters(spec))
        if (spec.inputs.count("sensor." + one.id) == 0) typed.push_back(one);
    m_fixed->setVisible(!typed.empty());
    m_parameters.setVisible(!typed.empty());
    m_parameters.show(typed, spec.sensor.parameters);
}

void InputsSheet::showValues(const GaugeView& view) {
    m_now->setText(
        view.problem() ? qs(view.problem()->message())
        : view.evaluation()
            ? tr("Now: %1 → %2.").arg(qs(view.textAt(Stage::Sensor).joined()), qs(view.textAt(Stage::Reading).joined()))
            : QString());
}

}  // namespace fg::gui
