#include "engine/engine.h"

#include "bench/linked_inputs.h"

#include <algorithm>
#include <array>
#include <boost/iterator/counting_iterator.hpp>
#include <cmath>
#include <iterator>
#include <limits>

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
    forgetBindings();
}

void Engine::forgetBindings() {
    for (auto& [number, heard] : m_sources) heard.bound.clear();
    m_given.bound.clear();
}

void Engine::remake(Running& one) {
    if (DerivedPath::applies(one.gauge.spec)) {
        auto made = Gauge::make(one.gauge.spec, m_catalogue);
        one.made.reset();
        if (made) one.made.emplace(std::move(*made));
        return;
    }
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
    m_sources.clear();
    m_given = Heard();
    m_lastRaw.clear();
    m_samples = 0;
    for (Running& one : m_running) {
        one.last.reset();
        one.window.reset();
    }
}

void Engine::restart(int source) {
    const std::lock_guard lock(m_guard);
    const auto it = m_sources.find(source);
    if (it == m_sources.end()) return;
    for (const std::string& name : it->second.names) {
        m_lastRaw.erase(name);
        for (Running& one : m_running)
            if (one.gauge.spec.channel == name) one.last.reset();
    }
    m_sources.erase(it);
}

void Engine::interrupt(int source) {
    const std::lock_guard lock(m_guard);
    if (const auto it = m_sources.find(source); it != m_sources.end()) it->second.feed.interrupt();
}

void Engine::take(std::string_view bytes, double now_s, int source) {
    const std::lock_guard lock(m_guard);
    Heard& heard = m_sources[source];
    const std::vector<Sample> samples = heard.feed.take(bytes, now_s);
    const auto& names = heard.feed.channelNames();
    while (heard.names.size() < names.size()) {
        const std::string& name = names[heard.names.size()];
        heard.names.push_back(source == 0 ? name : std::to_string(source + 1) + ":" + name);
    }
    takeLocked(samples, heard);
}

void Engine::take(std::span<const Sample> samples, const std::vector<std::string>& channelNames) {
    const std::lock_guard lock(m_guard);
    // Other names than those that the numbers stood for: another source.
    const bool isSameSource = m_given.names.size() <= channelNames.size() &&
                              std::equal(m_given.names.begin(), m_given.names.end(), channelNames.begin());
    if (!isSameSource) m_given.bound.clear();
    if (!isSameSource || m_given.names.size() < channelNames.size()) m_given.names = channelNames;
    takeLocked(samples, m_given);
}

void Engine::bind(Heard& heard) const {
    for (std::size_t channel = heard.bound.size(); channel < heard.names.size(); ++channel) {
        std::vector<std::size_t> gauges;
        for (std::size_t i = 0; i < m_running.size(); ++i)
            if (m_running[i].gauge.spec.channel == heard.names[channel]) gauges.push_back(i);
        heard.bound.push_back(std::move(gauges));
    }
}

void Engine::takeLocked(std::span<const Sample> samples, Heard& heard) {
    if (samples.empty()) return;
    bind(heard);
    m_samples += samples.size();
    std::vector<const Sample*> newest(heard.names.size());
    // A replay brings long runs of one channel: each is handed on as a whole.
    for (std::size_t begin = 0; begin < samples.size();) {
        const std::uint32_t channel = samples[begin].channel;
        std::size_t end = begin + 1;
        while (end < samples.size() && samples[end].channel == channel) ++end;
        newest[channel] = &samples[end - 1];
        for (const std::size_t index : heard.bound[channel]) {
            auto& taken = m_running[index].samples;
            using Pointers = boost::counting_iterator<const Sample*>;
            taken.insert(taken.end(), Pointers(&samples[begin]), Pointers(samples.data() + end));
        }
        begin = end;
    }
    for (std::size_t channel = 0; channel < newest.size(); ++channel)
        if (newest[channel]) m_lastRaw[heard.names[channel]] = {newest[channel]->raw, newest[channel]->time_s};
    for (Running& one : m_running) run(one);
    for (const Running& one : m_running)
        if (!one.samples.empty())
            for (const auto& [number, listener] : m_listeners) listener({one.gauge.id, one.samples, one.readings});
    for (Running& one : m_running) {
        one.samples.clear();
        one.ready = 0;
    }
}

