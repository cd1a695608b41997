#include "acquisition/feed.h"

namespace fg {

std::uint32_t Feed::channelOf(const std::string& name) {
    const auto [it, isNew] = m_channels.try_emplace(name, static_cast<std::uint32_t>(m_names.size()));
    if (isNew) {
        m_names.push_back(name);
        m_units.emplace_back();
    }
    return it->second;
}

std::vector<Sample> Feed::take(std::string_view bytes, double now_s) {
    std::vector<Sample> samples;
    for (Frame& frame : m_reader.feed(bytes)) {
        double time_s = now_s;
        if (frame.time_s) {
            const BoardClock::Event event = m_clock.take(*frame.time_s, now_s);
            m_hasClock = true;
            m_restarts += event == BoardClock::Event::Restart;
            m_wraps += event == BoardClock::Event::Wrap;
            time_s = m_clock.measuredAt_s();
        }
        for (RawSample& one : frame.samples) {
            const std::uint32_t channel = channelOf(one.channel);
            if (m_units[channel] != one.unit) m_units[channel] = std::move(one.unit);
            samples.push_back({channel, time_s, std::move(one.raw)});
        }
    }
    return samples;
}

}  // namespace fg
