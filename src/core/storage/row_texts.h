#pragma once

#include "recording/chunk.h"
#include "recording/recording.h"
#include "units/error.h"

#include <string>
#include <string_view>

namespace SQLite {
class Column;
class Database;
class Statement;
}  // namespace SQLite

/// What stands in the rows of a recording, and the checksums over it (docs/bench-file.md). Internal to the room.
namespace fg::rows {

[[nodiscard]] std::string_view blobOf(const SQLite::Column& column);
[[nodiscard]] Raw rawOf(const SQLite::Column& column);
void bindRaw(SQLite::Statement& statement, int at, const Raw& raw);

/// Of the samples and of what is told of them without unpacking.
[[nodiscard]] std::int64_t chunkSum(std::int64_t track, const ChunkSummary& summary, std::string_view data);
[[nodiscard]] std::int64_t textSum(std::int64_t owner, std::string_view json);
[[nodiscard]] std::int64_t textSum(std::int64_t owner, Micros from_us, std::string_view json);
[[nodiscard]] std::int64_t tailSum(std::int64_t track, const RecordedSample& sample);
/// Of its columns id, recording, gauge, count, first_us and last_us, which come first.
[[nodiscard]] std::int64_t trackSum(SQLite::Statement& track);
/// Once a track was changed.
void sumTrack(SQLite::Database& database, std::int64_t id);

[[nodiscard]] std::string headText(const BenchRecording& recording);
[[nodiscard]] Expected<BenchRecording> readHead(std::int64_t id, const std::string& text, const std::string& where);
[[nodiscard]] std::string markText(const TimeMark& mark);
[[nodiscard]] Expected<TimeMark> readMark(std::int64_t id, const std::string& text, const std::string& where);

[[nodiscard]] Error unfit(const std::string& where, const char* expected);

}  // namespace fg::rows
