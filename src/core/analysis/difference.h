#pragma once

#include "analysis/selection.h"

namespace fg {

/// The first track less the second as a picture of a span, canonical, at the times of the first where the second has
/// values around them no further apart than `longest_s`. Readings without a value and limits take no part. Of more than
/// 100,000 samples each column shows its first ones; the picture then says that it is not exact.
/// Errors: those of the readers; Busy where `goesOn` said no.
[[nodiscard]] Expected<TrackView> differenceView(TrackReader& first, TrackReader& second, const Track& track,
                                                 TimeSpan span, std::size_t columns, double longest_s,
                                                 const TrackReader::Progress& goesOn = {});

}  // namespace fg
