#include "digital/bus_sheet.h"
#include "gauge/gauge.h"
#include "path/digital_path.h"
#include "planning/bus_findings.h"
#include "planning/plan.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/refused.h"
#include "widgets/text.h"

#include <fmt/format.h>

namespace fg::gui {
namespace {

unsigned addressOf(const GaugeView& view) {
    return view.digital() && view.digital()->address() ? *view.digital()->address() : 0;
}

}  // namespace

BusSheet::BusSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Wiring"), tr("Where it hangs, and what the line needs."), parent) {
    setObjectName(QStringLiteral("sheet.bus"));
    m_address.setObjectName(QStringLiteral("bus.address"));
    m_addressForm.addRow(tr("&Address"), &m_address);
    body().addWidget(&m_addressForm);
    m_rom.setObjectName(QStringLiteral("bus.rom"));
    m_rom.setPlaceholderText(tr("28 FF 64 …, as a search of the line gives it"));
    m_probeForm.addRow(tr("Code of its &probe"), &m_rom);
    body().addWidget(&m_probeForm);
    connect(&m_rom, &QLineEdit::editingFinished, this, &BusSheet::readRom);
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
        this->workbench().edit(tr("Address %1").arg(m_address.currentText()),
                               [&](GaugeSpec& spec) { spec.wiring.parameters.set("address", address); });
    });
}

Expected<void> BusSheet::set(const std::string& id, ParameterValue value, const QString& label) {
    const GaugeView* shown = view();
    const DevicePart* part = shown ? workbench().catalogue().findDevicePart(shown->spec().sensor.part) : nullptr;
    if (!part) return {};
    Parameters changed = shown->spec().wiring.parameters;
    changed.set(id, value);
    if (const auto possible = sizePullUp(questionOf(changed, part->interface, places().size())); !possible)
        return tl::unexpected(possible.error());
    workbench().edit(label, [&](GaugeSpec& spec) { spec.wiring.parameters.set(id, value); });
    return {};
}

void BusSheet::readRom() {
    const GaugeView* shown = view();
    const std::string text = m_rom.text().trimmed().toStdString();
    if (!shown || text == shown->spec().wiring.parameters.textOr("rom", "")) return markRefused(m_rom, {});
    GaugeSpec changed = shown->spec();
    changed.wiring.parameters.set("rom", text);
    const auto path = Gauge::make(changed, workbench().catalogue());
    markRefused(m_rom, path ? QString() : qs(path.error().message()));
    if (path)
        workbench().edit(tr("Code of the probe"), [&](GaugeSpec& spec) { spec.wiring.parameters.set("rom", text); });
}

void BusSheet::buildPullUp() {
    const auto entry = [this](ValueEdit& edit, const char* name, const char* id, const QString& label) {
        edit.setObjectName(QLatin1String(name));
        edit.onCommit = [this, id, label](double value) -> Expected<void> {
            if (value < 0) return fail(ErrorCode::Range, id, plainNumber(value), "0 or more");
            return set(id, value, label);
        };
    };
    m_speed.setObjectName(QStringLiteral("bus.speed"));
    for (const char* speed : {"100k", "400k", "1M"})
        m_speed.addItem(QString::fromLatin1(speed) + QStringLiteral("bit/s"), QString::fromLatin1(speed));
    m_resistorsTo.setObjectName(QStringLiteral("bus.resistorsTo"));
    m_resistorsTo.addItem(tr("the supply"), QStringLiteral("supply"));
    m_resistorsTo.addItem(tr("ground"), QStringLiteral("ground"));
    m_own.setZeroText(tr("none"));
    m_capacitance.setZeroText(tr("estimate it"));
    m_cable.setZeroText(tr("not given"));
    m_interval.setZeroText(tr("not given"));
    entry(m_supply, "bus.supply", "supply_V", tr("Supply of the line"));
    entry(m_cable, "bus.cable", "cable_m", tr("Cable of the line"));
    entry(m_capacitance, "bus.capacitance", "capacitance_F", tr("Capacitance of the line"));
    entry(m_own, "bus.own", "pullup_ohm", tr("Own pull-up"));
    entry(m_module, "bus.module", "module_ohm", tr("Pull-up of a module"));
    entry(m_interval, "bus.interval", "interval_s", tr("How often it is asked"));
    for (QSpinBox* box : {&m_modules, &m_devices}) box->setRange(0, 64);
    m_modules.setObjectName(QStringLiteral("bus.modules"));
    m_devices.setObjectName(QStringLiteral("bus.devices"));
    m_pullUp.addRow(tr("&Speed"), &m_speed);
    m_pullUp.addRow(tr("S&upply of the line"), &m_supply);
    m_pullUp.addRow(tr("&Cable"), &m_cable, nullptr, tr("of the whole line; some 100 pF a metre"));
    m_pullUp.addRow(tr("De&vices on it"), &m_devices);
    m_pullUp.addRow(tr("Capacitance"), &m_capacitance, nullptr, tr("where it is known or measured"));
    m_pullUp.addRow(tr("&Modules with pull-ups"), &m_modules);
    m_pullUp.addRow(tr("Each of them"), &m_module, nullptr, tr("they are all in parallel"));
    m_pullUp.addRow(tr("&Own resistor"), &m_own);
    m_pullUp.addRow(tr("The resistors go to"), &m_resistorsTo);
    m_pullUp.addRow(tr("As&ked every"), &m_interval, nullptr, tr("a finding says when that is too often"));
    connect(&m_speed, &QComboBox::activated, this,
            [this] { (void)set("speed", m_speed.currentData().toString().toStdString(), tr("Speed of the line")); });
    connect(&m_resistorsTo, &QComboBox::activated, this, [this] {
        (void)set("pullups_to", m_resistorsTo.currentData().toString().toStdString(), tr("Where the resistors go"));
    });
    connect(&m_modules, &QSpinBox::valueChanged, this,
            [this](int count) { (void)set("modules", static_cast<double>(count), tr("Modules with pull-ups")); });
    connect(&m_devices, &QSpinBox::valueChanged, this,
            [this](int count) { (void)set("devices", static_cast<double>(count), tr("Devices on the line")); });
}

