#pragma once

#include "bench/board.h"
#include "widgets/value_edit.h"

#include <functional>
#include <QGridLayout>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// The bench's supplies, the round wanted and the board's own current, as the maker says them.
class SuppliesForm final : public QWidget {
    Q_OBJECT
  public:
    explicit SuppliesForm(QWidget* parent = nullptr);
    /// `rails`: those said, or those made up from the gauges while nobody says any.
    void show(const Board& board, const std::vector<Rail>& rails);

  signals:
    /// One undoable change of the board.
    void edited(const QString& label, const std::function<void(fg::Board&)>& change);

  private:
    void build(std::size_t rails);
    ValueEdit* entry(const QString& name, Quantity quantity, int row, int column,
                     std::function<Expected<void>(double)> commit);
    void readOthers();
    void rename(std::size_t index, const std::string& name);
    void editRail(const QString& label, std::size_t index, const std::function<void(Rail&)>& change);

    Board m_board;
    std::vector<Rail> m_rails;
    QGridLayout m_grid;
    std::vector<QLineEdit*> m_names;
    std::vector<std::array<ValueEdit*, 3>> m_values;
    ValueEdit* m_cycle = nullptr;
    ValueEdit* m_awake = nullptr;
    ValueEdit* m_asleep = nullptr;
    QLineEdit* m_others = nullptr;
    ValueEdit* m_pin = nullptr;
    ValueEdit* m_pinsStand = nullptr;
    bool m_isBuilt = false;
};

}  // namespace fg::gui
