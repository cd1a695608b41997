#include "recorder/limit_text.h"

#include "widgets/text.h"

namespace fg::gui {

ReadingText recordedText(const SeenTrack& trace, const Reading& reading, double expanded) {
    const Unit& unit = trace.spec.readingUnit();
    StageValue value;
    value.value = reading.value;
    value.clip = reading.clip;
    value.quantity = trace.spec.quantity;
    const bool isUnstated = !(expanded > 0) && !trace.spec.reading.decimals;
    return readingText(value, expanded, unit,
                       isUnstated ? std::optional(decimalsWhenUnstated(reading.value, unit))
                                  : trace.spec.reading.decimals);
}

QString limitText(const SeenTrack& trace, const Stretch& stretch) {
    return qs(recordedText(trace, {stretch.limit, Clip::None}, 0).joined());
}

}  // namespace fg::gui
