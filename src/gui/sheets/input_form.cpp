#include "sheets/input_form.h"
#include "bench/linked_inputs.h"
#include "widgets/combo_box.h"
#include "widgets/text.h"

#include <algorithm>
#include <QVBoxLayout>

namespace fg::gui {

InputForm::InputForm(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(&m_form);
}

LinkedInput InputForm::chosen(const QComboBox& choice) const {
    const qint64 id = choice.currentData().toLongLong();
    for (const GaugeView& other : m_workbench.views())
        if (other.id() == id) return {id, other.spec().name};
    return {};
}

void InputForm::showSpec(const GaugeView& view) {
    const auto fields = linkableFields(view.spec(), m_workbench.catalogue());
    setVisible(!fields.empty());
    QString key;
    for (const LinkableField& field : fields) key += qs(field.field) + QLatin1Char('|');
    if (key != m_built) {
        m_built = key;
        m_form.clear();
        m_choices.clear();
        for (const LinkableField& field : fields) {
            auto* choice = new ComboBox;
            choice->setObjectName(QStringLiteral("input.") + qs(field.field));
            connect(choice, &QComboBox::activated, this, [this, choice, field] {
                const LinkedInput input = chosen(*choice);
                m_workbench.edit(tr("%1 from %2").arg(qs(field.label), choice->currentText()), [&](GaugeSpec& spec) {
                    if (input.name.empty())
                        spec.inputs.erase(field.field);
                    else
                        spec.inputs[field.field] = input;
                });
            });
            m_choices[field.field] = choice;
            m_form.addRow(tr("%1, from").arg(qs(field.label)), choice);
        }
    }
    for (const LinkableField& field : fields) {
        QComboBox* choice = m_choices[field.field];
        choice->clear();
        choice->addItem(tr("the value above"), 0);
        for (const GaugeView& other : m_workbench.views())
            if (other.id() != view.id() && other.spec().quantity == field.quantity)
                choice->addItem(tr("the gauge “%1”").arg(qs(other.spec().name)), qint64{other.id()});
        const auto it = view.spec().inputs.find(field.field);
        const qint64 now = it == view.spec().inputs.end() ? 0 : it->second.gauge;
        if (it != view.spec().inputs.end() && choice->findData(now) <= 0) {
            choice->addItem(tr("“%1”, which is not there").arg(qs(it->second.name)), qint64{-1});
            choice->setCurrentIndex(choice->count() - 1);
        } else {
            choice->setCurrentIndex(choice->findData(now));
        }
    }
}

}  // namespace fg::gui
