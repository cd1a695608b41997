#pragma once

#include "calibration/electronics.h"
#include "model/workbench.h"

#include <functional>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// The points may tell what the parts of the gauge are, instead of what is to be added: the sensor's own constants, the
/// reference voltage, offset and gain of the converter.
class ElectronicsRow final : public QWidget {
    Q_OBJECT
  public:
    explicit ElectronicsRow(Workbench& workbench, QWidget* parent = nullptr);

    /// What came of it, or why it cannot be.
    std::function<void(const QString& text)> onSay;

  private:
    using Refit = Expected<ElectronicsFit> (*)(const GaugeSpec&, const Catalogue&,
                                               const std::vector<CalibrationPoint>&);
    void refit(const QString& label, Refit by);
    void refitConstants();

    Workbench& m_workbench;
    QPushButton m_constants, m_reference, m_codes;
};

}  // namespace fg::gui
