#pragma once

#include <QComboBox>
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
    QComboBox m_port;
    QComboBox m_baud;
};

}  // namespace fg::gui
