#include "sheets/said_sheet.h"
#include "path/said_path.h"
#include "widgets/text.h"

namespace fg::gui {

SaidSheet::SaidSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("What the board says"), tr("A reading that the board has worked out itself."), parent),
      m_parameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.sensor.parameters; }, "sensor.") {
    setObjectName(QStringLiteral("sheet.said"));
    m_channel.setObjectName(QStringLiteral("said.channel"));
    m_unit.setObjectName(QStringLiteral("said.unit"));
    m_form.addRow(tr("&Channel"), &m_channel, nullptr, tr("as the board names it"));
    m_form.addRow(tr("&Unit in which it writes"), &m_unit);
    body().addWidget(&m_form);
    body().addWidget(&m_parameters);
    addText(
        tr("Nothing of the way from the sensor to this number is known here: it cannot be converted back, and its "
           "accuracy is what somebody states or a calibration finds. A gauge on the raw value beside it shows "
           "whether the board's arithmetic is right."));
    body().addStretch();
    connect(&m_channel, &QLineEdit::editingFinished, this, [this] {
        if (!view() || m_channel.text().trimmed() == qs(view()->spec().channel)) return;
        this->workbench().edit(tr("Listen to %1").arg(m_channel.text().trimmed()),
                         [&](GaugeSpec& spec) { spec.channel = m_channel.text().trimmed().toStdString(); });
    });
    connect(&m_unit, &QComboBox::activated, this, [this] {
        this->workbench().edit(tr("The board writes in %1").arg(m_unit.currentText()), [&](GaugeSpec& spec) {
            spec.converter.parameters.set("unit", m_unit.currentData().toString().toStdString());
        });
    });
}

void SaidSheet::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    if (!m_channel.hasFocus()) m_channel.setText(qs(spec.channel));
    m_unit.clear();
    for (const Unit& unit : allUnits())
        if (unit.quantity == spec.quantity) m_unit.addItem(qs(unit.symbol), qs(unit.id));
    m_unit.setCurrentIndex(
        m_unit.findData(qs(spec.converter.parameters.textOr("unit", std::string(spec.readingUnit().id)))));
    m_parameters.show(saidParameters(spec.quantity), spec.sensor.parameters);
}

}  // namespace fg::gui
