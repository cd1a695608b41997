#include "live_sources/serial_source.h"

namespace fg::gui {

SerialSource::SerialSource(const QString& port, int baud, QObject* parent)
    : ByteSource(parent), m_port(this), m_retry(this), m_listening(this) {
    m_port.setPortName(port);
    m_port.setBaudRate(baud);
    m_retry.setInterval(2000);
    connect(&m_retry, &QTimer::timeout, this, &SerialSource::open);
    m_listening.setInterval(250);
    connect(&m_listening, &QTimer::timeout, this, &SerialSource::listen);
    connect(&m_port, &QSerialPort::readyRead, this, &SerialSource::read);
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

void SerialSource::read() {
    const QByteArray got = m_port.readAll();
    // Once it is known how it speaks, nothing is read twice.
    if (m_hasSearched && !m_search) {
        emit bytes(got);
        return;
    }
    static_cast<void>(m_reader.feed({got.constData(), static_cast<std::size_t>(got.size())}));
    if (m_search) return listen();
    emit bytes(got);
    if (m_reader.frameCount() >= SpeedSearch::kEnoughLines) m_hasSearched = true;
    // Words that a person can read come at the right speed, whatever they say.
    else if (m_reader.looksLikeWrongSpeed() && m_reader.lastJunk().find("\\x") != std::string::npos) {
        m_search.emplace(m_port.baudRate());
        listenAt(m_search->speed());
    }
}

void SerialSource::listenAt(int baud) {
    m_port.setBaudRate(baud);
    m_port.clear(QSerialPort::Input);
    m_reader = LineReader();
    m_since.start();
    m_listening.start();
}

void SerialSource::listen() {
    if (!m_search) return;
    const int before = m_search->speed();
    m_search->listen(m_reader.frameCount(), m_reader.junkCount(), 1e-3 * static_cast<double>(m_since.elapsed()));
    if (m_search->state() == SpeedSearch::State::Searching) {
        if (m_search->speed() != before) listenAt(m_search->speed());
        return;
    }
    m_listening.stop();
    const bool isFound = m_search->state() == SpeedSearch::State::Found;
    m_port.setBaudRate(m_search->speed());
    const int given = m_search->given();
    m_search.reset();
    m_hasSearched = true;
    emit renamed(name(), isFound ? tr("At %1 baud only junk came; at %2 baud the lines are understood, and it is "
                                      "listened to at that speed now.")
                                       .arg(given)
                                       .arg(m_port.baudRate())
                                 : tr("Only junk comes at %1 baud, and at every other usual speed too: look at ground, "
                                      "levels and polarity of the line, or at what the board sends.")
                                       .arg(given));
}

void SerialSource::lost(QSerialPort::SerialPortError error) {
    if (error == QSerialPort::NoError || error == QSerialPort::TimeoutError) return;
    const QString problem = m_port.errorString();
    if (m_port.isOpen()) m_port.close();
    m_retry.start();
    emit stateChanged(problem);
}

}  // namespace fg::gui
