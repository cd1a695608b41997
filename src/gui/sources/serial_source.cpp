#include "sources/serial_source.h"

namespace fg::gui {

SerialSource::SerialSource(const QString& port, int baud, QObject* parent)
    : ByteSource(parent), m_port(this), m_retry(this) {
    m_port.setPortName(port);
    m_port.setBaudRate(baud);
    m_retry.setInterval(2000);
    connect(&m_retry, &QTimer::timeout, this, &SerialSource::open);
    connect(&m_port, &QSerialPort::readyRead, this, [this] { emit bytes(m_port.readAll()); });
    connect(&m_port, &QSerialPort::errorOccurred, this, &SerialSource::lost);
}

QString SerialSource::name() const {
    return QStringLiteral("%1, %2 baud").arg(m_port.portName()).arg(m_port.baudRate());
}

void SerialSource::start() { open(); }

void SerialSource::open() {
    if (m_port.isOpen()) return;
    if (m_port.open(QIODevice::ReadOnly)) {
        m_retry.stop();
        emit stateChanged({});
    } else {
        m_retry.start();
    }
}

void SerialSource::lost(QSerialPort::SerialPortError error) {
    if (error == QSerialPort::NoError || error == QSerialPort::TimeoutError) return;
    const QString problem = m_port.errorString();
    if (m_port.isOpen()) m_port.close();
    m_retry.start();
    emit stateChanged(problem);
}

}  // namespace fg::gui
