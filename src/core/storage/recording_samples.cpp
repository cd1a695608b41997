// The samples of recordings: looked at, read, checked and saved from a broken file.

#include "storage/recording_guard.h"
#include "storage/row_texts.h"
#include "units/date.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <array>
#include <cmath>
#include <future>
#include <limits>

namespace fg {
using namespace rows;

namespace {

/// A query of numbers by the library's plain functions: of ten thousand rows the shared pointers that go with every
/// column of a SQLite::Statement are a quarter of the time.
class PlainQuery {
  public:
    PlainQuery(SQLite::Database& database, const char* text, std::initializer_list<std::int64_t> values)
        : m_database(database) {
        const int got = ::sqlite3_prepare_v2(database.getHandle(), text, -1, &m_statement, nullptr);
        if (got != SQLITE_OK) throw SQLite::Exception(database.getHandle(), got);
        int at = 0;
        for (const std::int64_t value : values) ::sqlite3_bind_int64(m_statement, ++at, value);
    }
    ~PlainQuery() { ::sqlite3_finalize(m_statement); }
    PlainQuery(const PlainQuery&) = delete;
    PlainQuery& operator=(const PlainQuery&) = delete;
    bool step() {
        const int got = ::sqlite3_step(m_statement);
        if (got != SQLITE_ROW && got != SQLITE_DONE) throw SQLite::Exception(m_database.getHandle(), got);
        return got == SQLITE_ROW;
    }
    [[nodiscard]] std::int64_t whole(int column) const { return ::sqlite3_column_int64(m_statement, column); }
    /// NaN where there is none.
    [[nodiscard]] double real(int column) const {
        const bool isNone = ::sqlite3_column_type(m_statement, column) == SQLITE_NULL;
        return isNone ? std::nan("") : ::sqlite3_column_double(m_statement, column);
    }

  private:
    SQLite::Database& m_database;
    ::sqlite3_stmt* m_statement = nullptr;
};

}  // namespace

RecordingRows::Contents RecordingRows::contentsOf(std::int64_t track, TimeSpan span) const {
    Contents contents;
    PlainQuery query(m_database,
                     "SELECT first_us, last_us, count, least, most, id FROM chunk WHERE track = ? AND first_us BETWEEN "
                     "? AND ? AND last_us >= ? ORDER BY first_us",
                     {track, span.from_us - kLongestChunk_us, span.to_us, span.from_us});
    while (query.step())
        contents.chunks.push_back({query.whole(5),
                                   {query.whole(0), query.whole(1)},
                                   static_cast<std::uint32_t>(query.whole(2)),
                                   query.real(3),
                                   query.real(4)});
    contents.tail = tailOf(track);
    return contents;
}

Expected<std::vector<ChunkSummary>> RecordingRows::summaries(std::int64_t track, TimeSpan span) const {
    auto contents = guarded([&]() -> Expected<Contents> { return contentsOf(track, span); });
    if (!contents) return tl::unexpected(contents.error());
    for (std::span<const RecordedSample> rest = contents->tail; !rest.empty();) {
        const std::size_t length = chunkLength(rest);
        const ChunkSummary one = summaryOf(rest.first(length));
        if (one.span.from_us <= span.to_us && one.span.to_us >= span.from_us) contents->chunks.push_back(one);
        rest = rest.subspan(length);
    }
    return std::move(contents->chunks);
}

namespace {

/// Chunks of a track by their id, each held against its checksum.
class ChunkQuery {
  public:
    ChunkQuery(SQLite::Database& database, const std::string& file, std::int64_t track)
        : m_query(database, "SELECT data, sum FROM chunk WHERE id = ?"), m_file(file), m_track(track) {}

    Expected<void> take(const ChunkSummary& chunk, SampleColumns& columns) {
        const std::string where = fmt::format("{}, chunk {}", m_file, chunk.id);
        m_query.reset();
        m_query.bind(1, chunk.id);
        if (!m_query.executeStep()) return fail(ErrorCode::Missing, where, "nothing", "a chunk that is there");
        const std::string_view data = blobOf(m_query.getColumn(0));
        if (m_query.getColumn(1).getInt64() != chunkSum(m_track, chunk, data))
            return tl::unexpected(unfit(where, "samples as they were recorded"));
        return unpackChunk(data, where, columns);
    }

  private:
    SQLite::Statement m_query;
    const std::string& m_file;
    std::int64_t m_track;
};

/// Those of the columns within a span, in place.
void cutTo(TimeSpan span, SampleColumns& columns) {
    if (columns.times.empty() || (span.holds(columns.times.front()) && span.holds(columns.times.back()))) return;
    SampleColumns kept;
    kept.frameLength = columns.frameLength;
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if (!span.holds(columns.times[i])) continue;
        kept.times.push_back(columns.times[i]);
        if (columns.frameLength == 0) {
            kept.words.push_back(columns.words[i]);
        } else {
            const auto frame = columns.frame(i);
            kept.frames.insert(kept.frames.end(), frame.begin(), frame.end());
        }
    }
    columns = std::move(kept);
}

}  // namespace

