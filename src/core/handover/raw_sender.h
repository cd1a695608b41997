#pragma once

#include "gauge/gauge.h"
#include "handover/gauge_code.h"

#include <map>

namespace fg {

/// A program for the board that reads the raw values of gauges and prints them as lines (docs/line-protocol.md), one
/// line a second, so that they can be read live here.
struct RawSender {
    CodeFile file;                   ///< "workshop_sender.c"
    std::vector<std::string> notes;  ///< what the maker has to know: a gauge without a channel, a part left to him
    /// Channels that gauges without one are sent on, by the gauge's place among those given: they have to be bound.
    std::map<std::size_t, std::string> channels;
};

/// `name` is what the file is called after. Gauges that listen to one channel are one part. Derived gauges and readings
/// that the board works out itself need no raw value, and are left out. Errors: Missing where no gauge has a raw value.
[[nodiscard]] Expected<RawSender> rawSender(std::span<const Gauge> gauges, const std::string& name,
                                            CodeLanguage language);

}  // namespace fg
