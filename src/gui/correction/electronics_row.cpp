#include "correction/electronics_row.h"
#include "calibration/apply.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QLabel>

namespace fg::gui {

ElectronicsRow::ElectronicsRow(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    m_reference.setObjectName(QStringLiteral("correction.reference"));
    m_reference.setText(tr("Reference &voltage"));
    m_reference.setToolTip(tr("The Vref with which the formula explains the points best becomes the measured one"));
    m_codes.setObjectName(QStringLiteral("correction.codesFit"));
    m_codes.setText(tr("Converter's &offset and gain"));
    m_codes.setToolTip(tr("A straight line from the codes that should have come to those that came"));
    m_constants.setObjectName(QStringLiteral("correction.constants"));
    m_constants.setText(tr("&Constants of the sensor"));
    m_constants.setToolTip(
        tr("Beta, Steinhart–Hart or Callendar–Van Dusen, whichever it computes with, from the points"));
    connect(&m_constants, &QPushButton::clicked, this, &ElectronicsRow::refitConstants);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(new QLabel(tr("Or find:")));
    for (QPushButton* button : {&m_constants, &m_reference, &m_codes}) row->addWidget(button);
    row->addStretch();
    connect(&m_reference, &QPushButton::clicked, this,
            [this] { refit(tr("Reference voltage from the points"), &refitReference); });
    connect(&m_codes, &QPushButton::clicked, this,
            [this] { refit(tr("Offset and gain from the points"), &refitCodes); });
}

void ElectronicsRow::refitConstants() {
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    const CorrectionSpec& old = view->spec().correction;
    const auto changed =
        refitSensor(view->spec(), m_workbench.catalogue(), old.points, {old.reference, old.with, old.time});
    if (!changed) return onSay(tr("Not possible: %1.").arg(qs(changed.error().message())));
    m_workbench.edit(tr("Constants of the sensor from the points"), [&](GaugeSpec& spec) { spec = *changed; });
    QString found;
    for (const std::string& name : changed->correction.parameters)
        found +=
            QStringLiteral("%1 %2; ").arg(qs(name), qs(plainNumber(changed->sensor.parameters.numberOr(name, 0), 6)));
    onSay(tr("The points gave the sensor: %1undo takes it back.").arg(found));
}

void ElectronicsRow::refit(const QString& label, Refit by) {
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    const GaugeSpec& spec = view->spec();
    const auto fit = by(spec, m_workbench.catalogue(), spec.correction.points);
    if (!fit) return onSay(tr("Not possible: %1.").arg(qs(fit.error().message())));
    const Unit& unit = spec.readingUnit();
    QString found;
    for (const FitCoefficient& one : fit->coefficients)
        found += QStringLiteral("%1 %2 %3; ")
                     .arg(qs(one.name), qs(plainNumber(one.value, 6)), one.unit == "1" ? QString() : qs(one.unit));
    m_workbench.edit(label, [&](GaugeSpec& changed) { changed = fit->spec; });
    onSay(tr("%1the worst point was off by %2 %4, is off by %3 %4.")
              .arg(found, qs(significantDigits(unit.differenceFromCanonical(fit->before), 2)),
                   qs(significantDigits(unit.differenceFromCanonical(fit->after), 2)), qs(unit.symbol)));
}

}  // namespace fg::gui
