#pragma once

#include "circuits/circuit.h"
#include "circuits/lock_button.h"
#include "model/workbench.h"
#include "widgets/value_edit.h"

#include <memory>
#include <QImage>
#include <QWidget>
#include <set>
#include <vector>

namespace fg::gui {

/// The circuit between sensor and converter, drawn with IEC 60617 symbols, its values in place and editable; those that
/// a solver finds carry a lock.
class Schematic final : public QWidget {
    Q_OBJECT
  public:
    explicit Schematic(Workbench& workbench, QWidget* parent = nullptr);

    /// `solvable`: fields that carry a lock; `open`: the one whose lock is open, or nothing.
    void showSpec(const GaugeView& view, const std::set<std::string>& solvable, const std::string& open);
    void showValues(const GaugeView& view);
    [[nodiscard]] QSize sizeHint() const override;

  signals:
    /// The lock of a value was opened (the solver is to choose it) or closed.
    void lockTurned(const QString& field, bool open);
    /// A value was typed.
    void valueFixed(const QString& field);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    struct Entry {
        CircuitSpot spot;
        std::unique_ptr<ValueEdit> edit;
        std::unique_ptr<LockButton> lock;
    };
    void build(const std::vector<CircuitSpot>& spots, const std::set<std::string>& solvable);
    void arrange();
    void paintCircuit(CircuitPen& pen) const;
    void draw();
    [[nodiscard]] Expected<void> commit(const CircuitSpot& spot, double value);
    [[nodiscard]] double valueOf(const CircuitSpot& spot) const;

    Workbench& m_workbench;
    std::vector<Entry> m_entries;
    std::string m_built;
    const GaugeView* m_view = nullptr;
    QImage m_drawn;  // what stands there, and its texts: with new values only what differs is painted anew
    std::vector<CircuitText> m_texts;
};

}  // namespace fg::gui
