#include "alarms/reached.h"

#include "units/number_format.h"

#include <cmath>

namespace fg {

Expected<double> nextReading(const Gauge& gauge, double value, bool up, bool orEqual) {
    const double way = up ? 1 : -1;
    const auto isThere = [&](double reading) {
        return orEqual && reading == value ? true : way * (reading - value) > 0;
    };
    // What it reads when the measurand is at the value, and a little farther each time: the first that is beyond.
    double least = std::max(std::abs(value), 1.0) * 1e-9;
    const Interval span = gauge.spec().spanCanonical();
    const double most = 2 * (span.high - span.low);
    const auto readAt = [&](double world) -> std::optional<double> {
        const auto evaluation = gauge.evaluate({Stage::World, world});
        if (!evaluation || evaluation->at(Stage::Reading).clip != Clip::None) return std::nullopt;
        return evaluation->reading();
    };
    std::optional<double> found;
    double from = 0, to = 0;
    for (double away = 0; away <= most; away = away == 0 ? least : 2 * away) {
        const auto reading = readAt(value + way * away);
        if (reading && isThere(*reading)) {
            found = *reading;
            to = away;
            break;
        }
        from = away;
    }
    if (!found)
        return fail(ErrorCode::Domain, "alarm", plainNumber(gauge.unit().fromCanonical(value), 7),
                    up ? "a limit above which the gauge can still read"
                       : "a limit below which the gauge can still read");
    // Between the last that was not and the first that was there may be nearer ones.
    constexpr int kHalvings = 60;
    for (int i = 0; i < kHalvings && to - from > least; ++i) {
        const double middle = (from + to) / 2;
        const auto reading = readAt(value + way * middle);
        if (reading && isThere(*reading)) {
            found = *reading;
            to = middle;
        } else
            from = middle;
    }
    return *found;
}

Expected<ReachedReadings> reachedReadings(const Gauge& gauge, const AlarmRule& rule) {
    if (const auto good = checkRule(rule); !good) return tl::unexpected(good.error());
    ReachedReadings reached;
    // Without codes of its own a gauge has no steps to fall into.
    if (gauge.derived() || gauge.said()) {
        if (rule.high) {
            reached.highOn = *rule.high;
            reached.highOff = *rule.high - rule.band;
        }
        if (rule.low) {
            reached.lowOn = *rule.low;
            reached.lowOff = *rule.low + rule.band;
        }
        return reached;
    }
    if (rule.high) {
        const auto on = nextReading(gauge, *rule.high, true, false);
        if (!on) return tl::unexpected(on.error());
        const auto off = nextReading(gauge, *rule.high - rule.band, false, true);
        if (!off) return tl::unexpected(off.error());
        reached.highOn = *on;
        reached.highOff = *off;
        if (const auto before = nextReading(gauge, *on, false, false)) reached.step = *on - *before;
    }
    if (rule.low) {
        const auto on = nextReading(gauge, *rule.low, false, false);
        if (!on) return tl::unexpected(on.error());
        const auto off = nextReading(gauge, *rule.low + rule.band, true, true);
        if (!off) return tl::unexpected(off.error());
        reached.lowOn = *on;
        reached.lowOff = *off;
        if (!rule.high)
            if (const auto before = nextReading(gauge, *on, true, false)) reached.step = *before - *on;
    }
    return reached;
}

}  // namespace fg
