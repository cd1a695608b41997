#include "digital/bus_sheet.h"

#include "planning/addresses.h"
#include "theme/theme.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::gui {
namespace {

QString qs(const std::string& text) { return QString::fromStdString(text); }

unsigned addressOf(const GaugeView& view) {
    return view.digital() && view.digital()->address() ? *view.digital()->address() : 0;
}

}  // namespace

BusSheet::BusSheet(Workbench& workbench, QWidget* parent) : Sheet(workbench, tr("Wiring"), tr("Where it hangs, and what the line needs."), parent) {
    setObjectName(QStringLiteral("sheet.bus"));
    m_address.setObjectName(QStringLiteral("bus.address"));
    m_addressForm.addRow(tr("&Address"), &m_address);
    body().addWidget(&m_addressForm);
    m_neighbours = addText({});
    m_neighbours->setObjectName(QStringLiteral("bus.neighbours"));
    addCaption(tr("Pull-up of the line"));
    buildPullUp();
    body().addWidget(&m_pullUp);
    m_verdict = addText({});
    m_verdict->setObjectName(QStringLiteral("bus.verdict"));
    body().addStretch();
    connect(&m_address, &QComboBox::activated, this, [this] {
        const double address = m_address.currentData().toDouble();
        this->workbench().edit(tr("Address %1").arg(m_address.currentText()), [&](GaugeSpec& spec) { spec.wiring.parameters.set("address", address); });
    });
}

void BusSheet::buildPullUp() {
    const auto entry = [this](ValueEdit& edit, const char* name, auto set) {
        edit.setObjectName(QLatin1String(name));
        edit.onCommit = [this, set](double value) -> Expected<void> {
            PullUpQuestion tried = m_question;
            set(tried, value);
            if (const auto possible = sizePullUp(tried); !possible) return tl::unexpected(possible.error());
            m_question = tried;
            judge();
            return {};
        };
    };
    m_speed.setObjectName(QStringLiteral("bus.speed"));
    m_speed.addItem(tr("100 kbit/s"), static_cast<int>(LineKind::I2cStandard));
    m_speed.addItem(tr("400 kbit/s"), static_cast<int>(LineKind::I2cFast));
    m_speed.addItem(tr("1 Mbit/s"), static_cast<int>(LineKind::I2cFastPlus));
    m_speed.setCurrentIndex(1);
    m_resistorsTo.setObjectName(QStringLiteral("bus.resistorsTo"));
    m_resistorsTo.addItem(tr("the supply"), false);
    m_resistorsTo.addItem(tr("ground"), true);
    m_own.setZeroText(tr("none"));
    m_capacitance.setZeroText(tr("estimate it"));
    entry(m_supply, "bus.supply", [](PullUpQuestion& q, double value) { q.supply_V = value; });
    entry(m_cable, "bus.cable", [](PullUpQuestion& q, double value) { q.cable_m = value; });
    entry(m_capacitance, "bus.capacitance", [](PullUpQuestion& q, double value) { q.capacitance_F = value > 0 ? std::optional(value) : std::nullopt; });
    entry(m_own, "bus.own", [](PullUpQuestion& q, double value) { q.own_ohm = value > 0 ? std::optional(value) : std::nullopt; });
    m_module.setObjectName(QStringLiteral("bus.module"));
    m_module.onCommit = [this](double value) -> Expected<void> {
        if (!(value > 0)) return fail(ErrorCode::Range, "module", plainNumber(value), "a resistance above 0 Ω");
        m_module_ohm = value;
        judge();
        return {};
    };
    for (QSpinBox* box : {&m_modules, &m_devices}) box->setRange(0, 64);
    m_modules.setObjectName(QStringLiteral("bus.modules"));
    m_devices.setObjectName(QStringLiteral("bus.devices"));
    m_devices.setValue(1);
    m_pullUp.addRow(tr("&Speed"), &m_speed);
    m_pullUp.addRow(tr("S&upply of the line"), &m_supply);
    m_pullUp.addRow(tr("&Cable"), &m_cable, nullptr, tr("of the whole line; some 100 pF a metre"));
    m_pullUp.addRow(tr("De&vices on it"), &m_devices);
    m_pullUp.addRow(tr("Capacitance"), &m_capacitance, nullptr, tr("where it is known or measured"));
    m_pullUp.addRow(tr("&Modules with pull-ups"), &m_modules);
    m_pullUp.addRow(tr("Each of them"), &m_module, nullptr, tr("they are all in parallel"));
    m_pullUp.addRow(tr("&Own resistor"), &m_own);
    m_pullUp.addRow(tr("The resistors go to"), &m_resistorsTo);
    for (QComboBox* box : {&m_speed, &m_resistorsTo}) connect(box, &QComboBox::activated, this, &BusSheet::judge);
    for (QSpinBox* box : {&m_modules, &m_devices}) connect(box, &QSpinBox::valueChanged, this, &BusSheet::judge);
}

