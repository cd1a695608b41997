#include "model/live_alarms.h"

#include "units/number_format.h"
#include "widgets/text.h"

namespace fg::gui {
namespace {

std::string limitText(const std::optional<double>& limit, const Unit& unit) {
    return limit ? plainNumber(unit.fromCanonical(*limit), 6) + " " + std::string(unit.symbol) : std::string();
}

}  // namespace

LiveAlarms::LiveAlarms(LiveFeed& feed, QObject* parent)
    : QObject(parent),
      m_feed(feed),
      m_listener(feed.engine().addListener([this](const GaugeBatch& batch) { take(batch); })) {}

LiveAlarms::~LiveAlarms() { m_feed.engine().removeListener(m_listener); }

void LiveAlarms::setBench(const Bench& bench) {
    const std::lock_guard lock(m_guard);
    std::map<std::int64_t, Watched> watched;
    for (const BenchGauge& gauge : bench.gauges) {
        if (!gauge.spec.alarm) continue;
        const Unit& unit = gauge.spec.readingUnit();
        Watched one{*gauge.spec.alarm, limitText(gauge.spec.alarm->high, unit), limitText(gauge.spec.alarm->low, unit),
                    AlarmWatch(*gauge.spec.alarm)};
        if (const auto it = m_watched.find(gauge.id); it != m_watched.end() && it->second.rule == one.rule)
            one.watch = it->second.watch;
        watched.emplace(gauge.id, std::move(one));
    }
    m_watched = std::move(watched);
}

QString LiveAlarms::textOf(const Watched& one) {
    if (one.watch.side() == AlarmWatch::Side::High) return tr("above %1").arg(qs(one.high));
    if (one.watch.side() == AlarmWatch::Side::Low) return tr("below %1").arg(qs(one.low));
    return {};
}

void LiveAlarms::take(const GaugeBatch& batch) {
    const std::lock_guard lock(m_guard);
    const auto it = m_watched.find(batch.gauge);
    if (it == m_watched.end()) return;
    for (std::size_t i = 0; i < batch.samples.size(); ++i) {
        if (!it->second.watch.take(batch.samples[i]->time_s, batch.readings[i])) continue;
        QMetaObject::invokeMethod(
            this,
            [this, id = batch.gauge, text = textOf(it->second), isOn = it->second.watch.isOn()] {
                emit changed(id, text, isOn);
            },
            Qt::QueuedConnection);
    }
}

void LiveAlarms::acknowledge(std::int64_t gauge) {
    {
        const std::lock_guard lock(m_guard);
        const auto it = m_watched.find(gauge);
        if (it == m_watched.end() || !it->second.watch.isHeld()) return;
        it->second.watch.acknowledge();
    }
    emit changed(gauge, {}, false);
}

LiveAlarms::State LiveAlarms::stateOf(std::int64_t gauge) const {
    const std::lock_guard lock(m_guard);
    const auto it = m_watched.find(gauge);
    if (it == m_watched.end()) return {};
    return {it->second.watch.isOn(), it->second.watch.isHeld(), textOf(it->second)};
}

}  // namespace fg::gui
