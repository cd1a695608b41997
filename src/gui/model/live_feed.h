#pragma once

#include "acquisition/line_reader.h"
#include "sources/byte_source.h"

#include <memory>
#include <QElapsedTimer>
#include <QHash>
#include <QObject>
#include <QTimer>

namespace fg::gui {

/// The newest raw value of every channel, from whichever source is running. Same reader for all transports.
class LiveFeed final : public QObject {
    Q_OBJECT
  public:
    explicit LiveFeed(QObject* parent = nullptr);

    /// Replaces the source; null stops. The new one is started.
    void setSource(std::unique_ptr<ByteSource> source);
    [[nodiscard]] const ByteSource* source() const { return m_source.get(); }

    struct Latest {
        double raw = 0;                   ///< a count; NaN when bytes came
        std::vector<std::uint8_t> bytes;  ///< of a digital part; empty when a count came
        double age_s = 0;
        bool stale = false;
    };
    /// The newest value of a channel; nothing when it never came or is no number.
    [[nodiscard]] std::optional<Latest> latest(const QString& channel) const;

    [[nodiscard]] QStringList channels() const;
    [[nodiscard]] const LineReader& reader() const { return m_reader; }
    /// Frames a second over the last two seconds.
    [[nodiscard]] double frameRate() const { return m_frameRate; }

    /// A value is stale when none came for this long.
    static constexpr double kStaleAfter_s = 5;

  signals:
    void received();       ///< new values
    void statusChanged();  ///< source, rate, junk or staleness changed

  private:
    void take(const QByteArray& bytes);
    void tick();

    struct Value {
        double raw;
        std::vector<std::uint8_t> bytes;
        qint64 at_ms;
    };
    std::unique_ptr<ByteSource> m_source;
    LineReader m_reader;
    QHash<QString, Value> m_values;
    QElapsedTimer m_clock;
    QTimer m_tick;
    double m_frameRate = 0;
    std::uint64_t m_framesBefore = 0;
};

}  // namespace fg::gui