const Engine::Running* Engine::lenderOf(const Running& one, const LinkedInput& input) const {
    const auto source = std::find_if(m_running.begin(), m_running.end(), [&](const Running& other) {
        return other.gauge.id == input.gauge && &other != &one;
    });
    return source == m_running.end() ? nullptr : &*source;
}

namespace {

/// Behind the last sample that is not after a time; of several at that time behind the one whose turn it is.
std::ptrdiff_t countUntil(const std::vector<const Sample*>& samples, double time_s, std::ptrdiff_t turn) {
    const auto until = std::upper_bound(samples.begin(), samples.end(), time_s,
                                        [](double time, const Sample* sample) { return time < sample->time_s; });
    const auto from = std::lower_bound(samples.begin(), until, time_s,
                                       [](const Sample* sample, double time) { return sample->time_s < time; });
    return (turn < until - from ? from + turn + 1 : until) - samples.begin();
}
constexpr std::ptrdiff_t kLastTurn = std::numeric_limits<std::ptrdiff_t>::max();

/// Counts the samples of one time, from 0 on.
class Turns {
  public:
    std::ptrdiff_t next(double time_s) {
        m_turn = time_s == m_time_s ? m_turn + 1 : 0;
        m_time_s = time_s;
        return m_turn;
    }

  private:
    double m_time_s = std::numeric_limits<double>::quiet_NaN();
    std::ptrdiff_t m_turn = 0;
};

double wordOf(const Raw& raw) {
    const double* word = std::get_if<double>(&raw);
    return word ? *word : std::nan("");
}

double valueOf(const Reading& reading) { return reading.clip == Clip::None ? reading.value : std::nan(""); }

}  // namespace

void Engine::followInputs(Running& one, double time_s, std::ptrdiff_t turn) {
    bool isChanged = false;
    for (const auto& [field, input] : one.gauge.spec.inputs) {
        const Running* const source = lenderOf(one, input);
        if (!source) continue;
        // What the source read last before this sample: in this batch, or before it.
        const auto until =
            std::min(countUntil(source->samples, time_s, turn), static_cast<std::ptrdiff_t>(source->ready));
        std::optional<double> value;
        if (until > 0)
            value = valueOf(source->readings[static_cast<std::size_t>(until) - 1]);
        else if (source->before)
            value = valueOf(source->before->second);
        const auto known = one.linked.find(input.gauge);
        const bool isSame = value ? known != one.linked.end() && known->second == *value : known == one.linked.end();
        if (isSame) continue;
        isChanged = true;
        if (value)
            one.linked[input.gauge] = *value;
        else
            one.linked.erase(input.gauge);
    }
    // The formula of a derived gauge takes the values as they are: nothing is made anew.
    if (isChanged && !DerivedPath::applies(one.gauge.spec)) remake(one);
}

void Engine::makeOwnSamples(Running& one) {
    one.own.clear();
    std::vector<double> times;
    for (const auto& [field, input] : one.gauge.spec.inputs) {
        const Running* const source = lenderOf(one, input);
        if (!source) continue;
        std::vector<double> ofSource, both;
        for (const Sample* sample : source->samples) {
            // Clocks of two sources may be apart: a reading is never older than the one before it.
            const bool isLate = one.last && sample->time_s < one.last->time_s;
            if (isLate && !ofSource.empty() && ofSource.back() == one.last->time_s) continue;
            ofSource.push_back(isLate ? one.last->time_s : sample->time_s);
        }
        std::sort(ofSource.begin(), ofSource.end());
        // A time that one input has several times is there as often.
        std::set_union(times.begin(), times.end(), ofSource.begin(), ofSource.end(), std::back_inserter(both));
        times = std::move(both);
    }
    for (const double time_s : times) one.own.push_back({0, time_s, std::nan("")});
    for (const Sample& sample : one.own) one.samples.push_back(&sample);
}

