#pragma once

#include "acquisition/line_reader.h"
#include "acquisition/speed_search.h"
#include "live_sources/byte_source.h"

#include <optional>
#include <QElapsedTimer>
#include <QSerialPort>
#include <QTimer>

namespace fg::gui {

/// A board on a serial line. A line that goes away is tried again every two seconds. Where nearly everything that comes
/// is junk the usual speeds are listened to in turn; the one at which lines are understood is kept, and said.
class SerialSource final : public ByteSource {
    Q_OBJECT
  public:
    SerialSource(const QString& port, int baud, QObject* parent = nullptr);
    void start() override;
    [[nodiscard]] QString name() const override;

  private:
    void open();
    void lost(QSerialPort::SerialPortError error);
    void read();
    void listen();
    void listenAt(int baud);

    QSerialPort m_port;
    QTimer m_retry, m_listening;
    LineReader m_reader;  // of its own: what comes while speeds are tried goes nowhere else
    std::optional<SpeedSearch> m_search;
    bool m_hasSearched = false;
    QElapsedTimer m_since;
};

}  // namespace fg::gui
