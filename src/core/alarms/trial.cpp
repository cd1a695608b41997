#include "alarms/trial.h"

#include "analysis/selection.h"

#include <set>

namespace fg {
namespace {

/// Limits and gaps count too: an alarm sees them.
struct Seen {
    std::vector<double> times_s;
    std::vector<Reading> readings;
};

Expected<Seen> readingsOf(TrackReader& reader, TimeSpan span, std::size_t most) {
    Seen seen;
    const auto read = reader.read(span, [&](const SampleColumns& samples, std::span<const Reading> readings) {
        for (std::size_t i = 0; i < samples.size(); ++i) {
            seen.times_s.push_back(static_cast<double>(samples.times[i] - span.from_us) /
                                   static_cast<double>(kMicrosASecond));
            seen.readings.push_back(readings[i]);
        }
        if (seen.times_s.size() > 2 * most) {
            const auto cut = static_cast<std::ptrdiff_t>(seen.times_s.size() - most);
            seen.times_s.erase(seen.times_s.begin(), seen.times_s.begin() + cut);
            seen.readings.erase(seen.readings.begin(), seen.readings.begin() + cut);
        }
        return true;
    });
    if (!read) return tl::unexpected(read.error());
    return seen;
}

}  // namespace

Expected<AlarmTrial> tryAlarm(TrackReader& reader, TimeSpan span, const Gauge& gauge, const AlarmRule& rule,
                              double every_s, std::size_t most) {
    if (const auto good = checkRule(rule); !good) return tl::unexpected(good.error());
    const auto seen = readingsOf(reader, span, most);
    if (!seen) return tl::unexpected(seen.error());
    AlarmTrial trial;
    if (auto reached = reachedReadings(gauge, rule))
        trial.reached = *reached;
    else
        trial.neverOn = reached.error();
    const auto selection = selectionOf(reader, span, most);
    const auto statistics =
        selection ? statisticsOf(*selection) : Expected<SelectionStatistics>(tl::unexpected(selection.error()));
    trial.advice = bandFor(neighbourNoise(seen->readings), statistics ? statistics->series.drift : 0,
                           trial.reached ? trial.reached->step : 0);
    const auto add = [&](const AlarmRule& other, double other_s) -> Expected<void> {
        const auto replay = replayAlarm(seen->times_s, seen->readings, other, other_s);
        if (!replay) return tl::unexpected(replay.error());
        trial.tried.push_back({other, other_s, *replay});
        return {};
    };
    if (const auto done = add(rule, every_s); !done) return tl::unexpected(done.error());
    for (const double band : std::set<double>{0, trial.advice.band, 2 * trial.advice.band}) {
        AlarmRule other = rule;
        other.band = band;
        if (band == rule.band || !checkRule(other)) continue;
        if (const auto done = add(other, every_s); !done) return tl::unexpected(done.error());
    }
    const double length_s = seen->times_s.back() - seen->times_s.front();
    for (const double other_s : {10.0, 60.0, 600.0}) {
        if (other_s <= every_s || 4 * other_s > length_s) continue;
        if (const auto done = add(rule, other_s); !done) return tl::unexpected(done.error());
    }
    return trial;
}

}  // namespace fg
