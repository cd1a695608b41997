#include "reading/now_page.h"
#include "calibration/agreement.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <array>
#include <cmath>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fg::gui {

NowPage::NowPage(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(6));
    m_pace.setObjectName(QStringLiteral("now.pace"));
    m_extremes.setObjectName(QStringLiteral("now.extremes"));
    m_filtered.setObjectName(QStringLiteral("now.filtered"));
    m_advice.setObjectName(QStringLiteral("now.advice"));
    m_beside.setObjectName(QStringLiteral("now.besideText"));
    for (QLabel* label : {&m_pace, &m_extremes, &m_filtered, &m_advice, &m_beside}) {
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);  // gauges are called what their makers like
        makeSelectable(*label);
    }
    column->addWidget(&m_pace);
    column->addWidget(&m_advice);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_extremes, 1);
    m_anew.setObjectName(QStringLiteral("now.anew"));
    m_anew.setText(tr("&Begin anew"));
    row->addWidget(&m_anew);
    column->addLayout(row);
    m_kind.setObjectName(QStringLiteral("now.filter"));
    m_kind.addItem(tr("none: every reading as it comes"), QStringLiteral("none"));
    m_kind.addItem(tr("mean of the last ones"), QStringLiteral("mean"));
    m_kind.addItem(tr("median of the last ones: single wild ones do nothing"), QStringLiteral("median"));
    m_kind.addItem(tr("exponential: the newest with a weight"), QStringLiteral("exponential"));
    m_kind.addItem(tr("outlier gate: wild ones held back, the rest as it comes"), QStringLiteral("gate"));
    m_count.setObjectName(QStringLiteral("now.count"));
    m_count.setRange(1, 10'000);
    m_alpha.setObjectName(QStringLiteral("now.alpha"));
    m_other.setObjectName(QStringLiteral("now.beside"));
    m_form.addRow(tr("&Filter for the eye"), &m_kind);
    m_form.addRow(tr("Readings in &it"), &m_count);
    m_form.addRow(tr("&Weight of the newest"), &m_alpha, nullptr, tr("above 0, at most 1"));
    column->addWidget(&m_form);
    column->addWidget(&m_filtered);
    auto* besideForm = new Form;
    besideForm->addRow(tr("Beside it, the &gauge"), &m_other);
    column->addWidget(besideForm);
    column->addWidget(&m_beside);
    column->addStretch();
    connect(&m_anew, &QPushButton::clicked, this, [this] {
        if (const GaugeView* view = m_workbench.current()) {
            m_workbench.watches().forgetExtremes(view->id());
            showValues(*view);
        }
    });
    connect(&m_kind, &QComboBox::activated, this, [this] {
        const std::string kind = m_kind.currentData().toString().toStdString();
        editFilter(tr("Filter: %1").arg(m_kind.currentText()), [&](FilterSpec& filter) {
            filter.kind = kind;
            if (kind == "gate" && filter.count < 5) filter.count = 16;
        });
    });
    connect(&m_count, &QSpinBox::editingFinished, this, [this] {
        const int count = m_count.value();
        editFilter(tr("Filter over %1 readings").arg(count),
                   [count](FilterSpec& filter) { filter.count = static_cast<std::size_t>(count); });
    });
    m_alpha.onCommit = [this](double value) -> Expected<void> {
        if (!(value > 0 && value <= 1))
            return fail(ErrorCode::Range, "weight", plainNumber(value), "above 0, at most 1");
        editFilter(tr("Weight of the newest %1").arg(value), [value](FilterSpec& filter) { filter.alpha = value; });
        return {};
    };
    connect(&m_other, &QComboBox::activated, this, [this] {
        const qint64 id = m_other.currentData().toLongLong();
        const BenchGauge* other = m_workbench.bench().bench().find(id);
        m_workbench.edit(tr("Beside it: %1").arg(m_other.currentText()), [&](GaugeSpec& spec) {
            spec.beside = other ? LinkedInput{id, other->spec.name} : LinkedInput{};
        });
    });
}

void NowPage::editFilter(const QString& label, const std::function<void(FilterSpec&)>& edit) {
    if (!m_workbench.current()) return;
    m_workbench.edit(label, [&](GaugeSpec& spec) { edit(spec.reading.filter); });
}

void NowPage::showSpec(const GaugeView& view) {
    const FilterSpec& filter = view.spec().reading.filter;
    const auto& theme = Theme::instance();
    for (QLabel* label : {&m_pace, &m_extremes, &m_filtered, &m_advice, &m_beside})
        dress(*label, theme.text(13), colours().ink);
    m_kind.setCurrentIndex(m_kind.findData(qs(filter.kind)));
    m_count.setMinimum(filter.kind == "gate" ? 5 : 1);
    if (!m_count.hasFocus()) m_count.setValue(static_cast<int>(filter.count));
    m_alpha.setValue(filter.alpha);
    m_form.setRowVisible(m_count, filter.kind == "mean" || filter.kind == "median" || filter.kind == "gate");
    m_form.setRowVisible(m_alpha, filter.kind == "exponential");
    m_other.clear();
    m_other.addItem(tr("none"), 0);
    for (const GaugeView& other : m_workbench.views())
        if (other.id() != view.id() && other.spec().quantity == view.spec().quantity)
            m_other.addItem(qs(other.spec().name), qint64{other.id()});
    m_other.setCurrentIndex(std::max(0, m_other.findData(qint64{view.spec().beside.gauge})));
    showValues(view);
}

void NowPage::showBeside(const GaugeView& view) {
    const GaugeView* other = nullptr;
    for (const GaugeView& one : m_workbench.views())
        if (one.id() == view.spec().beside.gauge) other = &one;
    if (view.spec().beside.name.empty()) return m_beside.clear();
    if (!other) return m_beside.setText(tr("“%1” is not on this bench any more.").arg(qs(view.spec().beside.name)));
    const Unit& unit = view.spec().readingUnit();
    std::vector<SideReading> readings;
    for (const GaugeView* one : {&view, other}) {
        if (!one->evaluation() || std::isnan(one->evaluation()->reading()))
            return m_beside.setText(tr("“%1” has no value now.").arg(qs(one->spec().name)));
        const bool isStated = one->budget() && one->budget()->sensorStated;
        readings.push_back({one->spec().name, unit.fromCanonical(one->evaluation()->reading()),
                            isStated ? unit.differenceFromCanonical(one->expanded()) : 0});
    }
    const auto agreement = agreementOf(readings, unit);
    m_beside.setText(agreement ? qs(sideBySideText(readings, *agreement, unit)) : qs(agreement.error().message()));
}

void NowPage::showValues(const GaugeView& view) {
    const WatchText text = m_workbench.watches().textOf(view.gauge());
    m_pace.setText(qs(text.pace));
    m_extremes.setText(qs(text.extremes));
    m_anew.setVisible(!text.extremes.empty());
    m_filtered.setText(qs(text.filter));
    m_filtered.setVisible(!text.filter.empty());
    m_advice.setText(qs(text.advice));
    m_advice.setVisible(!text.advice.empty());
    showBeside(view);
}

}  // namespace fg::gui
