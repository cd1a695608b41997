#pragma once

#include <QWidget>
#include <vector>

#include "sizing/sensor_divider.h"
#include "units/unit.h"

namespace fg::gui {

/// The standard values for a divider's resistor, ranked, with what each costs. A click, or Enter on the chosen row, takes one.
class OptionTable final : public QWidget {
    Q_OBJECT
  public:
    explicit OptionTable(QWidget* parent = nullptr);
    void show(const std::vector<SensorDividerOption>& options, double fixed_ohm, const Unit& unit);
    [[nodiscard]] QSize sizeHint() const override;

  signals:
    void taken(double fixed_ohm);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    std::vector<SensorDividerOption> m_options;
    double m_fixed_ohm = 0;
    const Unit* m_unit = nullptr;
    int m_row = 0;  ///< where the keyboard is
};

}  // namespace fg::gui
