#pragma once

#include "bench/document.h"
#include "recording/recording.h"

namespace fg {

/// The recording with the derived gauges of the bench that were not recorded, where all their inputs were: what they
/// would have read follows from these. A track more for each, at the times of the input that was heard most often.
[[nodiscard]] BenchRecording withWorkedOut(BenchRecording recording, const Bench& bench);

}  // namespace fg
