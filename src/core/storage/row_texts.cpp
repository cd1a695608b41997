#include "storage/row_texts.h"

#include "json/json_text.h"
#include "storage/row_sum.h"
#include "units/date.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <nlohmann/json.hpp>

namespace fg::rows {
namespace {

Expected<Micros> timeIn(const nlohmann::json& json, const char* field, const std::string& where) {
    const auto micros = microsOfTime(json.at(field).get<std::string>());
    if (!micros) return fail(ErrorCode::Syntax, where + ": " + field, json.at(field).dump(), "an ISO 8601 time");
    return *micros;
}

}  // namespace

std::string_view blobOf(const SQLite::Column& column) {
    return {static_cast<const char*>(column.getBlob()), static_cast<std::size_t>(column.getBytes())};
}

std::int64_t chunkSum(std::int64_t track, const ChunkSummary& summary, std::string_view data) {
    RowSum sum;
    sum.add(track).add(summary.span.from_us).add(summary.span.to_us).add(summary.count);
    if (summary.hasWords()) sum.add(shortestText(summary.least)).add(shortestText(summary.most));
    return sum.add(data).value();
}

std::int64_t textSum(std::int64_t owner, std::string_view json) { return RowSum().add(owner).add(json).value(); }

std::int64_t textSum(std::int64_t owner, Micros from_us, std::string_view json) {
    return RowSum().add(owner).add(from_us).add(json).value();
}

std::int64_t tailSum(std::int64_t track, const RecordedSample& sample) {
    RowSum sum;
    sum.add(track).add(sample.time_us);
    if (const double* word = std::get_if<double>(&sample.raw)) return sum.add(shortestText(*word)).value();
    const auto& bytes = std::get<std::vector<std::uint8_t>>(sample.raw);
    return sum.add({reinterpret_cast<const char*>(bytes.data()), bytes.size()}).value();
}

Raw rawOf(const SQLite::Column& column) {
    if (!column.isBlob()) return column.getDouble();
    const std::string_view bytes = blobOf(column);
    return std::vector<std::uint8_t>(bytes.begin(), bytes.end());
}

void bindRaw(SQLite::Statement& statement, int at, const Raw& raw) {
    if (const double* word = std::get_if<double>(&raw)) return statement.bind(at, *word);
    const auto& bytes = std::get<std::vector<std::uint8_t>>(raw);
    statement.bind(at, bytes.data(), static_cast<int>(bytes.size()));
}

std::string headText(const BenchRecording& recording) {
    nlohmann::ordered_json json{{"name", recording.name},
                                {"source", recording.source},
                                {"started", timeOfMicros(recording.started_us)}};
    if (recording.ended_us) json["ended"] = timeOfMicros(*recording.ended_us);
    return jsonText(json);
}

Expected<BenchRecording> readHead(std::int64_t id, const std::string& text, const std::string& where) {
    const auto json = parseJson(text, where);
    if (!json) return tl::unexpected(json.error());
    return guarded(where, [&]() -> Expected<BenchRecording> {
        BenchRecording recording{id, json->at("name").get<std::string>(), json->at("source").get<std::string>()};
        const auto started = timeIn(*json, "started", where);
        if (!started) return tl::unexpected(started.error());
        recording.started_us = *started;
        if (!json->contains("ended")) return recording;
        const auto ended = timeIn(*json, "ended", where);
        if (!ended) return tl::unexpected(ended.error());
        recording.ended_us = *ended;
        return recording;
    });
}

std::string markText(const TimeMark& mark) {
    return jsonText(nlohmann::ordered_json{{"kind", markKindName(mark.kind)},
                                           {"from", timeOfMicros(mark.span.from_us)},
                                           {"to", timeOfMicros(mark.span.to_us)},
                                           {"gauge", mark.gauge},
                                           {"text", mark.text}});
}

Expected<TimeMark> readMark(std::int64_t id, const std::string& text, const std::string& where) {
    const auto json = parseJson(text, where);
    if (!json) return tl::unexpected(json.error());
    return guarded(where, [&]() -> Expected<TimeMark> {
        const auto kind = markKindOf(json->at("kind").get<std::string>());
        if (!kind)
            return fail(ErrorCode::Unknown, where + ": kind", json->at("kind").dump(), "marker, gap, clock or alarm");
        const auto from = timeIn(*json, "from", where), to = timeIn(*json, "to", where);
        if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
        return TimeMark{
            id, *kind, {*from, *to}, json->at("gauge").get<std::int64_t>(), json->at("text").get<std::string>()};
    });
}

std::int64_t trackSum(SQLite::Statement& track) {
    RowSum sum;
    for (int column = 0; column < 6; ++column) sum.add(track.getColumn(column).getInt64());
    return sum.value();
}

void sumTrack(SQLite::Database& database, std::int64_t id) {
    SQLite::Statement track(database, "SELECT id, recording, gauge, count, first_us, last_us FROM track WHERE id = ?");
    track.bind(1, id);
    if (!track.executeStep()) return;
    SQLite::Statement put(database, "UPDATE track SET sum = ? WHERE id = ?");
    put.bind(1, trackSum(track));
    put.bind(2, id);
    put.exec();
}

Error unfit(const std::string& where, const char* expected) {
    return {ErrorCode::Damaged, where, "a checksum that does not fit", expected};
}

}  // namespace fg::rows
