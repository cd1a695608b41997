#pragma once

#include "uncertainty/monte_carlo.h"

#include <atomic>
#include <QObject>
#include <thread>

namespace fg::gui {

/// A Monte Carlo run beside the window: started, watched, cancelled. One at a time.
class MonteCarloRun final : public QObject {
    Q_OBJECT
  public:
    explicit MonteCarloRun(const Catalogue& catalogue, QObject* parent = nullptr)
        : QObject(parent), m_catalogue(catalogue) {}
    ~MonteCarloRun() override { cancel(); }

    /// Draws for a gauge at `world` (canonical); a run that is going on is cancelled first.
    void start(const GaugeSpec& spec, double world, std::size_t draws);
    /// Stops a run; finished() does not come any more.
    void cancel();
    [[nodiscard]] bool isRunning() const { return m_thread.joinable(); }
    /// What the last finished run gave.
    [[nodiscard]] const Expected<MonteCarlo>& result() const { return m_result; }

  signals:
    void progressed(double done);  ///< 0 … 1
    void finished();               ///< result() is there

  private:
    void finish(int number, Expected<MonteCarlo> result);

    const Catalogue& m_catalogue;
    Expected<MonteCarlo> m_result;
    std::atomic<bool> m_stop{false};
    int m_number = 0;
    std::thread m_thread;
};

}  // namespace fg::gui