void Engine::deriveAll(Running& one) {
    const bool isTriggered = one.own.empty();
    const auto put = [&](std::size_t i, double value) {
        one.readings[i] = Reading{value};
        if (!isTriggered) one.own[i].raw = value;
    };
    const DerivedPath* const path = one.made ? one.made->derived() : nullptr;
    const auto& inputs = one.gauge.spec.inputs;
    Turns turns;
    if (path && path->running()) {
        const Running* const source = inputs.empty() ? nullptr : lenderOf(one, inputs.begin()->second);
        if (!one.window) {
            one.window.emplace(path->running()->over, path->window_s());
            one.windowTo_s = -HUGE_VAL;
        }
        std::size_t next = 0;
        for (std::size_t i = 0; i < one.samples.size(); ++i) {
            const double time_s = one.samples[i]->time_s;
            const std::ptrdiff_t turn = turns.next(time_s);
            const auto until = source ? static_cast<std::size_t>(countUntil(source->samples, time_s, turn)) : 0;
            for (; source && next < std::min(source->ready, until); ++next) {
                if (source->samples[next]->time_s < one.windowTo_s) continue;
                one.windowTo_s = source->samples[next]->time_s;
                one.window->add(one.windowTo_s, valueOf(source->readings[next]));
            }
            put(i, path->corrected(one.window->value()));
        }
        return;
    }
    const auto parameters = derivedParameters(one.gauge.spec);
    std::vector<double> values = path ? path->inputs() : std::vector<double>();
    for (std::size_t i = 0; i < one.samples.size(); ++i) {
        followInputs(one, one.samples[i]->time_s, turns.next(one.samples[i]->time_s));
        for (std::size_t k = 0; k < values.size(); ++k) {
            const auto input = inputs.find("sensor." + parameters[k].id);
            if (input == inputs.end()) continue;
            const auto linked = one.linked.find(input->second.gauge);
            values[k] = linked == one.linked.end() ? std::nan("") : linked->second;
        }
        put(i, path ? path->readingOf(values) : std::nan(""));
    }
}

void Engine::run(Running& one) {
    one.before.reset();
    if (one.last) one.before.emplace(one.last->time_s, one.last->reading);
    const bool isDerived = DerivedPath::applies(one.gauge.spec);
    if (isDerived && one.gauge.spec.channel.empty()) makeOwnSamples(one);
    if (one.samples.empty()) return;
    one.readings.resize(one.samples.size());
    const bool hasInputs = !one.gauge.spec.inputs.empty();
    if (isDerived) {
        deriveAll(one);
    } else if (one.made && !one.made->digital() && !hasInputs) {
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
            if (hasInputs) followInputs(one, sample.time_s, kLastTurn);
            one.readings[i] = Reading{std::nan("")};
            if (!one.made) continue;
            const auto* bytes = std::get_if<std::vector<std::uint8_t>>(&sample.raw);
            one.readings[i] = bytes ? one.made->read(*bytes) : one.made->read(wordOf(sample.raw));
        }
    }
    one.ready = one.readings.size();
    if (!one.last) one.last.emplace();
    one.last->time_s = one.samples.back()->time_s;
    one.last->reading = one.readings.back();
    one.last->raw = one.samples.back()->raw;
    one.last->count += one.samples.size();
    if (one.window) one.last->standard = one.window->standard();
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
    std::map<std::string, std::string, std::less<>> units;
    for (const auto& [number, heard] : m_sources)
        for (std::size_t i = 0; i < heard.names.size(); ++i) units[heard.names[i]] = heard.feed.channelUnits()[i];
    std::vector<ChannelState> all;
    for (const auto& [name, last] : m_lastRaw) {
        const auto unit = units.find(name);
        all.push_back({name, unit == units.end() ? std::string() : unit->second, last.first, last.second});
    }
    return all;
}

std::vector<SeenLine> Engine::lastLines() const {
    const std::lock_guard lock(m_guard);
    std::vector<SeenLine> all;
    for (const auto& [number, heard] : m_sources)
        for (const SeenLine& line : heard.feed.reader().lastLines()) {
            all.push_back(line);
            if (m_sources.size() > 1) all.back().text = std::to_string(number + 1) + "  " + line.text;
        }
    return all;
}

Engine::Status Engine::status() const {
    const std::lock_guard lock(m_guard);
    Status status;
    for (const auto& [number, heard] : m_sources) {
        const LineReader& reader = heard.feed.reader();
        status.frames += reader.frameCount();
        status.junk += reader.junkCount();
        if (!reader.lastJunk().empty()) status.lastJunk = reader.lastJunk();
        status.looksLikeWrongSpeed |= reader.looksLikeWrongSpeed();
        status.restarts += heard.feed.restarts();
        status.wraps += heard.feed.wraps();
        if (const BoardClock* clock = heard.feed.clock(); clock && !status.drift_ppm)
            status.drift_ppm = clock->drift_ppm();
    }
    status.samples = m_samples;
    for (const auto& [name, value] : m_lastRaw) status.channels.push_back(name);
    return status;
}

}  // namespace fg
