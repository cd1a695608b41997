#include "digital/device_sheet.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/combo_box.h"
#include "widgets/text.h"

#include <cmath>

namespace fg::gui {
namespace {

/// A value of a quantity as the facts give it: pressures in hPa.
QString shown(Quantity quantity, double canonical) {
    const Unit& unit = quantity == Quantity::Pressure ? *unitFromId("hPa", quantity).value() : canonicalUnit(quantity);
    return qs(plainNumber(unit.differenceFromCanonical(canonical), 5));
}

QString unitOf(Quantity quantity) {
    return quantity == Quantity::Pressure ? QStringLiteral("hPa") : qs(canonicalUnit(quantity).symbol);
}

QString row(QString name, const QString& text) {
    if (!name.isEmpty()) name[0] = name[0].toUpper();
    return QStringLiteral("<tr><td>%1 &nbsp;&nbsp;</td><td>%2</td></tr>")
        .arg(name.toHtmlEscaped(), text.toHtmlEscaped());
}

QString factsOf(const DevicePart& part) {
    QString facts;
    for (const auto& [reading, range] : part.ranges) {
        const Quantity quantity =
            reading == "internal" ? Quantity::Temperature : quantityFromName(reading).value_or(Quantity::Ratio);
        facts += row(
            QObject::tr("%1, range").arg(qs(reading)),
            QObject::tr("%1 … %2 %3").arg(shown(quantity, range.low), shown(quantity, range.high), unitOf(quantity)));
    }
    for (const DeviceAccuracy& one : part.accuracy) {
        const QString limit =
            one.band.limit > 0 ? QStringLiteral("%1 %2").arg(shown(one.quantity, one.band.limit), unitOf(one.quantity))
                               : QStringLiteral("%1 %").arg(100 * one.band.perUnit);
        facts += row(QObject::tr("%1, accuracy").arg(qs(quantityName(one.quantity))),
                     QObject::tr("± %1 from %2 to %3 %4%5")
                         .arg(limit, shown(one.quantity, one.band.span.low), shown(one.quantity, one.band.span.high),
                              unitOf(one.quantity),
                              one.band.statement.empty()
                                  ? QString()
                                  : QStringLiteral(" (") + qs(one.band.statement) + QLatin1Char(')')));
    }
    if (part.accuracy.empty()) facts += row(QObject::tr("accuracy"), QObject::tr("none is stated"));
    if (part.supply_V.high > 0)
        facts +=
            row(QObject::tr("supply"),
                QObject::tr("%1 … %2 V").arg(qs(plainNumber(part.supply_V.low)), qs(plainNumber(part.supply_V.high))));
    if (part.minimumInterval_s > 0)
        facts += row(QObject::tr("a reading"),
                     QObject::tr("every %1 at the most")
                         .arg(qs(engineering(part.minimumInterval_s, Quantity::Time, 3).joined())));
    return QStringLiteral("<table cellspacing=1>%1%2</table>").arg(facts, row(QObject::tr("source"), qs(part.source)));
}

}  // namespace

DeviceSheet::DeviceSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Sensor"), tr("Which part, and what its bytes do not say."), parent) {
    m_other.setText(tr("Other parts for this…"));
    m_other.setObjectName(QStringLiteral("sensor.other"));
    head().addWidget(&m_other);
    connect(&m_other, &QPushButton::clicked, this, &DeviceSheet::chooseWanted);
    setObjectName(QStringLiteral("sheet.device"));
    m_part.setObjectName(QStringLiteral("device.part"));
    m_reading.setObjectName(QStringLiteral("device.reading"));
    m_form.addRow(tr("&Part"), &m_part);
    m_form.addRow(tr("&Reading"), &m_reading);
    body().addWidget(&m_form);
    m_facts = addText({});
    m_facts->setTextFormat(Qt::RichText);
    m_optionsTitle = addCaption(tr("What decoding depends on"));
    body().addWidget(&m_options);
    body().addStretch();
    connect(&m_part, &QComboBox::activated, this, [this] { choosePart(m_part.currentData().toString()); });
    connect(&m_reading, &QComboBox::activated, this, [this] {
        const std::string reading = m_reading.currentData().toString().toStdString();
        this->workbench().edit(tr("Read its %1").arg(m_reading.currentText()), [&](GaugeSpec& spec) {
            const DevicePart* part = this->workbench().catalogue().findDevicePart(spec.sensor.part);
            const GaugeSpec fresh = defaultDeviceGauge(*part, reading);
            if (fresh.quantity != spec.quantity) {
                spec.quantity = fresh.quantity;
                spec.reading = fresh.reading;
                spec.correction = {};
            }
            spec.sensor.parameters.remove("reading");
            if (fresh.sensor.parameters.has("reading")) spec.sensor.parameters.set("reading", reading);
        });
    });
}

