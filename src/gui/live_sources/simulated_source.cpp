#include "live_sources/simulated_source.h"

namespace fg::gui {

SimulatedSource::SimulatedSource(VirtualParts parts, const Catalogue& catalogue, double speed, QObject* parent)
    : ByteSource(parent), m_board(std::move(parts), catalogue), m_speed(speed), m_timer(this) {
    m_timer.setInterval(250);
    connect(&m_timer, &QTimer::timeout, this,
            [this] { emit bytes(QByteArray::fromStdString(m_board.measure(m_speed * m_timer.interval() / 1000.0))); });
}

void SimulatedSource::start() {
    emit bytes(QByteArray::fromStdString(m_board.measure(0)));
    m_timer.start();
}

}  // namespace fg::gui
