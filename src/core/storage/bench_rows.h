#pragma once

#include "bench/document.h"

#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace fg {

/// A gauge or an entry of the journal of a bench file that cannot be read; its text stays in the file as it is.
struct UnreadGauge {
    std::int64_t id = 0;
    std::string text;
    Error why;
};

/// What a bench file holds.
struct StoredBench {
    Bench bench;
    std::vector<UnreadGauge> unread;
};

/// The tables of a bench file: docs/bench-file.md. Internal to the room; SQLite::Exception passes through.
namespace rows {

inline constexpr int kVersion = 5;

/// Lays the tables out in an empty database.
void layOut(SQLite::Database& database, int applicationId);

/// Brings the tables of version 1 to 4 up to date, in one transaction.
void bringUpToDate(SQLite::Database& database);

/// The bench as stored. Gauges that cannot be read, or whose checksum does not fit, are told apart. Errors: Damaged
/// where the bench as a whole does not fit its checksum: something is missing, or was changed by another program.
[[nodiscard]] Expected<StoredBench> read(SQLite::Database& database, const std::string& file);

/// Stores the step from one bench to the next, all of it or nothing. What was written is read back before it counts:
/// what does not come back the same is an error (Unsupported) that names the gauge, and leaves everything as it was.
[[nodiscard]] Expected<void> write(SQLite::Database& database, const Bench& before, const Bench& after);

/// What "PRAGMA integrity_check" says, "ok" first of all.
[[nodiscard]] std::string structureOf(SQLite::Database& database);

/// The same of a small file; of one with long recordings only the tables that are read when it is opened: a chunk has
/// its own checksum, and is checked when it is read.
[[nodiscard]] std::string structureForOpening(SQLite::Database& database);

}  // namespace rows
}  // namespace fg
