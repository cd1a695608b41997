#include "sheets/correction_sheet.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <cmath>

namespace fg::gui {
namespace {}  // namespace

CorrectionSheet::CorrectionSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Correction"), tr("What comparing with something better has shown."), parent) {
    setObjectName(QStringLiteral("sheet.correction"));
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
                  tr("of the reference and the fit, k = 2; goes into the budget"));
    body().addWidget(&m_form);
    m_effect = addText({});
    addText(
        tr("An offset removes an error that is the same everywhere, such as a meter's zero. Two points also remove a "
           "wrong slope, but "
           "between points that lie close together a small error of the reference becomes a large one at the ends of "
           "the span."));
    body().addStretch();

    connect(&m_kind, &QComboBox::activated, this, [this] {
        const std::string kind = m_kind.currentData().toString().toStdString();
        (void)edit(tr("Correction: %1").arg(m_kind.currentText()), [&](CorrectionSpec& correction) {
            correction.kind = kind;
            if (kind == "none") correction = {};
            if (kind == "offset") correction.slope = 0;
        });
    });
    m_offset.onCommit = [this](double value) {
        return edit(tr("Offset %1").arg(value), [&](CorrectionSpec& correction) {
            correction.offset = view()->spec().readingUnit().differenceToCanonical(value);
        });
    };
    m_slope.onCommit = [this](double value) {
        return edit(tr("Slope %1").arg(value), [&](CorrectionSpec& correction) { correction.slope = value; });
    };
    m_uncertainty.onCommit = [this](double value) -> Expected<void> {
        if (value < 0) return fail(ErrorCode::Range, "uncertainty", plainNumber(value), "0 or more");
        return edit(tr("U of the correction %1").arg(value), [&](CorrectionSpec& correction) {
            correction.uncertainty = view()->spec().readingUnit().differenceToCanonical(value);
        });
    };
}

Expected<void> CorrectionSheet::edit(const QString& label, const std::function<void(CorrectionSpec&)>& change) {
    if (!view()) return {};
    GaugeSpec changed = view()->spec();
    change(changed.correction);
    if (const auto possible = Correction::make(changed.correction, changed.quantity); !possible) return tl::unexpected(possible.error());
    workbench().edit(label, [&](GaugeSpec& spec) { spec.correction = changed.correction; });
    return {};
}

void CorrectionSheet::showSpec(const GaugeView& view) {
    const CorrectionSpec& correction = view.spec().correction;
    const Unit& unit = view.spec().readingUnit();
    m_kind.setCurrentIndex(std::max(0, m_kind.findData(qs(correction.kind))));
    for (ValueEdit* entry : {&m_offset, &m_uncertainty}) entry->setSuffix(qs(unit.symbol));
    m_offset.setValue(unit.differenceFromCanonical(correction.offset));
    m_slope.setValue(correction.slope);
    m_uncertainty.setValue(unit.differenceFromCanonical(correction.uncertainty));
    m_offset.setEnabled(correction.kind != "none");
    m_slope.setEnabled(correction.kind == "line");
    m_uncertainty.setEnabled(correction.kind != "none");
}

void CorrectionSheet::showValues(const GaugeView& view) {
    if (!view.evaluation() || std::isnan(view.evaluation()->reading())) return m_effect->setText(tr("No value yet."));
    m_effect->setText(tr("Now: formula %1, correction %2, reading %3.")
                          .arg(qs(view.textAt(Stage::Formula).joined()), qs(view.textAt(Stage::Correction).joined()),
                               qs(view.textAt(Stage::Reading).joined())));
}

}  // namespace fg::gui
