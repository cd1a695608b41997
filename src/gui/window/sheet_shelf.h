#pragma once

#include "model/workbench.h"

#include <array>
#include <functional>
#include <QStackedWidget>

namespace fg::gui {

class Sheet;

/// The sheets, one a stage, made when first looked at; digital parts have pages of their own for sensor, bus and bytes.
class SheetShelf final : public QStackedWidget {
    Q_OBJECT
  public:
    explicit SheetShelf(Workbench& workbench, QWidget* parent = nullptr);

    /// Puts the sheet of the chosen stage and gauge on top.
    void showChosen();

  signals:
    void chooseWanted();  ///< other parts for the chosen gauge

  private:
    [[nodiscard]] Sheet* make(Stage stage, bool isDigital);

    Workbench& m_workbench;
    std::array<Sheet*, kStageCount> m_analog{};
    std::array<Sheet*, kStageCount> m_digital{};
    Sheet* m_inputs = nullptr;  // of derived gauges, in the place of Sensor
    Sheet* m_said = nullptr;    // of what the board says, in the place of Converter
};

}  // namespace fg::gui
