#include "model/monte_carlo_run.h"

#include <QMetaObject>

namespace fg::gui {

void MonteCarloRun::start(const GaugeSpec& spec, double world, std::size_t draws) {
    cancel();
    m_stop = false;
    const int number = ++m_number;
    m_thread = std::thread([this, number, spec, world, draws] {
        const auto report = [this](double done) {
            QMetaObject::invokeMethod(
                this, [this, done] { emit progressed(done); }, Qt::QueuedConnection);
            return !m_stop;
        };
        auto result = monteCarlo(spec, m_catalogue, world, draws, 1, report);
        QMetaObject::invokeMethod(
            this, [this, number, result = std::move(result)] { finish(number, result); }, Qt::QueuedConnection);
    });
}

void MonteCarloRun::finish(int number, Expected<MonteCarlo> result) {
    if (number != m_number || !m_thread.joinable()) return;  // cancelled meanwhile
    m_thread.join();
    m_result = std::move(result);
    emit finished();
}

void MonteCarloRun::cancel() {
    if (!m_thread.joinable()) return;
    m_stop = true;
    m_thread.join();
    ++m_number;
}

}  // namespace fg::gui
