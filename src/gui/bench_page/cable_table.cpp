#include "bench_page/cable_table.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <QSignalBlocker>

namespace fg::gui {
namespace {

constexpr int kConductorsColumn = 1, kLengthColumn = 2, kDropColumn = 3, kCapacitanceColumn = 4;

QString shown(double value, Quantity quantity) {
    return value > 0 ? qs(engineering(value, quantity, 2).joined()) : QStringLiteral("–");
}

}  // namespace

CableTable::CableTable(QWidget* parent)
    : SheetTable({tr("Gauge"), tr("Conductors, in the connector's order"), tr("Length"), tr("Drop"), tr("Capacitance")},
                 {kDropColumn, kCapacitanceColumn}, kConductorsColumn, parent) {
    setObjectName(QStringLiteral("bench.cables"));
}

ValueEdit* CableTable::makeLength(const CableRun& run) {
    auto* length = new ValueEdit(Quantity::Length);
    length->setObjectName(QStringLiteral("bench.cable%1").arg(run.gauge));
    length->setAccessibleName(tr("Length of the cable of %1").arg(qs(run.who)));
    length->setZeroText(tr("not given"));
    length->setFrame(false);
    length->onCommit = [this, gauge = run.gauge](double metres) -> Expected<void> {
        emit lengthEdited(gauge, metres);
        return {};
    };
    return length;
}

void CableTable::show(const std::vector<CableRun>& cables) {
    std::vector<std::int64_t> gauges;
    for (const CableRun& run : cables) gauges.push_back(run.gauge);
    if (gauges != m_gauges) {
        m_gauges = gauges;
        clearRows();
        for (const CableRun& run : cables) {
            addRow({qs(run.who), qs(run.marks), QString(), QString(), QString()});
            setCellWidget(rowCount() - 1, kLengthColumn, makeLength(run));
        }
    }
    for (int row = 0; row < rowCount(); ++row) {
        const CableRun& run = cables[static_cast<std::size_t>(row)];
        auto* length = qobject_cast<ValueEdit*>(cellWidget(row, kLengthColumn));
        length->setValue(run.length_m);
        setText(row, 0, qs(run.who));
        setText(row, kDropColumn, shown(run.drop_V, Quantity::Voltage));
        setText(row, kCapacitanceColumn, shown(run.capacitance_F, Quantity::Capacitance));
        setText(row, kConductorsColumn, qs(run.marks));
    }
    settle();
    setColumnWidth(kLengthColumn, px(104));
}

}  // namespace fg::gui
