#pragma once

#include "recording/store.h"
#include "storage/bench_rows.h"

#include <filesystem>

namespace fg {

/// What can be read of a damaged bench file, which stays as it is: row by row where the database still gives them, and
/// gauges found in the file's bytes where it does not. Gauges without a known number get one; none is told twice.
/// Errors: Io for a file that cannot be read; Missing when nothing at all was found.
[[nodiscard]] Expected<StoredBench> salvage(const std::filesystem::path& path);

/// Its recordings, chunk by chunk, into a bench that is open. Answers what could not be read.
[[nodiscard]] std::vector<Error> salvageRecordings(const std::filesystem::path& path, RecordingStore& into);

}  // namespace fg
