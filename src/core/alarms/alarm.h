// Room `alarms`: limits with a dead band, what they would have done, and where they really switch.
#pragma once

#include "path/alarm_rule.h"
#include "path/signal_path.h"
#include "units/error.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fg {

/// An alarm as it runs: readings in, on or off out.
///
/// A reading that is only a limit counts where it settles the question: "at least 70" is above 63. One without a value
/// changes nothing; how long there has been none is told.
class AlarmWatch {
  public:
    explicit AlarmWatch(const AlarmRule& rule) : m_rule(rule) {}

    enum class Side { Off, High, Low };
    /// Times only rise. True where the state changed.
    bool take(double time_s, const Reading& reading);
    void acknowledge();

    [[nodiscard]] Side side() const { return m_side; }
    [[nodiscard]] bool isOn() const { return m_side != Side::Off; }
    /// Inside again, but it waits for somebody to acknowledge it.
    [[nodiscard]] bool isHeld() const { return m_isHeld; }
    /// Since when the reading has been beyond without the alarm being on yet.
    [[nodiscard]] std::optional<double> pendingSince_s() const { return m_pendingSince_s; }
    [[nodiscard]] std::optional<double> withoutValueSince_s() const { return m_withoutValueSince_s; }

  private:
    [[nodiscard]] Side beyond(const Reading& reading) const;
    [[nodiscard]] bool isBack(const Reading& reading) const;

    AlarmRule m_rule;
    Side m_side = Side::Off, m_pending = Side::Off;
    std::optional<double> m_pendingSince_s, m_withoutValueSince_s;
    bool m_isHeld = false;
};

/// What a rule would have done over readings that were recorded.
struct AlarmReplay {
    std::size_t switchings = 0;  ///< how often it went on
    double on_s = 0;             ///< how long it was on
    double length_s = 0;         ///< of the readings
    double longest_s = 0;        ///< the longest time it was on
    double peak = 0;             ///< farthest reading beyond a limit, of those that are values; NaN without one
    [[nodiscard]] double perDay() const;
};

/// Replays a rule over readings in order of time; only one reading in every `every_s` is looked at (0: all). A latched
/// rule is acknowledged as soon as the reading is back. Errors: those of checkRule(); Missing for fewer than two
/// readings.
[[nodiscard]] Expected<AlarmReplay> replayAlarm(std::span<const double> times_s, std::span<const Reading> readings,
                                                const AlarmRule& rule, double every_s = 0);

/// A dead band that noise does not cross by itself: six standard deviations of it (a crossing of both its edges by
/// chance is then rarer than once in a million readings), what the reading drifts in a minute, and two steps of the
/// code, whichever is widest. All canonical differences.
struct BandAdvice {
    double band = 0;
    double fromNoise = 0, fromSteps = 0, fromDrift = 0;
};
[[nodiscard]] BandAdvice bandFor(double noise, double driftPerSecond, double step);

}  // namespace fg
