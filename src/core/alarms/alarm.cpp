#include "alarms/alarm.h"

#include <algorithm>
#include <cmath>

namespace fg {

AlarmWatch::Side AlarmWatch::beyond(const Reading& reading) const {
    const double value = reading.value;
    if (m_rule.high && value > *m_rule.high && reading.clip != Clip::AtMost) return Side::High;
    if (m_rule.low && value < *m_rule.low && reading.clip != Clip::AtLeast) return Side::Low;
    return Side::Off;
}

bool AlarmWatch::isBack(const Reading& reading) const {
    // A limit tells that it is back only where it bounds from the right side.
    if (m_side == Side::High) return reading.value <= *m_rule.high - m_rule.band && reading.clip != Clip::AtLeast;
    return reading.value >= *m_rule.low + m_rule.band && reading.clip != Clip::AtMost;
}

bool AlarmWatch::take(double time_s, const Reading& reading) {
    if (std::isnan(reading.value)) {
        if (!m_withoutValueSince_s) m_withoutValueSince_s = time_s;
        return false;
    }
    m_withoutValueSince_s.reset();
    const Side now = beyond(reading);
    if (m_side != Side::Off) {
        // From one side straight to the other: that is another alarm.
        if (now == Side::Off || now == m_side) {
            if (!isBack(reading)) {
                m_isHeld = false;
                return false;
            }
            if (m_rule.isLatched) {
                m_isHeld = true;
                return false;
            }
            m_side = Side::Off;
            return true;
        }
        m_isHeld = false;
        m_side = now;
        return true;
    }
    if (now == Side::Off) {
        m_pendingSince_s.reset();
        return false;
    }
    if (!m_pendingSince_s || m_pending != now) m_pendingSince_s = time_s;
    m_pending = now;
    if (time_s - *m_pendingSince_s < m_rule.delay_s) return false;
    m_side = now;
    m_pendingSince_s.reset();
    return true;
}

void AlarmWatch::acknowledge() {
    if (!m_isHeld) return;
    m_isHeld = false;
    m_side = Side::Off;
}

double AlarmReplay::perDay() const {
    constexpr double kDay_s = 86400;
    return length_s > 0 ? static_cast<double>(switchings) * kDay_s / length_s : 0;
}

Expected<AlarmReplay> replayAlarm(std::span<const double> times_s, std::span<const Reading> readings,
                                  const AlarmRule& rule, double every_s) {
    if (const auto good = checkRule(rule); !good) return tl::unexpected(good.error());
    if (readings.size() < 2 || times_s.size() != readings.size())
        return fail(ErrorCode::Missing, "readings", std::to_string(readings.size()),
                    "two at least, each with its time");
    AlarmWatch watch(rule);
    AlarmReplay replay;
    replay.length_s = times_s.back() - times_s.front();
    replay.peak = std::nan("");
    double next_s = times_s.front();
    double onSince_s = std::nan("");
    const auto end = [&](double time_s) {
        if (std::isnan(onSince_s)) return;
        replay.on_s += time_s - onSince_s;
        replay.longest_s = std::max(replay.longest_s, time_s - onSince_s);
        onSince_s = std::nan("");
    };
    for (std::size_t i = 0; i < readings.size(); ++i) {
        if (times_s[i] < next_s) continue;
        next_s = times_s[i] + every_s;
        const bool isChanged = watch.take(times_s[i], readings[i]);
        if (watch.isHeld()) {
            watch.acknowledge();
            end(times_s[i]);
            continue;
        }
        if (isChanged && watch.isOn()) {
            end(times_s[i]);  // straight from the other side
            ++replay.switchings;
            onSince_s = times_s[i];
        } else if (isChanged) {
            end(times_s[i]);
        }
        if (!watch.isOn() || std::isnan(readings[i].value) || readings[i].clip != Clip::None) continue;
        const double limit = watch.side() == AlarmWatch::Side::High ? *rule.high : *rule.low;
        if (!(std::abs(replay.peak - limit) >= std::abs(readings[i].value - limit))) replay.peak = readings[i].value;
    }
    end(times_s.back());
    return replay;
}

BandAdvice bandFor(double noise, double driftPerSecond, double step) {
    constexpr double kDeviations = 6, kSteps = 2, kMinute_s = 60;
    BandAdvice advice;
    advice.fromNoise = kDeviations * noise;
    advice.fromSteps = kSteps * step;
    advice.fromDrift = kMinute_s * std::abs(driftPerSecond);
    advice.band = std::max({advice.fromNoise, advice.fromSteps, advice.fromDrift});
    return advice;
}

}  // namespace fg
