#include "sheets/reading_sheet.h"

#include "theme/theme.h"
#include "units/number_format.h"

#include <cmath>

namespace fg::gui {
namespace {
QString qs(const std::string& text) { return QString::fromStdString(text); }
QString qs(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }
}  // namespace

ReadingSheet::ReadingSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Reading"), tr("The result, how far to trust it, and which code a wanted reading is."), parent) {
    setObjectName(QStringLiteral("sheet.reading"));
    m_wanted.setObjectName(QStringLiteral("reading.wanted"));
    m_wanted.setZeroText(tr("not said"));
    m_threshold.setObjectName(QStringLiteral("reading.threshold"));
    m_codes.setObjectName(QStringLiteral("reading.codes"));
    for (QLabel* label : {&m_value, &m_units, &m_codes}) {
        label->setTextFormat(Qt::RichText);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        label->setWordWrap(true);
    }
    body().addWidget(&m_value);
    body().addWidget(&m_units);
    m_form.addRow(tr("&Accuracy wanted ±"), &m_wanted, nullptr, tr("a finding says when the gauge falls short of it"));
    body().addWidget(&m_form);
    addCaption(tr("Which code is it?"));
    addText(tr("For a limit in a program: the two codes next to a reading, and what each of them really is."));
    m_thresholdForm.addRow(tr("&Reading wanted"), &m_threshold);
    body().addWidget(&m_thresholdForm);
    body().addWidget(&m_codes);
    body().addStretch();
    m_wanted.onCommit = [this](double value) -> Expected<void> {
        if (value < 0) return fail(ErrorCode::Range, "accuracy", plainNumber(value), "0 or more");
        this->workbench().edit(tr("Want ± %1").arg(value), [&](GaugeSpec& spec) { spec.reading.wanted = value; });
        return {};
    };
    m_threshold.onCommit = [this](double value) -> Expected<void> {
        m_thresholdValue = value;
        showThreshold();
        return {};
    };
}

void ReadingSheet::showSpec(const GaugeView& view) {
    const Unit& unit = view.spec().readingUnit();
    m_wanted.setSuffix(qs(unit.symbol));
    m_wanted.setValue(view.spec().reading.wanted);
    m_threshold.setUnit(&unit);
    if (m_gauge != view.id()) {
        m_gauge = view.id();
        const Interval span = view.spec().spanCanonical();
        m_thresholdValue = (span.low + span.high) / 2;
    }
    m_threshold.setValue(m_thresholdValue);
    showThreshold();
}

void ReadingSheet::showThreshold() {
    if (!view() || !view()->path()) return m_codes.clear();
    const Unit& unit = view()->spec().readingUnit();
    const auto neighbours = view()->path()->neighbourCodes(m_thresholdValue);
    if (neighbours.empty()) return m_codes.setText(tr("No code stands for that: the converter clips before it."));
    QString rows;
    for (const CodeReading& near : neighbours)
        rows += QStringLiteral("<tr><td><b>%1</b></td><td>&nbsp;&nbsp;0x%2</td><td>&nbsp;&nbsp;%3 %4</td></tr>")
                    .arg(near.code)
                    .arg(near.code, 0, 16)
                    .arg(qs(fixedDigits(unit.fromCanonical(near.reading),
                                        decimalsFor(unit.differenceFromCanonical(std::abs(near.reading - m_thresholdValue))))),
                         qs(unit.symbol));
    const double exact = view()->path()->exactCode(m_thresholdValue);
    m_codes.setText(tr("Exact code %1.").arg(qs(plainNumber(exact, 7))) + QStringLiteral("<table>%1</table>").arg(rows) +
                    (view()->path()->isRising() ? tr("The reading rises with the code.")
                                                : tr("The reading falls as the code rises: a program compares the other way round.")));
}

void ReadingSheet::showValues(const GaugeView& view) {
    if (!view.evaluation() || std::isnan(view.evaluation()->reading())) {
        m_value.setText(tr("No value."));
        return m_units.clear();
    }
    const ReadingText text = view.textAt(Stage::Reading);
    m_value.setFont(Theme::instance().text(20, true));
    m_value.setText(qs(text.joined()) +
                    (text.uncertainty.empty() ? QString() : QStringLiteral(" ± %1 %2").arg(qs(text.uncertainty), qs(text.value.unit))));
    QStringList others;
    for (const Unit& unit : allUnits())
        if (unit.quantity == view.spec().quantity && unit.id != view.spec().reading.unit)
            others << qs(readingText(view.evaluation()->at(Stage::Reading), view.expanded(), unit).joined());
    m_units.setText(others.isEmpty() ? QString() : tr("The same: %1.").arg(others.join(QStringLiteral(" · "))));
}

}  // namespace fg::gui
