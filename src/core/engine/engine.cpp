#include "engine/engine.h"

#include "bench/linked_inputs.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {

void Engine::setBench(const Bench& bench) {
    const std::lock_guard lock(m_guard);
    std::vector<Running> running;
    for (const BenchGauge* gauge : inLinkOrder(bench)) {
        const auto known =
            std::find_if(m_running.begin(), m_running.end(), [&](const Running& one) { return one.gauge == *gauge; });
        if (known != m_running.end()) {
            running.push_back(std::move(*known));
            known->gauge.id = 0;
            continue;
        }
        Running one;
        one.gauge = *gauge;
        remake(one);
        running.push_back(std::move(one));
    }
    m_running = std::move(running);
    m_bound.clear();
    m_boundNames.clear();
}

void Engine::remake(Running& one) {
    const auto filled =
        withInputs(one.gauge.spec, m_catalogue, [&](const LinkedInput& input) -> std::optional<LinkedReading> {
            const auto it = one.linked.find(input.gauge);
            return it == one.linked.end() ? std::nullopt : std::optional(LinkedReading{it->second, 0});
        });
    one.made.reset();
    if (!filled) return;  // it waits for the gauges of its inputs
    if (auto made = Gauge::make(*filled, m_catalogue)) one.made.emplace(std::move(*made));
}

std::size_t Engine::addListener(Listener listener) {
    const std::lock_guard lock(m_guard);
    m_listeners.emplace(m_nextListener, std::move(listener));
    return m_nextListener++;
}

void Engine::removeListener(std::size_t number) {
    const std::lock_guard lock(m_guard);
    m_listeners.erase(number);
}

void Engine::restart() {
    const std::lock_guard lock(m_guard);
    m_feed = Feed();
    m_bound.clear();
    m_boundNames.clear();
    m_lastRaw.clear();
    m_samples = 0;
    for (Running& one : m_running) one.last.reset();
}

void Engine::interrupt() {
    const std::lock_guard lock(m_guard);
    m_feed.interrupt();
}

void Engine::take(std::string_view bytes, double now_s) {
    const std::lock_guard lock(m_guard);
    const std::vector<Sample> samples = m_feed.take(bytes, now_s);
    takeLocked(samples, m_feed.channelNames());
}

void Engine::take(std::span<const Sample> samples, const std::vector<std::string>& channelNames) {
    const std::lock_guard lock(m_guard);
    takeLocked(samples, channelNames);
}

void Engine::bind(const std::vector<std::string>& channelNames) {
    for (std::size_t channel = m_boundNames.size(); channel < channelNames.size(); ++channel) {
        std::vector<std::size_t> gauges;
        for (std::size_t i = 0; i < m_running.size(); ++i)
            if (m_running[i].gauge.spec.channel == channelNames[channel]) gauges.push_back(i);
        m_bound.push_back(std::move(gauges));
        m_boundNames.push_back(channelNames[channel]);
    }
}

void Engine::takeLocked(std::span<const Sample> samples, const std::vector<std::string>& channelNames) {
    if (samples.empty()) return;
    // Other names than those that the numbers stood for: another source.
    const bool isSameSource = m_boundNames.size() <= channelNames.size() &&
                              std::equal(m_boundNames.begin(), m_boundNames.end(), channelNames.begin());
    if (!isSameSource) {
        m_bound.clear();
        m_boundNames.clear();
    }
    bind(channelNames);
    m_samples += samples.size();
    std::vector<const Sample*> newest(channelNames.size());
    for (const Sample& sample : samples) {
        newest[sample.channel] = &sample;
        for (const std::size_t index : m_bound[sample.channel]) m_running[index].samples.push_back(&sample);
    }
    for (std::size_t channel = 0; channel < newest.size(); ++channel)
        if (newest[channel]) m_lastRaw[channelNames[channel]] = {newest[channel]->raw, newest[channel]->time_s};
    for (Running& one : m_running) run(one);
    for (const Running& one : m_running)
        if (!one.samples.empty())
            for (const auto& [number, listener] : m_listeners) listener({one.gauge.id, one.samples, one.readings});
    for (Running& one : m_running) one.samples.clear();
}