void DeviceSheet::choosePart(const QString& id) {
    const DevicePart* part = workbench().catalogue().findDevicePart(id.toStdString());
    if (!part || !view() || view()->spec().sensor.part == part->id) return;
    workbench().edit(tr("Use %1").arg(id), [&](GaugeSpec& spec) {
        // Name, channel and span stay the maker's where the new part gives the same quantity.
        const std::string quantity(quantityName(spec.quantity));
        const bool same = std::find(part->readings.begin(), part->readings.end(), quantity) != part->readings.end();
        const GaugeSpec fresh = defaultDeviceGauge(*part, same ? quantity : part->readings.front());
        spec.sensor = fresh.sensor;
        spec.wiring = fresh.wiring;
        if (!same) {
            spec.quantity = fresh.quantity;
            spec.reading = fresh.reading;
            spec.correction = {};
        }
    });
}

void DeviceSheet::setOption(const std::string& id, const QString& title, const std::string& value) {
    workbench().edit(tr("%1: %2").arg(title, qs(value)),
                     [&](GaugeSpec& spec) { spec.sensor.parameters.set(id, value); });
}

void DeviceSheet::buildOptions(const DevicePart& part) {
    if (m_built == qs(part.id)) return;
    m_built = qs(part.id);
    m_options.clear();
    m_choices.clear();
    m_numbers.clear();
    for (const OptionSpec& spec : part.device->options()) {
        const QString title = qs(spec.title);
        if (spec.choices.empty()) {
            auto* entry = new QLineEdit;
            entry->setObjectName(QStringLiteral("option.") + qs(spec.id));
            connect(entry, &QLineEdit::editingFinished, this, [this, entry, spec, title] {
                if (!entry->isModified()) return;
                entry->setModified(false);
                setOption(spec.id, title, entry->text().trimmed().toStdString());
            });
            m_numbers[spec.id] = entry;
            m_options.addRow(title, entry);
            continue;
        }
        auto* choice = new ComboBox;
        choice->setObjectName(QStringLiteral("option.") + qs(spec.id));
        for (const std::string& one : spec.choices) choice->addItem(qs(one), qs(one));
        connect(choice, &QComboBox::activated, this, [this, choice, spec, title] {
            setOption(spec.id, title, choice->currentData().toString().toStdString());
        });
        m_choices[spec.id] = choice;
        m_options.addRow(title, choice);
    }
}

void DeviceSheet::showSpec(const GaugeView& view) {
    const DevicePart* part = workbench().catalogue().findDevicePart(view.spec().sensor.part);
    if (!part) return;
    m_part.clear();
    for (const DevicePart& one : workbench().catalogue().devices())
        m_part.addItem(qs(one.id) + QStringLiteral("   ") + qs(one.title), qs(one.id));
    m_part.setCurrentIndex(m_part.findData(qs(part->id)));
    m_reading.clear();
    for (const std::string& reading : part->readings)
        if (isMeasurand(defaultDeviceGauge(*part, reading).quantity)) m_reading.addItem(qs(reading), qs(reading));
    m_reading.setCurrentIndex(m_reading.findData(
        qs(view.spec().sensor.parameters.textOr("reading", std::string(quantityName(view.spec().quantity))))));
    m_facts->setText(factsOf(*part));
    buildOptions(*part);
    m_optionsTitle->setVisible(!part->device->options().empty());
    const DeviceOptions now =
        view.digital() ? view.digital()->options() : part->options.completed(part->device->options()).value();
    for (const auto& [id, choice] : m_choices) choice->setCurrentIndex(choice->findData(qs(now.text(id))));
    for (const auto& [id, entry] : m_numbers)
        if (!entry->hasFocus()) entry->setText(qs(now.text(id)));
}

}  // namespace fg::gui
