#pragma once

#include "path_strip/stage_tile.h"

#include <array>
#include <QWidget>

namespace fg::gui {

/// The seven tiles in a row with chevrons between them. Left to right is the order in which the work is done.
class PathStrip final : public QWidget {
    Q_OBJECT
  public:
    explicit PathStrip(Workbench& workbench, QWidget* parent = nullptr);
    [[nodiscard]] StageTile* tile(Stage stage) const { return m_tiles[static_cast<std::size_t>(stage)]; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::array<StageTile*, kStageCount> m_tiles{};
};

}  // namespace fg::gui
