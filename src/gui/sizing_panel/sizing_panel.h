// The solvers of the core's `sizing` room, as they apply to the chosen gauge.
#pragma once

#include "model/workbench.h"
#include "sizing/gauge_solvers.h"
#include "sizing_panel/option_table.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <map>
#include <QToolButton>
#include <set>

namespace fg::gui {

/// Chooses a solver, shows what it works from and what it found. A value whose lock is open is chosen by it at once,
/// and again when what it works from is changed here; the gauge itself never moves by itself.
class SizingPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit SizingPanel(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view);

    /// Fields of the gauge that a solver finds.
    [[nodiscard]] std::set<std::string> solvable() const;
    /// The field whose lock is open for this gauge; empty when none is.
    [[nodiscard]] std::string openField() const;

    /// Opens the lock of a field: its solver is shown and its best option taken.
    void open(const std::string& field);
    void close() { m_open.erase(m_gauge); }

    /// The gauge as the best options that it does not have would make it, named by their first value.
    [[nodiscard]] std::vector<std::pair<QString, GaugeSpec>> runnersUp(std::size_t most) const;

  signals:
    void locksChanged();

  private:
    [[nodiscard]] const GaugeSolver* solver() const;
    void fillChoice();
    void buildInputs();
    void setInput(const std::string& id, double value);
    void solveNow();
    void takeBest();
    void explain(int row);
    void take(int row);

    Workbench& m_workbench;
    std::int64_t m_gauge = 0;
    std::vector<GaugeSolver> m_solvers;
    std::map<std::int64_t, std::string> m_chosen;                        ///< solver id by gauge
    std::map<std::int64_t, std::string> m_open;                          ///< open field by gauge
    std::map<std::pair<std::int64_t, std::string>, Parameters> m_typed;  ///< inputs typed here, by gauge and solver
    std::vector<SizingOption> m_options;
    std::string m_builtFor;
    // Forms first: a parent must outlive the entries in it.
    Form m_inputs{this};
    ComboBox m_solver{this};
    ComboBox m_series{this};
    QToolButton m_more{this};
    std::map<std::string, ValueEdit*> m_entries;
    QLabel m_title{this};
    QLabel m_purpose{this};
    QLabel m_why{this};
    OptionTable m_table{this};
};

}  // namespace fg::gui
