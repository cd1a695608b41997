#pragma once

#include "engine/engine.h"
#include "recording/recorder.h"
#include "sources/byte_source.h"

#include <atomic>
#include <memory>
#include <QElapsedTimer>
#include <QObject>
#include <QThread>
#include <QTimer>

namespace fg::gui {

/// The running bench: bytes of whichever source is chosen go through the engine in the source's own thread; the window
/// hears of it at most ten times a second.
class LiveFeed final : public QObject {
    Q_OBJECT
  public:
    /// `catalogue` must outlive it.
    explicit LiveFeed(const Catalogue& catalogue, QObject* parent = nullptr);
    ~LiveFeed() override;

    /// Replaces the source; null stops. The new one is started, in a thread of its own.
    void setSource(std::unique_ptr<ByteSource> source);
    [[nodiscard]] bool hasSource() const { return m_source != nullptr; }
    /// For the status bar.
    [[nodiscard]] const QString& sourceName() const { return m_name; }
    /// What is wrong with the source; empty when it works.
    [[nodiscard]] const QString& problem() const { return m_problem; }

    [[nodiscard]] Engine& engine() { return m_engine; }
    [[nodiscard]] const Engine& engine() const { return m_engine; }

    struct Latest {
        double raw = 0;                   ///< a count; NaN when bytes came
        std::vector<std::uint8_t> bytes;  ///< of a digital part; empty when a count came
        double age_s = 0;
        bool stale = false;
        Reading reading = {};  ///< what the engine made of it for the gauge
    };
    /// What a gauge heard last; nothing when its channel never came.
    [[nodiscard]] std::optional<Latest> latest(const BenchGauge& gauge) const;

    [[nodiscard]] QStringList channels() const;
    /// Frames a second over the last two seconds.
    [[nodiscard]] double frameRate() const { return m_frameRate; }

    /// Both clocks now: the computer's and the engine's.
    [[nodiscard]] Moment moment() const;

    /// Tells at once what is waiting to be told.
    void flush();

    /// A value is stale when none came for this long.
    static constexpr double kStaleAfter_s = 5;
    /// The window is not told more often.
    static constexpr int kLeastBetween_ms = 100;

  signals:
    void received();                    ///< new values, or values that grew old
    void statusChanged();               ///< source, rate, junk or staleness changed
    void noticed(const QString& text);  ///< something about the source that its user should know

  private:
    void take(const QByteArray& bytes);  // in the source's thread
    void told();
    void tell();
    void tick();
    void dropSource();
    [[nodiscard]] double now_s() const { return 1e-3 * static_cast<double>(m_clock.elapsed()); }

    Engine m_engine;
    QThread m_thread;
    ByteSource* m_source = nullptr;  // lives in m_thread
    QString m_name, m_problem;
    QElapsedTimer m_clock;
    std::atomic<bool> m_isWaiting = false;
    QElapsedTimer m_lastTold;
    QTimer m_next, m_tick;
    double m_frameRate = 0;
    std::uint64_t m_framesBefore = 0;
};

}  // namespace fg::gui
