#pragma once

#include "analysis/live_watch.h"
#include "model/live_feed.h"

#include <map>
#include <mutex>

namespace fg::gui {

/// What every gauge has read lately, kept in the source's thread as it comes; asked for by the page that is looked at.
class LiveWatches final {
  public:
    /// `feed` must outlive it.
    explicit LiveWatches(LiveFeed& feed);
    ~LiveWatches();
    LiveWatches(const LiveWatches&) = delete;
    LiveWatches& operator=(const LiveWatches&) = delete;

    /// From now on these gauges; their filters as they stand.
    void setBench(const Bench& bench);
    void forgetExtremes(std::int64_t gauge);
    /// In words, as it stands now.
    [[nodiscard]] WatchText textOf(const BenchGauge& gauge) const;

  private:
    LiveFeed& m_feed;
    std::size_t m_listener;
    mutable std::mutex m_guard;
    std::map<std::int64_t, LiveWatch> m_watches;
};

}  // namespace fg::gui
