#pragma once

#include "alarms/alarm.h"
#include "model/live_feed.h"

#include <map>
#include <mutex>
#include <QObject>

namespace fg::gui {

/// The alarms of the open bench as readings come: every sample is looked at, in the source's thread. They warn; nothing
/// is switched.
class LiveAlarms final : public QObject {
    Q_OBJECT
  public:
    /// `feed` must outlive it.
    explicit LiveAlarms(LiveFeed& feed, QObject* parent = nullptr);
    ~LiveAlarms() override;

    /// From now on these gauges' rules; one that did not change goes on as it stands.
    void setBench(const Bench& bench);
    void acknowledge(std::int64_t gauge);

    struct State {
        bool isOn = false, isHeld = false;
        QString text;  ///< "above 63.0 °C"
    };
    /// Off for a gauge without an alarm.
    [[nodiscard]] State stateOf(std::int64_t gauge) const;

  signals:
    void changed(qint64 gauge, const QString& text, bool isOn);

  private:
    struct Watched {
        AlarmRule rule;
        std::string high, low;  ///< the limits as texts
        AlarmWatch watch;
    };
    void take(const GaugeBatch& batch);
    [[nodiscard]] static QString textOf(const Watched& one);

    LiveFeed& m_feed;
    std::size_t m_listener;
    mutable std::mutex m_guard;
    std::map<std::int64_t, Watched> m_watched;
};

}  // namespace fg::gui