Expected<void> RecordingRows::read(std::int64_t track, TimeSpan span, const Take& take) const {
    // The guard is let go between chunks: a long reading must not hold up what is being recorded.
    const auto contents = guarded([&]() -> Expected<Contents> { return contentsOf(track, span); });
    if (!contents) return tl::unexpected(contents.error());
    const std::vector<ChunkSummary>& chunks = contents->chunks;
    constexpr std::size_t kAtOnce = 32;
    std::array<std::vector<SampleColumns>, 2> batches;
    const auto some = [&](std::size_t begin) {
        return std::span(chunks).subspan(begin, std::min(kAtOnce, chunks.size() - begin));
    };
    const auto fetch = [&](std::size_t begin, std::vector<SampleColumns>& batch) {
        return guarded([&]() -> Expected<void> {
            // One look at the file's locks for all of them.
            SQLite::Transaction reading(m_database);
            ChunkQuery query(m_database, m_file, track);
            batch.resize(some(begin).size());
            for (std::size_t i = 0; i < batch.size(); ++i) {
                batch[i].clear();
                if (auto taken = query.take(some(begin)[i], batch[i]); !taken) return taken;
            }
            return {};
        });
    };
    // While some chunks are taken the next ones are read.
    std::future<Expected<void>> next;
    for (std::size_t begin = 0, turn = 0; begin < chunks.size(); begin += kAtOnce, turn = 1 - turn) {
        if (const auto got = next.valid() ? next.get() : fetch(begin, batches[turn]); !got) return got;
        if (const std::size_t after = begin + kAtOnce; after < chunks.size())
            next = std::async(std::launch::async | std::launch::deferred,
                              [&, after, turn] { return fetch(after, batches[1 - turn]); });
        for (SampleColumns& columns : batches[turn]) {
            cutTo(span, columns);
            if (columns.size() > 0 && !take(columns)) return {};
        }
    }
    for (std::span<const RecordedSample> rest = contents->tail; !rest.empty();) {
        const std::size_t length = chunkLength(rest);
        SampleColumns columns;
        if (auto unpacked = unpackChunk(packChunk(rest.first(length)), m_file, columns); !unpacked) return unpacked;
        cutTo(span, columns);
        if (columns.size() > 0 && !take(columns)) return {};
        rest = rest.subspan(length);
    }
    return {};
}

std::vector<Error> RecordingRows::problems() const {
    std::vector<Error> found;
    if (const auto all = recordings(&found); !all) found.push_back(all.error());
    const auto looked = guarded([&]() -> Expected<void> {
        SQLite::Statement query(
            m_database, "SELECT id, track, first_us, last_us, count, least, most, data, sum FROM chunk ORDER BY id");
        while (query.executeStep()) {
            ChunkSummary one{query.getColumn(0).getInt64(),
                             {query.getColumn(2).getInt64(), query.getColumn(3).getInt64()},
                             query.getColumn(4).getUInt()};
            one.least = query.getColumn(5).isNull() ? std::nan("") : query.getColumn(5).getDouble();
            one.most = query.getColumn(6).isNull() ? std::nan("") : query.getColumn(6).getDouble();
            if (query.getColumn(8).getInt64() !=
                chunkSum(query.getColumn(1).getInt64(), one, blobOf(query.getColumn(7))))
                found.push_back(unfit(fmt::format("{}, chunk {} of a recording, from {}", m_file, one.id,
                                                  timeOfMicros(one.span.from_us)),
                                      "samples as they were recorded"));
        }
        SQLite::Statement tail(m_database, "SELECT id, track, time_us, raw, sum FROM tail ORDER BY id");
        while (tail.executeStep()) {
            const RecordedSample sample{tail.getColumn(2).getInt64(), rawOf(tail.getColumn(3))};
            if (tail.getColumn(4).getInt64() != tailSum(tail.getColumn(1).getInt64(), sample))
                found.push_back(
                    unfit(fmt::format("{}, sample {} of a recording's tail", m_file, tail.getColumn(0).getInt64()),
                          "a sample as it was recorded"));
        }
        return {};
    });
    if (!looked) found.push_back(looked.error());
    return found;
}

std::vector<Error> RecordingRows::salvageInto(RecordingStore& into) const {
    std::vector<Error> problems;
    const auto all = recordings(&problems);
    if (!all) return {all.error()};
    for (const BenchRecording& recording : *all) {
        BenchRecording wanted = recording;
        for (TimeMark& mark : wanted.marks) mark.id = 0;
        const auto begun = into.begin(wanted);
        if (!begun) {
            problems.push_back(begun.error());
            continue;
        }
        for (std::size_t i = 0; i < recording.tracks.size(); ++i)
            salvageTrack(recording.tracks[i].id, begun->id, begun->tracks[i].id, into, problems);
        RecordingStep end;
        end.ended_us = recording.ended_us.value_or(recording.span().to_us);
        if (const auto done = into.append(begun->id, end); !done) problems.push_back(done.error());
    }
    return problems;
}

// Chunk by chunk, each by itself: a broken page takes only its own.
void RecordingRows::salvageTrack(std::int64_t track, std::int64_t recording, std::int64_t newTrack,
                                 RecordingStore& into, std::vector<Error>& problems) const {
    const auto contents = guarded([&]() -> Expected<Contents> {
        return contentsOf(track, {0, std::numeric_limits<Micros>::max()});
    });
    if (!contents) return problems.push_back(contents.error());
    const auto keep = [&](const std::vector<RecordedSample>& samples) {
        RecordingStep step;
        step.samples.push_back({newTrack, samples});
        if (const auto done = into.append(recording, step); !done) problems.push_back(done.error());
    };
    for (const ChunkSummary& one : contents->chunks) {
        std::vector<RecordedSample> samples;
        const auto read = guarded([&]() -> Expected<void> {
            SampleColumns columns;
            if (auto taken = ChunkQuery(m_database, m_file, track).take(one, columns); !taken) return taken;
            for (std::size_t i = 0; i < columns.size(); ++i) samples.push_back(columns.sample(i));
            return {};
        });
        if (read)
            keep(samples);
        else
            problems.push_back(read.error());
    }
    if (!contents->tail.empty()) keep(contents->tail);
}

}  // namespace fg
