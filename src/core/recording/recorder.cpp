#include "recording/recorder.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
Expected<std::unique_ptr<Recorder>> Recorder::start(RecordingStore& store, const Bench& bench,
                                                    std::span<const std::int64_t> gauges, const std::string& name,
                                                    const std::string& source, Moment now) {
    BenchRecording wanted{0, name, source, now.wall_us};
    for (const std::int64_t id : gauges) {
        const BenchGauge* gauge = bench.find(id);
        const bool speaks = gauge && (!gauge->spec.channel.empty() || DerivedPath::applies(gauge->spec));
        if (speaks) wanted.tracks.push_back({0, id, {{now.wall_us, gauge->spec}}});
    }
    if (wanted.tracks.empty())
        return fail(ErrorCode::Missing, "recording", "no gauge that has a channel", "a gauge that a source speaks to");
    auto begun = store.begin(wanted);
    if (!begun) return tl::unexpected(begun.error());
    std::unique_ptr<Recorder> recorder(new Recorder(store, std::move(*begun), now));
    recorder->m_status.started_us = recorder->m_status.last_us = now.wall_us;
    return recorder;
}

Micros Recorder::timeOf(double engine_s) const { return m_start.wall_us + microsOf(engine_s - m_start.engine_s); }

void Recorder::take(const GaugeBatch& batch) {
    const Track* track = m_recording.trackOf(batch.gauge);
    if (!track) return;
    const std::lock_guard lock(m_guard);
    if (!m_status.isRunning) return;
    std::vector<RecordedSample>& waiting = m_waiting[track->id];
    for (const Sample* sample : batch.samples) {
        const auto* frame = std::get_if<std::vector<std::uint8_t>>(&sample->raw);
        // A derived gauge without a reading yet says nothing.
        if (const double* word = std::get_if<double>(&sample->raw); word && std::isnan(*word)) continue;
        if (m_waitingCount >= kMostWaiting || (frame && frame->empty())) {
            ++m_status.lost;
            continue;
        }
        waiting.push_back({timeOf(sample->time_s), sample->raw});
        ++m_waitingCount;
    }
}

void Recorder::describe(const Bench& bench, Moment now) {
    const std::lock_guard lock(m_guard);
    for (Track& track : m_recording.tracks) {
        const BenchGauge* gauge = bench.find(track.gauge);
        if (!gauge || gauge->spec == track.newest()) continue;
        track.descriptions.push_back({timeOf(now.engine_s), gauge->spec});
        m_descriptions.emplace_back(track.id, track.descriptions.back());
    }
}

void Recorder::mark(const std::string& text, Moment now) {
    const std::lock_guard lock(m_guard);
    const Micros at_us = timeOf(now.engine_s);
    m_marks.push_back({0, MarkKind::Marker, {at_us, at_us}, 0, text});
}

void Recorder::alarm(std::int64_t gauge, const std::string& text, bool isOn, Moment now) {
    const std::lock_guard lock(m_guard);
    const Micros at_us = timeOf(now.engine_s);
    const auto known = m_alarms.find(gauge);
    if (isOn && known == m_alarms.end()) {
        m_alarms[gauge] = {0, MarkKind::Alarm, {at_us, at_us}, gauge, text};
    } else if (!isOn && known != m_alarms.end()) {
        known->second.span.to_us = at_us;
        m_marks.push_back(known->second);
        m_alarms.erase(known);
    }
}

void Recorder::interrupted(const std::string& why, Moment now) {
    const std::lock_guard lock(m_guard);
    const Micros at_us = timeOf(now.engine_s);
    if (!m_gap) m_gap = TimeMark{0, MarkKind::Gap, {at_us, at_us}, 0, why};
}

void Recorder::resumed(Moment now) {
    const std::lock_guard lock(m_guard);
    if (!m_gap) return;
    m_gap->span.to_us = timeOf(now.engine_s);
    m_marks.push_back(*m_gap);
    m_gap.reset();
}

void Recorder::watchClock(Moment now) {
    constexpr Micros kNoted_us = 2 * kMicrosASecond;
    const Micros off_us = now.wall_us - timeOf(now.engine_s);
    const Micros step_us = off_us - m_clockOff_us;
    if (std::abs(step_us) < kNoted_us) return;
    m_clockOff_us = off_us;
    const Micros at_us = timeOf(now.engine_s);
    m_marks.push_back({0,
                       MarkKind::Clock,
                       {at_us, at_us},
                       0,
                       fmt::format("The computer's clock was set {} by {:.0f} s; the recording's times go on as before",
                                   step_us > 0 ? "forward" : "back",
                                   std::abs(static_cast<double>(step_us)) / static_cast<double>(kMicrosASecond))});
}

Expected<void> Recorder::store(Moment now, bool isEnd) {
    const std::lock_guard one(m_storing);
    std::map<std::int64_t, std::vector<RecordedSample>> samples;
    RecordingStep step;
    std::uint64_t count = 0;
    {
        const std::lock_guard lock(m_guard);
        if (!m_status.isRunning)
            return fail(ErrorCode::Io, "recording", m_status.problem.empty() ? "one that has ended" : m_status.problem,
                        "one that runs");
        watchClock(now);
        samples.swap(m_waiting);
        count = std::exchange(m_waitingCount, 0);
        step.descriptions.swap(m_descriptions);
        step.marks.swap(m_marks);
        if (isEnd) {
            step.ended_us = timeOf(now.engine_s);
            const auto close = [&](TimeMark open) {
                open.span.to_us = *step.ended_us;
                step.marks.push_back(std::move(open));
            };
            if (m_gap) close(*m_gap);
            for (const auto& [gauge, open] : m_alarms) close(open);
        }
    }
    for (const auto& [track, of] : samples)
        if (!of.empty()) step.samples.push_back({track, of});
    const bool isEmpty = step.samples.empty() && step.descriptions.empty() && step.marks.empty() && !step.ended_us;
    const auto done = isEmpty ? Expected<void>() : m_store.append(m_recording.id, step);
    const std::lock_guard lock(m_guard);
    if (!done) {
        m_status.isRunning = false;
        m_status.problem = done.error().message();
        m_status.lost += count + m_waitingCount;
        m_waiting.clear();
        m_waitingCount = 0;
        return done;
    }
    m_status.samples += count;
    m_status.last_us = timeOf(now.engine_s);
    if (isEnd) m_status.isRunning = false;
    return {};
}

Expected<void> Recorder::flush(Moment now) { return store(now, false); }
Expected<void> Recorder::stop(Moment now) { return store(now, true); }

Recorder::Status Recorder::status() const {
    const std::lock_guard lock(m_guard);
    return m_status;
}

}  // namespace fg