void BusSheet::judge(const GaugeView& view) {
    const DevicePart* part = workbench().catalogue().findDevicePart(view.spec().sensor.part);
    const Parameters& wiring = view.spec().wiring.parameters;
    const PullUpQuestion question = questionOf(wiring, part->interface, places().size());
    const QSignalBlocker modules(m_modules), devices(m_devices);
    m_speed.setCurrentIndex(m_speed.findData(qs(wiring.textOr("speed", "400k"))));
    m_resistorsTo.setCurrentIndex(question.tiedToGround ? 1 : 0);
    m_supply.setValue(question.supply_V);
    m_cable.setValue(question.cable_m);
    m_capacitance.setValue(question.capacitance_F.value_or(0));
    m_own.setValue(question.own_ohm.value_or(0));
    m_module.setValue(wiring.numberOr("module_ohm", 10000));
    m_interval.setValue(wiring.numberOr("interval_s", 0));
    m_modules.setValue(static_cast<int>(question.modules_ohm.size()));
    m_devices.setValue(question.devices);
    // Sized as the plan does it: with the cables of everything on the line.
    const auto line = lineOf(workbench().bench().bench(), view.id(), workbench().catalogue());
    const auto answer = line ? Expected<PullUpAnswer>(*line->pullUp) : sizePullUp(question);
    const bool isGiven = line ? line->isPullUpGiven : saysPullUp(wiring);
    dress(*m_verdict, Theme::instance().text(14, true), colours().ink);
    const bool onlyAdvice = answer && !isGiven && !answer->advice.empty();
    const QString cable = line && line->cable_m > question.cable_m
                              ? tr(" With %1 m of cable on the line, as the plan of the bench has it.")
                                    .arg(qs(plainNumber(line->cable_m, 4)))
                              : QString();
    m_verdict->setText((onlyAdvice ? tr("Pull-ups not given yet: %1").arg(qs(answer->advice))
                                   : qs(answer ? answer->text : answer.error().message())) +
                       cable);
}

std::vector<BusPlace> BusSheet::places() {
    const Bench& bench = workbench().bench().bench();
    const BenchGauge* own = view() ? bench.find(view()->id()) : nullptr;
    return own ? placesOnBus(bench, *own, workbench().catalogue()) : std::vector<BusPlace>{};
}

void BusSheet::showNeighbours(const GaugeView& view) {
    const std::vector<BusPlace> there = places();
    QStringList here;
    for (const BusPlace& place : there)
        if (&place != &there.front())
            here << qs(fmt::format("0x{:02X} {}", place.address, place.part ? place.part->id : place.name));
    const auto conflicts = conflictsOn(there);
    QString text = here.isEmpty() ? tr("Nothing else of this bench is on the bus.")
                                  : tr("Also there: %1.").arg(here.join(QStringLiteral(", ")));
    for (const AddressConflict& conflict : conflicts) {
        if (conflict.address != addressOf(view)) continue;
        QStringList ways;
        for (const std::string& way : conflict.waysOut) ways << qs(way);
        text = tr("Two at one address: neither can be read. Ways out: %1.").arg(ways.join(QStringLiteral("; "))) +
               QLatin1Char(' ') + text;
    }
    m_neighbours->setText(text);
}

void BusSheet::showSpec(const GaugeView& view) {
    const DevicePart* part = workbench().catalogue().findDevicePart(view.spec().sensor.part);
    if (!part) return;
    const QString interface = qs(part->interface);
    m_address.clear();
    for (const BusAddress& one : part->addresses)
        m_address.addItem(qs(fmt::format("0x{:02X}   {}", one.address, one.straps)), one.address);
    m_addressForm.setVisible(!part->addresses.empty());
    m_neighbours->setVisible(!part->addresses.empty());
    m_probeForm.setVisible(interface == QLatin1String("1-wire"));
    if (!m_rom.hasFocus()) m_rom.setText(qs(view.spec().wiring.parameters.textOr("rom", "")));
    m_pullUp.setRowVisible(m_speed, interface == QLatin1String("i2c"));  // the others have one speed
    const bool hasLine = interface == QLatin1String("i2c") || interface == QLatin1String("1-wire") ||
                         interface == QLatin1String("single-bus");
    m_pullUp.setVisible(hasLine);
    m_verdict->setVisible(hasLine);
    setSubtitle(interface == QLatin1String("i2c") ? tr("I²C: where it hangs, and what the line needs.")
                                                  : tr("%1: what the line needs.").arg(interface));
    if (view.digital()) {
        m_address.setCurrentIndex(m_address.findData(addressOf(view)));
        if (!part->addresses.empty()) showNeighbours(view);
    }
    judge(view);
}

}  // namespace fg::gui
