#pragma once

#include "engine/engine.h"
#include "live_sources/byte_source.h"
#include "recording/recorder.h"

#include <atomic>
#include <memory>
#include <QElapsedTimer>
#include <QObject>
#include <QThread>
#include <QTimer>

namespace fg::gui {

/// The running bench: bytes of whichever sources are chosen go through the engine in each source's own thread; the
/// window hears of it at most ten times a second.
class LiveFeed final : public QObject {
    Q_OBJECT
  public:
    /// `catalogue` must outlive it.
    explicit LiveFeed(const Catalogue& catalogue, QObject* parent = nullptr);
    ~LiveFeed() override;

    /// Replaces every source; null stops. The new one is started, in a thread of its own.
    void setSource(std::unique_ptr<ByteSource> source);
    /// One more beside those that run; its channels are "2:…", "3:…" (see Engine::take()).
    void addSource(std::unique_ptr<ByteSource> source);
    [[nodiscard]] bool hasSource() const { return !m_sources.empty(); }
    /// For the status bar; of several "A + 2: B".
    [[nodiscard]] QString sourceName() const;
    /// What is wrong with a source; empty when all work.
    [[nodiscard]] QString problem() const;

    [[nodiscard]] Engine& engine() { return m_engine; }
    [[nodiscard]] const Engine& engine() const { return m_engine; }

    struct Latest {
        double raw = 0;                   ///< a count; NaN when bytes came
        std::vector<std::uint8_t> bytes;  ///< of a digital part; empty when a count came
        double age_s = 0;
        bool stale = false;
        Reading reading = {};                 ///< what the engine made of it for the gauge
        std::optional<double> standard = {};  ///< of a rate: its standard uncertainty by scatter
    };
    /// What a gauge heard last; nothing when its channel never came.
    [[nodiscard]] std::optional<Latest> latest(const BenchGauge& gauge) const;

    [[nodiscard]] QStringList channels() const;
    /// Frames a second over the last two seconds.
    [[nodiscard]] double frameRate() const { return m_frameRate; }

    /// Both clocks now: the computer's (while a recording is played, that of then) and the engine's.
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
    /// One that runs, in a thread of its own.
    struct Connected {
        ByteSource* source = nullptr;  // lives in the thread
        QThread thread;
        QString name, problem;
        int number = 0;
    };
    void take(int source, const QByteArray& bytes, double time_s);  // in the source's thread
    void useClockOf(const ByteSource* source);
    void connectTo(Connected& one);
    [[nodiscard]] Connected* connectedOf(const ByteSource* source) const;
    void told();
    void tell();
    void tick();
    void dropSources();
    /// The engine's clock. It only rises, and runs as fast as the first source's.
    [[nodiscard]] double now_s() const { return m_base_s + m_speed * 1e-3 * static_cast<double>(m_clock.elapsed()); }

    Engine m_engine;
    std::vector<std::unique_ptr<Connected>> m_sources;
    QElapsedTimer m_clock;  // since the first source was chosen
    double m_base_s = 0, m_speed = 1;
    std::optional<qint64> m_origin_us;  // of a recording that is played again
    std::atomic<bool> m_isWaiting = false;
    QElapsedTimer m_lastTold;
    QTimer m_next, m_tick;
    double m_frameRate = 0;
    std::uint64_t m_framesBefore = 0;
};

}  // namespace fg::gui
