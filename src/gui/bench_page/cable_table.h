#pragma once

#include "planning/plan.h"
#include "widgets/sheet_table.h"

#include "widgets/value_edit.h"

namespace fg::gui {

/// The cable of each gauge: its length can be entered, what follows from it stands beside.
class CableTable final : public SheetTable {
    Q_OBJECT
  public:
    explicit CableTable(QWidget* parent = nullptr);
    /// The same gauges as before keep their entries, so that a length can be turned step by step.
    void show(const std::vector<CableRun>& cables);

  signals:
    void lengthEdited(qint64 gauge, double metres);

  private:
    ValueEdit* makeLength(const CableRun& run);
    std::vector<std::int64_t> m_gauges;
};

}  // namespace fg::gui