void BusSheet::judge() {
    m_question.kind = m_interface == QLatin1String("1-wire") ? LineKind::OneWire : m_interface == QLatin1String("single-bus") ? LineKind::SingleBus : static_cast<LineKind>(m_speed.currentData().toInt());
    m_question.devices = m_devices.value();
    m_question.modules_ohm.assign(static_cast<std::size_t>(m_modules.value()), m_module_ohm);
    m_question.tiedToGround = m_resistorsTo.currentData().toBool();
    const auto answer = sizePullUp(m_question);
    m_supply.setValue(m_question.supply_V);
    m_cable.setValue(m_question.cable_m);
    m_capacitance.setValue(m_question.capacitance_F.value_or(0));
    m_own.setValue(m_question.own_ohm.value_or(0));
    m_module.setValue(m_module_ohm);
    dress(*m_verdict, Theme::instance().text(14, true), colours().ink);
    m_verdict->setText(answer ? qs(answer->text) : qs(answer.error().message()));
}

void BusSheet::showNeighbours(const GaugeView& view) {
    std::vector<BusPlace> places{{view.spec().name, &view.digital()->part(), addressOf(view)}};
    QStringList here;
    for (const GaugeView& other : workbench().views()) {
        if (other.id() == view.id() || !other.digital() || addressOf(other) == 0) continue;
        // Gauges of one channel and part are one device with several readings.
        if (!view.spec().channel.empty() && other.spec().channel == view.spec().channel && other.spec().sensor.part == view.spec().sensor.part) continue;
        places.push_back({other.spec().name, &other.digital()->part(), addressOf(other)});
        const QString text = qs(fmt::format("0x{:02X} {}", addressOf(other), other.spec().sensor.part));
        if (!here.contains(text)) here << text;
    }
    const auto conflicts = conflictsOn(places);
    QString text = here.isEmpty() ? tr("Nothing else of this bench is on the bus.") : tr("Also there: %1.").arg(here.join(QStringLiteral(", ")));
    for (const AddressConflict& conflict : conflicts) {
        if (conflict.address != addressOf(view)) continue;
        QStringList ways;
        for (const std::string& way : conflict.waysOut) ways << qs(way);
        text = tr("Two at one address: neither can be read. Ways out: %1.").arg(ways.join(QStringLiteral("; "))) + QLatin1Char(' ') + text;
    }
    m_neighbours->setText(text);
}

void BusSheet::showSpec(const GaugeView& view) {
    const DevicePart* part = workbench().catalogue().findDevicePart(view.spec().sensor.part);
    if (!part) return;
    m_interface = qs(part->interface);
    m_address.clear();
    for (const BusAddress& one : part->addresses) m_address.addItem(qs(fmt::format("0x{:02X}   {}", one.address, one.straps)), one.address);
    m_addressForm.setVisible(!part->addresses.empty());
    m_neighbours->setVisible(!part->addresses.empty());
    m_speed.setEnabled(m_interface == QLatin1String("i2c"));
    const bool hasLine = m_interface == QLatin1String("i2c") || m_interface == QLatin1String("1-wire") || m_interface == QLatin1String("single-bus");
    m_pullUp.setVisible(hasLine);
    m_verdict->setVisible(hasLine);
    setSubtitle(m_interface == QLatin1String("i2c") ? tr("I²C: where it hangs, and what the line needs.") : tr("%1: what the line needs.").arg(m_interface));
    if (view.digital()) {
        m_address.setCurrentIndex(m_address.findData(addressOf(view)));
        if (!part->addresses.empty()) showNeighbours(view);
    }
    judge();
}

}  // namespace fg::gui
