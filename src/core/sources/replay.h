#pragma once

#include "recording/store.h"
#include "sources/source.h"

namespace fg {

/// Rows of a CSV file with a time column played as lines, `speed` times as fast as they were taken (0.01 … 1000).
/// Columns "… raw" become channels without the "raw"; of a recording's own CSV, the channels of its gauges. Errors: Io;
/// Missing for a file without a header.
[[nodiscard]] Expected<std::unique_ptr<Source>> replaySource(const std::string& path, double speed);

/// The same of a recording; the store must outlive it.
[[nodiscard]] std::unique_ptr<Source> replaySource(const RecordingStore& store, const BenchRecording& recording,
                                                   double speed);

}  // namespace fg
