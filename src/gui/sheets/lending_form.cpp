#include "sheets/lending_form.h"
#include "bench/lending.h"
#include "widgets/text.h"

#include <algorithm>
#include <QVBoxLayout>

namespace fg::gui {
namespace {}  // namespace

LendingForm::LendingForm(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(&m_form);
}

void LendingForm::showSpec(const GaugeView& view) {
    const auto fields = lendableFields(view.spec(), m_workbench.catalogue());
    setVisible(!fields.empty());
    QString key;
    for (const LendableField& field : fields) key += qs(field.field) + QLatin1Char('|');
    if (key != m_built) {
        m_built = key;
        m_form.clear();
        m_choices.clear();
        for (const LendableField& field : fields) {
            auto* choice = new QComboBox;
            choice->setObjectName(QStringLiteral("lender.") + qs(field.field));
            connect(choice, &QComboBox::activated, this, [this, choice, field] {
                const std::string name = choice->currentData().toString().toStdString();
                m_workbench.edit(tr("%1 from %2").arg(qs(field.label), choice->currentText()), [&](GaugeSpec& spec) {
                    if (name.empty())
                        spec.inputs.erase(field.field);
                    else
                        spec.inputs[field.field] = name;
                });
            });
            m_choices[field.field] = choice;
            m_form.addRow(tr("%1, from").arg(qs(field.label)), choice);
        }
    }
    for (const LendableField& field : fields) {
        QComboBox* choice = m_choices[field.field];
        choice->clear();
        choice->addItem(tr("the value above"), QString());
        for (const GaugeView& other : m_workbench.views())
            if (other.id() != view.id() && other.spec().quantity == field.quantity)
                choice->addItem(tr("the gauge “%1”").arg(qs(other.spec().name)), qs(other.spec().name));
        const auto it = view.spec().inputs.find(field.field);
        const QString now = it == view.spec().inputs.end() ? QString() : qs(it->second);
        if (choice->findData(now) < 0) choice->addItem(tr("“%1”, which is not there").arg(now), now);
        choice->setCurrentIndex(choice->findData(now));
    }
}

}  // namespace fg::gui
