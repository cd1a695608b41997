#pragma once

#include "sources/byte_source.h"

#include <QSerialPort>
#include <QTimer>

namespace fg::gui {

/// A board on a serial line. A line that goes away is tried again every two seconds.
class SerialSource final : public ByteSource {
    Q_OBJECT
  public:
    SerialSource(const QString& port, int baud, QObject* parent = nullptr);
    void start() override;
    [[nodiscard]] QString name() const override;

  private:
    void open();
    void lost(QSerialPort::SerialPortError error);

    QSerialPort m_port;
    QTimer m_retry;
};

}  // namespace fg::gui
