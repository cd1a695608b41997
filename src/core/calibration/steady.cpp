#include "calibration/steady.h"

#include "calibration/series.h"

#include <cmath>
#include <vector>

namespace fg {

void SteadyWatch::restart() {
    m_read.clear();
    m_steadySince.reset();
}

void SteadyWatch::take(double time_s, double reading) {
    if (!std::isfinite(reading) || (!m_read.empty() && !(time_s > m_read.back().time_s))) {
        if (!std::isfinite(reading)) restart();
        return;
    }
    m_read.push_back({time_s, reading});
    // One reading more than the window holds, so that it is known to be covered.
    while (m_read.size() > 2 && m_read[1].time_s <= time_s - m_window_s) m_read.pop_front();
    const auto now = state();
    if (!now || !now->isSteady)
        m_steadySince.reset();
    else if (!m_steadySince)
        m_steadySince = time_s;
}

std::optional<SteadyWatch::State> SteadyWatch::state() const {
    if (m_read.size() < 3) return std::nullopt;
    std::vector<double> values, times;
    for (const Read& one : m_read) {
        values.push_back(one.reading);
        times.push_back(one.time_s);
    }
    const auto series = statisticsOf(values, times);
    if (!series) return std::nullopt;
    State state;
    state.count = series->count;
    state.covered_s = times.back() - times.front();
    state.mean = series->mean;
    state.meanStandard = series->meanStandard;
    state.slope = series->drift;
    const double moved = std::abs(series->drift) * state.covered_s;
    // The scatter about the line, from the deviation that holds the slope as well.
    const double ofSlope = moved * moved / 12;
    const double scatter = std::sqrt(std::max(0.0, series->deviation * series->deviation - ofSlope));
    state.isSteady = state.covered_s >= m_window_s * (1 - 1e-9) && moved <= std::max(scatter, m_fine);
    if (m_steadySince) state.steadyFor_s = times.back() - *m_steadySince + m_window_s;
    return state;
}

}  // namespace fg
