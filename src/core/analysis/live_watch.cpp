#include "analysis/live_watch.h"

#include "analysis/selection.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

void LiveWatch::setFilter(const FilterSpec& spec) {
    if (m_filter && spec == m_spec) return;
    m_spec = spec;
    m_filter.reset();
    m_filtered.reset();
    if (auto made = ReadingFilter::make(spec)) m_filter.emplace(std::move(*made));
    for (const auto& [time_s, reading] : m_last)
        if (m_filter && reading.clip == Clip::None) m_filtered = m_filter->take(reading.value);
}

void LiveWatch::forgetExtremes() {
    m_least.reset();
    m_most.reset();
}

void LiveWatch::take(double time_s, const Reading& reading) {
    m_last.emplace_back(time_s, reading);
    if (m_last.size() > kKept) m_last.pop_front();
    if (std::isnan(reading.value) || reading.clip != Clip::None) return;
    if (!m_least || reading.value < *m_least) {
        m_least = reading.value;
        m_leastAt_s = time_s;
    }
    if (!m_most || reading.value > *m_most) {
        m_most = reading.value;
        m_mostAt_s = time_s;
    }
    if (m_filter) m_filtered = m_filter->take(reading.value);
}

LiveWatch::State LiveWatch::state(double wanted) const {
    constexpr std::size_t kLeastToTell = 32;
    State state;
    state.count = m_last.size();
    state.least = m_least;
    state.most = m_most;
    state.leastAt_s = m_leastAt_s;
    state.mostAt_s = m_mostAt_s;
    if (m_last.size() > 1 && m_last.back().first > m_last.front().first)
        state.rate_Hz = static_cast<double>(m_last.size() - 1) / (m_last.back().first - m_last.front().first);
    std::vector<Reading> readings;
    Selection selection;
    for (const auto& [time_s, reading] : m_last) {
        if (std::isnan(reading.value) || reading.clip != Clip::None) continue;
        readings.push_back(reading);
        selection.values.push_back(reading.value);
        selection.times_s.push_back(time_s - m_last.front().first);
    }
    state.noise = neighbourNoise(readings);
    if (m_spec.kind != "none" && !m_last.empty() && !std::isnan(m_last.back().second.value))
        state.filtered = m_filtered;
    if (m_filter) {
        state.effect = m_filter->effect();
        state.gated = m_filter->gated();
    }
    state.isAsked = wanted > 0 && selection.values.size() >= kLeastToTell;
    if (state.isAsked) state.toAverage = averageFor(selection, wanted);
    return state;
}

namespace {

std::string ago(double seconds) {
    if (seconds < 90) return fmt::format("{:.0f} s", std::max(0.0, seconds));
    return seconds < 5400 ? fmt::format("{:.0f} min", seconds / 60) : fmt::format("{:.1f} h", seconds / 3600);
}

std::string advice(const LiveWatch::State& state, const std::string& wanted) {
    if (!state.isAsked) return {};
    if (!state.toAverage)
        return "No average of these holds ± " + wanted + ": what moves them is drift or a real change, not noise.";
    if (*state.toAverage == 1) return "Every single reading holds ± " + wanted + " against the noise.";
    return fmt::format("Average {} to hold ± {} against the noise.", *state.toAverage, wanted);
}

}  // namespace

WatchText watchText(const LiveWatch::State& state, const GaugeSpec& spec, double now_s) {
    const Unit& unit = spec.readingUnit();
    WatchText text;
    if (state.count == 0) {
        text.pace = "Nothing has come from a source yet.";
        return text;
    }
    const double noise = unit.differenceFromCanonical(state.noise);
    const auto value = [&](double canonical, double resolved) {
        return fmt::format("{} {}",
                           fixedDigits(unit.fromCanonical(canonical), resolved > 0 ? decimalsFor(2 * resolved) : 2),
                           unit.symbol);
    };
    if (state.least)
        text.extremes =
            fmt::format("Lowest {}, {} ago; highest {}, {} ago.", value(*state.least, noise),
                        ago(now_s - state.leastAt_s), value(*state.most, noise), ago(now_s - state.mostAt_s));
    if (state.rate_Hz > 0)
        text.pace = fmt::format("A reading every {}.", shortEngineering(1 / state.rate_Hz, Quantity::Time, 2).joined());
    if (noise > 0)
        text.pace +=
            fmt::format(" Noise ± {} {} (2 σ, from reading to reading).", significantDigits(2 * noise, 2), unit.symbol);
    if (state.filtered) {
        const double left = state.effect.noise * noise;
        text.filter = fmt::format("{} by the {}", value(*state.filtered, left), filterText(spec.reading.filter));
        if (spec.reading.filter.kind == "gate")
            text.filter += fmt::format(": {} held back of the readings since it was set.", state.gated);
        else
            text.filter += fmt::format(
                ": leaves {} % of white noise{}{}.", significantDigits(100 * state.effect.noise, 2),
                left > 0 ? fmt::format(", ± {} {}", significantDigits(2 * left, 2), unit.symbol) : std::string(),
                state.rate_Hz > 0
                    ? fmt::format(
                          "; a slow change comes {} late",
                          shortEngineering(state.effect.delay_samples / state.rate_Hz, Quantity::Time, 2).joined())
                    : std::string());
    }
    text.advice = advice(state, fmt::format("{} {}", plainNumber(spec.reading.wanted, 4), unit.symbol));
    return text;
}

}  // namespace fg
