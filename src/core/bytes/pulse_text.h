#pragma once

#include "bytes/raw_data.h"

#include <span>

namespace fg {

/// The 40 bits out of a scope's or logic analyser's high times in µs: a bit is 0 when the line was high for 26–28 µs, 1
/// for 70 µs. Exactly 40 of them, or 41 to 42 with the answer's own 80 µs before them. Errors: Range for another count
/// or for a time that is neither.
[[nodiscard]] Expected<RawBlock> singleBusFromPulses(std::span<const double> high_us);

/// "26.5 71, 27": such high times in µs, as text. Errors: Syntax for what is no number, and as above.
[[nodiscard]] Expected<RawData> readPulses(std::string_view text);

/// What is pasted for a single-bus part: 40 to 42 separate numbers are high times, as no frame has so many bytes; all
/// else is a dump.
[[nodiscard]] Expected<RawData> readSingleBus(std::string_view text);

}  // namespace fg
