#include "correction/typed_form.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <QVBoxLayout>

namespace fg::gui {

TypedForm::TypedForm(QWidget* parent) : QWidget(parent) {
    m_kind.setObjectName(QStringLiteral("correction.kind"));
    m_kind.addItem(tr("none"), QStringLiteral("none"));
    m_kind.addItem(tr("offset: the same everywhere"), QStringLiteral("offset"));
    m_kind.addItem(tr("line: offset and slope"), QStringLiteral("line"));
    m_offset.setObjectName(QStringLiteral("correction.offset"));
    m_slope.setObjectName(QStringLiteral("correction.slope"));
    m_uncertainty.setObjectName(QStringLiteral("correction.uncertainty"));
    m_uncertainty.setZeroText(tr("not given"));
    m_form.addRow(tr("&Kind"), &m_kind);
    m_form.addRow(tr("&Offset added"), &m_offset, nullptr, tr("reference minus reading, at one point"));
    m_form.addRow(tr("&Slope added"), &m_slope, nullptr, tr("of the reading; needs two points far apart"));
    m_form.addRow(tr("± &U of the correction"), &m_uncertainty, nullptr,
                  tr("k = 2; comes on top of the tolerances: without points nobody knows what it took off"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(&m_form);
    connect(&m_kind, &QComboBox::activated, this, [this] {
        const std::string kind = m_kind.currentData().toString().toStdString();
        (void)onEdit(tr("Correction: %1").arg(m_kind.currentText()), [&](CorrectionSpec& correction) {
            correction.kind = kind;
            if (kind == "none") correction = {};
            if (kind == "offset") correction.slope = 0;
        });
    });
    m_offset.onCommit = [this](double value) {
        return onEdit(tr("Offset %1").arg(value),
                      [&](CorrectionSpec& correction) { correction.offset = m_unit->differenceToCanonical(value); });
    };
    m_slope.onCommit = [this](double value) {
        return onEdit(tr("Slope %1").arg(value), [&](CorrectionSpec& correction) { correction.slope = value; });
    };
    m_uncertainty.onCommit = [this](double value) -> Expected<void> {
        if (value < 0) return fail(ErrorCode::Range, "uncertainty", plainNumber(value), "0 or more");
        return onEdit(tr("U of the correction %1").arg(value), [&](CorrectionSpec& correction) {
            correction.uncertainty = m_unit->differenceToCanonical(value);
        });
    };
}

void TypedForm::showSpec(const GaugeView& view) {
    const CorrectionSpec& correction = view.spec().correction;
    m_unit = &view.spec().readingUnit();
    for (ValueEdit* entry : {&m_offset, &m_uncertainty}) entry->setSuffix(qs(m_unit->symbol));
    m_kind.setCurrentIndex(std::max(0, m_kind.findData(qs(correction.kind))));
    m_offset.setValue(m_unit->differenceFromCanonical(correction.offset));
    m_slope.setValue(correction.slope);
    m_uncertainty.setValue(m_unit->differenceFromCanonical(correction.uncertainty));
    m_offset.setEnabled(correction.kind != "none");
    m_slope.setEnabled(correction.kind == "line");
    m_uncertainty.setEnabled(correction.kind != "none");
}

}  // namespace fg::gui
