#include "widgets/parameter_form.h"
#include "gauge/gauge.h"
#include "path/examples.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

QString exampleRemark() {
    return QObject::tr("example value, not yours: type yours, or <a href=\"#\" style=\"color:%1\">it is right</a>")
        .arg(colours().brass.name());
}

const Unit* percentUnit() { return unitFromId("%", Quantity::Ratio).value(); }

}  // namespace

ParameterForm::ParameterForm(Workbench& workbench, std::function<Parameters&(GaugeSpec&)> target, std::string prefix,
                             QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_target(std::move(target)), m_prefix(std::move(prefix)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(&m_form);
}

ValueEdit* ParameterForm::makeEntry(const std::string& id, const QString& label, Quantity quantity, const Unit* unit,
                                    const QString& suffix) {
    auto* entry = new ValueEdit(quantity, unit, suffix, &m_form);
    entry->setObjectName(QStringLiteral("parameter.") + qs(id));
    entry->onCommit = [this, id, label, quantity](double value) -> Expected<void> {
        if (m_isBuilding) return {};  // an entry that loses the focus because it is taken away commits nothing
        // Tried on a copy first: a value that makes the gauge impossible is refused at the field, with the reason.
        const GaugeView* view = m_workbench.current();
        if (!view) return {};
        GaugeSpec changed = view->spec();
        m_target(changed).set(id, value);
        const auto possible = Gauge::make(changed, m_workbench.catalogue());
        if (!possible && view->path()) return tl::unexpected(possible.error());
        const QString shown =
            quantity == Quantity::Ratio ? qs(plainNumber(value, 6)) : qs(shortEngineering(value, quantity).joined());
        m_workbench.edit(tr("Set %1 to %2").arg(label, shown), [&](GaugeSpec& spec) { m_target(spec).set(id, value); });
        return {};
    };
    m_entries.insert(qs(id), entry);
    return entry;
}

bool ParameterForm::isExample(const std::string& id) const {
    const GaugeView* view = m_workbench.current();
    return view && view->spec().examples.count(m_prefix + id) > 0;
}

void ParameterForm::build(const std::vector<ParameterSpec>& specs, const QHash<QString, QString>& notes) {
    m_isBuilding = true;
    m_form.clear();
    m_isBuilding = false;
    m_entries.clear();
    m_remarks.clear();
    for (const ParameterSpec& spec : specs) {
        if (spec.isPoints || spec.isText) continue;
        const QString label = qs(spec.label);
        ValueEdit* value = makeEntry(spec.id, label, spec.quantity, nullptr, qs(spec.unitSuffix));
        if (spec.defaultValue == 0.0 && !spec.id.ends_with("offset_V") && spec.id.rfind("offset", 0) != 0)
            value->setZeroText(tr("not given"));
        ValueEdit* tolerance = nullptr;
        if (spec.tolerance == ToleranceKind::Relative)
            tolerance = makeEntry(spec.toleranceId, tr("%1, tolerance").arg(label), Quantity::Ratio, percentUnit(), {});
        if (spec.tolerance == ToleranceKind::Absolute)
            tolerance = makeEntry(spec.toleranceId, tr("%1, tolerance").arg(label), spec.quantity, nullptr, {});
        if (tolerance) {
            tolerance->setZeroText(tr("± ?"));
            tolerance->setToolTip(tr("Tolerance, ±"));
        }
        if (!isExample(spec.id)) {
            m_form.addRow(label, value, tolerance, notes.value(qs(spec.id)));
            continue;
        }
        QLabel* remark = m_form.addRow(label, value, tolerance, exampleRemark());
        remark->setTextFormat(Qt::RichText);
        m_remarks.insert(qs(spec.id), remark);
        // Queued: the change may take this very label away.
        const auto confirm = [this, field = m_prefix + spec.id, tolerance = m_prefix + spec.toleranceId] {
            m_workbench.edit(tr("Confirm an example value"), [&](GaugeSpec& changed) {
                confirmExample(changed, field);
                confirmExample(changed, tolerance);
            });
        };
        connect(remark, &QLabel::linkActivated, this, confirm, Qt::QueuedConnection);
    }
}

void ParameterForm::show(const std::vector<ParameterSpec>& specs, const Parameters& effective,
                         const QHash<QString, QString>& notes) {
    QString key;
    for (const ParameterSpec& spec : specs) key += qs(spec.id) + notes.value(qs(spec.id)) + QLatin1Char('|');
    // Remarks on examples come and go without a rebuild: the entry that has just taken a value must outlive it.
    const bool lacksRemark = std::any_of(specs.begin(), specs.end(), [&](const ParameterSpec& spec) {
        return isExample(spec.id) && !m_remarks.contains(qs(spec.id));
    });
    if (key != m_built || lacksRemark) {
        m_built = key;
        build(specs, notes);
    }
    for (auto it = m_remarks.cbegin(); it != m_remarks.cend(); ++it)
        it.value()->setVisible(isExample(it.key().toStdString()));
    for (const ParameterSpec& spec : specs) {
        if (spec.isPoints || spec.isText) continue;
        if (ValueEdit* entry = m_entries.value(qs(spec.id)))
            entry->setValue(effective.numberOr(spec.id, spec.defaultValue.value_or(0)));
        if (ValueEdit* entry = m_entries.value(qs(spec.toleranceId)))
            entry->setValue(effective.numberOr(spec.toleranceId, 0));
    }
}

}  // namespace fg::gui
