#pragma once

#include "analysis/filter.h"
#include "path/signal_path.h"

#include <deque>

namespace fg {

/// What a gauge has read lately and since it began, kept sample by sample: for a screen that shows more than the last
/// number. Not for two threads at once.
class LiveWatch {
  public:
    /// Takes another filter from now on; the readings stay.
    void setFilter(const FilterSpec& spec);
    void take(double time_s, const Reading& reading);
    /// Least and greatest begin anew.
    void forgetExtremes();

    struct State {
        std::size_t count = 0;              ///< readings kept, at most kKept
        double rate_Hz = 0;                 ///< readings a second lately; 0 for fewer than two
        std::optional<double> least, most;  ///< since the beginning; limits do not count
        double leastAt_s = 0, mostAt_s = 0;
        double noise = 0;                ///< of neighbours; 0: not known yet
        std::optional<double> filtered;  ///< the newest; nothing without a filter or a reading
        FilterEffect effect;
        std::size_t gated = 0;                 ///< held back by the gate
        std::optional<std::size_t> toAverage;  ///< so many hold `wanted`; nothing: none does, or it is not asked
        bool isAsked = false;                  ///< `wanted` was given and there are enough readings to tell
    };
    /// `wanted`: ± canonical, 0 when not given.
    [[nodiscard]] State state(double wanted) const;

    static constexpr std::size_t kKept = 1024;

  private:
    std::deque<std::pair<double, Reading>> m_last;
    FilterSpec m_spec;
    std::optional<ReadingFilter> m_filter;
    std::optional<double> m_filtered;
    std::optional<double> m_least, m_most;
    double m_leastAt_s = 0, m_mostAt_s = 0;
};

/// The same in sentences, in the gauge's unit; what there is nothing to say of is empty.
struct WatchText {
    std::string extremes;  ///< "Lowest 20.9 °C, 12 s ago; highest 22.4 °C, 3 min ago"
    std::string pace;      ///< "A reading every 0.25 s; noise ± 0.12 °C (2 σ)"
    std::string filter;    ///< "21.43 °C by the mean of 16: a quarter of the noise, 1.9 s late"
    std::string advice;    ///< "Average 16 to hold ± 0.1 °C"
};
[[nodiscard]] WatchText watchText(const LiveWatch::State& state, const GaugeSpec& spec, double now_s);

}  // namespace fg
