#pragma once

#include "model/workbench.h"
#include "sensors/family.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <functional>
#include <QHash>

namespace fg::gui {

/// Entries for the parameters that a sensor family, a wiring or a converter takes, made from their specifications; each
/// edit is one undoable step.
class ParameterForm final : public QWidget {
    Q_OBJECT
  public:
    /// `target` says which parameters of a gauge the entries write to.
    /// `prefix`: of those parameters' fields in GaugeSpec::examples, "sensor.".
    ParameterForm(Workbench& workbench, std::function<Parameters&(GaugeSpec&)> target, std::string prefix,
                  QWidget* parent = nullptr);

    /// A value that is only an example says so, and can be confirmed as it is. Shows entries for `specs`; rebuilt only
    /// when they differ from the last ones. `notes`: what to say beside an entry, by parameter id.
    void show(const std::vector<ParameterSpec>& specs, const Parameters& effective,
              const QHash<QString, QString>& notes = {});

    [[nodiscard]] ValueEdit* entry(const QString& id) const { return m_entries.value(id); }

  private:
    void build(const std::vector<ParameterSpec>& specs, const QHash<QString, QString>& notes);
    [[nodiscard]] bool isExample(const std::string& id) const;
    ValueEdit* makeEntry(const std::string& id, const QString& label, Quantity quantity, const Unit* unit,
                         const QString& suffix);

    Workbench& m_workbench;
    std::function<Parameters&(GaugeSpec&)> m_target;
    std::string m_prefix;
    Form m_form{this};
    QString m_built;
    bool m_isBuilding = false;
    QHash<QString, ValueEdit*> m_entries;
    QHash<QString, QLabel*> m_remarks;  ///< on the entries that were examples when they were made
};

}  // namespace fg::gui
