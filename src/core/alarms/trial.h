#pragma once

#include "alarms/reached.h"
#include "recording/track_reader.h"

#include <vector>

namespace fg {

/// What a rule would have done, once.
struct AlarmTried {
    AlarmRule rule;
    double every_s = 0;  ///< one reading in so long was looked at; 0: all
    AlarmReplay replay;
};

/// A rule held against a recording: other dead bands, other distances between readings, and what noise and steps
/// advise.
struct AlarmTrial {
    std::optional<ReachedReadings> reached;
    std::optional<Error> neverOn;  ///< why it is not there
    BandAdvice advice;
    std::vector<AlarmTried> tried;  ///< the rule itself first
};

/// Over the newest `most` samples of a span. Errors: those of the reader, of checkRule(), and Missing for too few
/// readings.
[[nodiscard]] Expected<AlarmTrial> tryAlarm(TrackReader& reader, TimeSpan span, const Gauge& gauge,
                                            const AlarmRule& rule, double every_s = 0, std::size_t most = 2'000'000);

}  // namespace fg
