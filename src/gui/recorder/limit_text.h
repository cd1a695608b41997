#pragma once

#include "analysis/look.h"
#include "uncertainty/reading_text.h"

#include <QString>

namespace fg::gui {

/// A recorded reading as readings are shown everywhere.
[[nodiscard]] ReadingText recordedText(const SeenTrack& trace, const Reading& reading, double expanded);
/// The limit of a stretch: "25.0 klx".
[[nodiscard]] QString limitText(const SeenTrack& trace, const Stretch& stretch);

}  // namespace fg::gui
