#pragma once

#include "widgets/combo_box.h"

#include <QDialog>

namespace fg::gui {

/// Which serial port and how fast.
class SerialDialog final : public QDialog {
    Q_OBJECT
  public:
    explicit SerialDialog(QWidget* parent = nullptr);
    [[nodiscard]] QString port() const { return m_port.currentText().trimmed(); }
    [[nodiscard]] int baud() const { return m_baud.currentText().toInt(); }

  private:
    ComboBox m_port;
    ComboBox m_baud;
};

}  // namespace fg::gui
