#pragma once

#include "model/workbench.h"
#include "widgets/value_edit.h"

#include <QWidget>

namespace fg::gui {

/// The circuit between sensor and converter, drawn with IEC 60617 symbols, its values in place and editable.
class Schematic final : public QWidget {
    Q_OBJECT
  public:
    explicit Schematic(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view);
    void showValues(const GaugeView& view);
    [[nodiscard]] QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    [[nodiscard]] bool isDivider() const;
    [[nodiscard]] bool isSensorLow() const;
    void layoutEntries();
    void paintDivider(QPainter& painter) const;
    void paintDirect(QPainter& painter) const;
    [[nodiscard]] QString dependence() const;
    void paintPin(QPainter& painter, QPointF voltageAt) const;
    void paintConverter(QPainter& painter, QPointF pin) const;
    void paintSensorLabel(QPainter& painter, QPointF at) const;

    Workbench& m_workbench;
    ValueEdit m_source{Quantity::Voltage};
    ValueEdit m_fixed{Quantity::Resistance};
    ValueEdit m_capacitor{Quantity::Capacitance};
    const GaugeView* m_view = nullptr;
};

}  // namespace fg::gui
