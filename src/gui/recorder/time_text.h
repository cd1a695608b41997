#pragma once

#include "recording/recording.h"

#include <QString>

namespace fg::gui {

/// Local time of an axis whose ticks are so far apart: "09:30", "09:30:05", "09:30:05.25", "23 Nov".
[[nodiscard]] QString tickText(Micros time_us, Micros step_us);
/// "11:30:00", with thousandths where there are some.
[[nodiscard]] QString clockText(Micros time_us);
/// "Monday, 23 November".
[[nodiscard]] QString dayText(Micros time_us);
/// "5 h", "12 min", "40 s": how long, roughly.
[[nodiscard]] QString lengthText(TimeSpan span);
/// "04:52:06".
[[nodiscard]] QString elapsedText(Micros length_us);
/// The first tick of a local clock at or after a time.
[[nodiscard]] Micros firstTick(Micros time_us, Micros step_us);

}  // namespace fg::gui
