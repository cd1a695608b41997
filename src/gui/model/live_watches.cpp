#include "model/live_watches.h"

namespace fg::gui {

LiveWatches::LiveWatches(LiveFeed& feed)
    : m_feed(feed), m_listener(feed.engine().addListener([this](const GaugeBatch& batch) {
          const std::lock_guard lock(m_guard);
          const auto it = m_watches.find(batch.gauge);
          if (it == m_watches.end()) return;
          for (std::size_t i = 0; i < batch.samples.size(); ++i)
              it->second.take(batch.samples[i]->time_s, batch.readings[i]);
      })) {}

LiveWatches::~LiveWatches() { m_feed.engine().removeListener(m_listener); }

void LiveWatches::setBench(const Bench& bench) {
    const std::lock_guard lock(m_guard);
    std::erase_if(m_watches, [&](const auto& one) { return !bench.find(one.first); });
    for (const BenchGauge& gauge : bench.gauges) m_watches[gauge.id].setFilter(gauge.spec.reading.filter);
}

void LiveWatches::forgetExtremes(std::int64_t gauge) {
    const std::lock_guard lock(m_guard);
    if (const auto it = m_watches.find(gauge); it != m_watches.end()) it->second.forgetExtremes();
}

WatchText LiveWatches::textOf(const BenchGauge& gauge) const {
    const std::lock_guard lock(m_guard);
    const auto it = m_watches.find(gauge.id);
    const double wanted = gauge.spec.readingUnit().differenceToCanonical(gauge.spec.reading.wanted);
    return watchText(it == m_watches.end() ? LiveWatch::State{} : it->second.state(wanted), gauge.spec,
                     m_feed.moment().engine_s);
}

}  // namespace fg::gui