void Engine::followInputs(Running& one, double time_s) {
    bool isChanged = false;
    for (const auto& [field, input] : one.gauge.spec.inputs) {
        const auto source =
            std::find_if(m_running.begin(), m_running.end(), [&one, wanted = input.gauge](const Running& other) {
                return other.gauge.id == wanted && &other != &one;
            });
        if (source == m_running.end()) continue;
        // What the source read last before this sample: in this batch, or before it.
        const auto later = std::upper_bound(source->samples.begin(), source->samples.end(), time_s,
                                            [](double time, const Sample* sample) { return time < sample->time_s; });
        std::optional<Reading> read;
        if (later != source->samples.begin())
            read = source->readings[static_cast<std::size_t>(later - source->samples.begin()) - 1];
        else if (source->before)
            read = source->before->second;
        std::optional<double> value;
        if (read) value = read->clip == Clip::None ? read->value : std::nan("");
        const auto known = one.linked.find(input.gauge);
        const bool isSame = value ? known != one.linked.end() && known->second == *value : known == one.linked.end();
        if (isSame) continue;
        isChanged = true;
        if (value)
            one.linked[input.gauge] = *value;
        else
            one.linked.erase(input.gauge);
    }
    if (isChanged) remake(one);
}

namespace {

double wordOf(const Raw& raw) {
    const double* word = std::get_if<double>(&raw);
    return word ? *word : std::nan("");
}

}  // namespace

void Engine::run(Running& one) {
    one.before.reset();
    if (one.last) one.before.emplace(one.last->time_s, one.last->reading);
    if (one.samples.empty()) return;
    one.readings.resize(one.samples.size());
    const bool hasInputs = !one.gauge.spec.inputs.empty();
    if (one.made && one.made->analog() && !hasInputs) {
        constexpr std::size_t kBlock = 512;  // stays in the first-level cache
        std::array<double, kBlock> words;
        for (std::size_t begin = 0; begin < one.samples.size(); begin += kBlock) {
            const std::size_t size = std::min(kBlock, one.samples.size() - begin);
            for (std::size_t i = 0; i < size; ++i) words[i] = wordOf(one.samples[begin + i]->raw);
            one.made->read(std::span(words).first(size), std::span(one.readings).subspan(begin, size));
        }
    } else {
        for (std::size_t i = 0; i < one.samples.size(); ++i) {
            const Sample& sample = *one.samples[i];
            if (hasInputs) followInputs(one, sample.time_s);
            one.readings[i] = Reading{std::nan("")};
            if (!one.made) continue;
            const auto* bytes = std::get_if<std::vector<std::uint8_t>>(&sample.raw);
            one.readings[i] = bytes ? one.made->read(*bytes) : one.made->read(wordOf(sample.raw));
        }
    }
    if (!one.last) one.last.emplace();
    one.last->time_s = one.samples.back()->time_s;
    one.last->reading = one.readings.back();
    one.last->raw = one.samples.back()->raw;
    one.last->count += one.samples.size();
}

std::optional<LastReading> Engine::last(std::int64_t gauge) const {
    const std::lock_guard lock(m_guard);
    const auto it =
        std::find_if(m_running.begin(), m_running.end(), [&](const Running& one) { return one.gauge.id == gauge; });
    return it == m_running.end() ? std::nullopt : it->last;
}

std::optional<std::pair<Raw, double>> Engine::lastRaw(const std::string& channel) const {
    const std::lock_guard lock(m_guard);
    const auto it = m_lastRaw.find(channel);
    return it == m_lastRaw.end() ? std::nullopt : std::optional(it->second);
}

std::vector<ChannelState> Engine::channels() const {
    const std::lock_guard lock(m_guard);
    std::vector<ChannelState> all;
    for (const auto& [name, last] : m_lastRaw) all.push_back({name, {}, last.first, last.second});
    const auto& names = m_feed.channelNames();
    for (ChannelState& channel : all) {
        const auto it = std::find(names.begin(), names.end(), channel.name);
        if (it != names.end()) channel.unit = m_feed.channelUnits()[static_cast<std::size_t>(it - names.begin())];
    }
    return all;
}

std::vector<SeenLine> Engine::lastLines() const {
    const std::lock_guard lock(m_guard);
    const auto& lines = m_feed.reader().lastLines();
    return {lines.begin(), lines.end()};
}

Engine::Status Engine::status() const {
    const std::lock_guard lock(m_guard);
    Status status;
    const LineReader& reader = m_feed.reader();
    status.frames = reader.frameCount();
    status.junk = reader.junkCount();
    status.lastJunk = reader.lastJunk();
    status.looksLikeWrongSpeed = reader.looksLikeWrongSpeed();
    status.samples = m_samples;
    status.restarts = m_feed.restarts();
    status.wraps = m_feed.wraps();
    if (const BoardClock* clock = m_feed.clock()) status.drift_ppm = clock->drift_ppm();
    for (const auto& [name, value] : m_lastRaw) status.channels.push_back(name);
    return status;
}

}  // namespace fg
