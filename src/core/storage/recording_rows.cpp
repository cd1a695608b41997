#include "bench/gauge_json.h"
#include "storage/recording_guard.h"
#include "storage/row_texts.h"
#include "units/date.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
using namespace rows;

// What is remembered of the tails changes together with the file, under one lock: whoever reads finds neither a sample
// twice, in a chunk and in the tail, nor one that was taken back.
Expected<void> RecordingRows::changed(const std::function<Expected<void>()>& change,
                                      const std::function<void()>& committed) {
    if (const auto there = m_check(); !there) return there;
    auto done = guarded([&]() -> Expected<void> {
        struct Forget {
            std::map<std::int64_t, Tail>* tails;
            ~Forget() {
                if (tails) tails->clear();  // what they stand for is read from the file again
            }
        } forget{&m_tails};
        SQLite::Transaction transaction(m_database, SQLite::TransactionBehavior::IMMEDIATE);
        if (auto result = change(); !result) return result;
        transaction.commit();
        forget.tails = nullptr;
        if (committed) committed();
        return {};
    });
    if (const auto there = m_check(); !there) return there;
    return done;
}

void RecordingRows::layOut(SQLite::Database& database) {
    database.exec(
        "CREATE TABLE recording (id INTEGER PRIMARY KEY, json TEXT NOT NULL, sum INTEGER NOT NULL);"
        "CREATE TABLE track (id INTEGER PRIMARY KEY, recording INTEGER NOT NULL, gauge INTEGER NOT NULL, count INTEGER "
        "NOT NULL, first_us INTEGER, last_us INTEGER, sum INTEGER NOT NULL);"
        "CREATE TABLE description (track INTEGER NOT NULL, from_us INTEGER NOT NULL, json TEXT NOT NULL, sum INTEGER "
        "NOT NULL, PRIMARY KEY (track, from_us));"
        "CREATE TABLE mark (id INTEGER PRIMARY KEY, recording INTEGER NOT NULL, json TEXT NOT NULL, sum INTEGER NOT "
        "NULL);"
        "CREATE TABLE chunk (id INTEGER PRIMARY KEY, track INTEGER NOT NULL, first_us INTEGER NOT NULL, last_us "
        "INTEGER NOT NULL, count INTEGER NOT NULL, least REAL, most REAL, data BLOB NOT NULL, sum INTEGER NOT NULL);"
        // A view reads the summaries out of the index alone, without the pages of the data.
        "CREATE INDEX chunk_of ON chunk (track, first_us, last_us, count, least, most);"
        "CREATE TABLE tail (id INTEGER PRIMARY KEY, track INTEGER NOT NULL, time_us INTEGER NOT NULL, raw NOT NULL, "
        "sum "
        "INTEGER NOT NULL);"
        "CREATE INDEX tail_of ON tail (track);");
}

Expected<BenchRecording> RecordingRows::head(std::int64_t id) const {
    const std::string where = fmt::format("{}, recording {}", m_file, id);
    SQLite::Statement query(m_database, "SELECT json, sum FROM recording WHERE id = ?");
    query.bind(1, id);
    if (!query.executeStep()) return fail(ErrorCode::Missing, where, "nothing", "a recording that is there");
    const std::string json = query.getColumn(0).getString();
    if (query.getColumn(1).getInt64() != textSum(id, json))
        return tl::unexpected(unfit(where, "a recording as stored"));
    return readHead(id, json, where);
}

Expected<std::vector<BenchRecording>> RecordingRows::recordings(std::vector<Error>* unread) const {
    return guarded([&]() -> Expected<std::vector<BenchRecording>> {
        const auto leaveOut = [&](const Error& error) {
            if (unread) unread->push_back(error);
        };
        std::vector<BenchRecording> all;
        SQLite::Statement rows(m_database, "SELECT id FROM recording ORDER BY id");
        while (rows.executeStep()) {
            if (auto one = head(rows.getColumn(0).getInt64()))
                all.push_back(std::move(*one));
            else
                leaveOut(one.error());
        }
        const auto ownerOf = [&](std::int64_t id) {
            return std::find_if(all.begin(), all.end(), [&](const BenchRecording& one) { return one.id == id; });
        };
        auto descriptions = this->descriptions(leaveOut);
        SQLite::Statement tracks(m_database,
                                 "SELECT id, recording, gauge, count, first_us, last_us, sum FROM track ORDER BY id");
        while (tracks.executeStep()) {
            if (tracks.getColumn(6).getInt64() != trackSum(tracks)) {
                leaveOut(unfit(fmt::format("{}, track {} of a recording", m_file, tracks.getColumn(0).getInt64()),
                               "a track as it was stored"));
                continue;
            }
            Track track{tracks.getColumn(0).getInt64(), tracks.getColumn(2).getInt64(), {}};
            track.count = static_cast<std::uint64_t>(tracks.getColumn(3).getInt64());
            if (track.count > 0) track.span = TimeSpan{tracks.getColumn(4).getInt64(), tracks.getColumn(5).getInt64()};
            track.descriptions = std::move(descriptions[track.id]);
            const auto owner = ownerOf(tracks.getColumn(1).getInt64());
            if (owner == all.end()) continue;
            if (track.descriptions.empty())
                leaveOut({ErrorCode::Damaged, fmt::format("{}, track {} of a recording", m_file, track.id),
                          "no description that can be read", "the gauge as it was when it was recorded"});
            else
                owner->tracks.push_back(std::move(track));
        }
        SQLite::Statement marks(m_database, "SELECT id, recording, json, sum FROM mark ORDER BY id");
        while (marks.executeStep()) {
            const std::int64_t owner = marks.getColumn(1).getInt64();
            const std::string json = marks.getColumn(2).getString();
            const std::string where = fmt::format("{}, mark of recording {}", m_file, owner);
            const bool isFit = marks.getColumn(3).getInt64() == textSum(owner, json);
            auto mark = isFit ? readMark(marks.getColumn(0).getInt64(), json, where)
                              : Expected<TimeMark>(tl::unexpected(unfit(where, "a mark as it was set")));
            if (!mark)
                leaveOut(mark.error());
            else if (const auto it = ownerOf(owner); it != all.end())
                it->marks.push_back(std::move(*mark));
        }
        for (BenchRecording& one : all)
            std::stable_sort(one.marks.begin(), one.marks.end(),
                             [](const TimeMark& x, const TimeMark& y) { return x.span.from_us < y.span.from_us; });
        return all;
    });
}

std::map<std::int64_t, std::vector<Description>> RecordingRows::descriptions(
    const std::function<void(const Error&)>& leaveOut) const {
    std::map<std::int64_t, std::vector<Description>> all;
    SQLite::Statement rows(m_database, "SELECT track, from_us, json, sum FROM description ORDER BY track, from_us");
    while (rows.executeStep()) {
        const std::int64_t id = rows.getColumn(0).getInt64();
        const std::string json = rows.getColumn(2).getString();
        const std::string where = fmt::format("{}, description of track {}", m_file, id);
        const bool isFit = rows.getColumn(3).getInt64() == textSum(id, rows.getColumn(1).getInt64(), json);
        auto spec = isFit ? readGauge(json, where)
                          : Expected<GaugeSpec>(tl::unexpected(unfit(where, "a gauge as it was when it was recorded")));
        if (spec)
            all[id].push_back({rows.getColumn(1).getInt64(), std::move(*spec)});
        else
            leaveOut(spec.error());
    }
    return all;
}

namespace {

Expected<void> putDescription(SQLite::Database& database, std::int64_t track, const Description& description) {
    const std::string json = writeGauge(description.gauge);
    const auto back = readGauge(json, "“" + description.gauge.name + "”");
    if (!back || !(*back == description.gauge))
        return fail(ErrorCode::Unsupported, "“" + description.gauge.name + "”",
                    back ? "a value that a file cannot hold" : back.error().message(),
                    "a gauge that can be read again; nothing was stored");
    SQLite::Statement put(database,
                          "INSERT OR REPLACE INTO description (track, from_us, json, sum) VALUES (?, ?, ?, ?)");
    put.bind(1, track);
    put.bind(2, description.from_us);
    put.bind(3, json);
    put.bind(4, textSum(track, description.from_us, json));
    put.exec();
    return {};
}

void putMark(SQLite::Database& database, std::int64_t recording, const TimeMark& mark) {
    const std::string json = markText(mark);
    SQLite::Statement put(database, "INSERT OR REPLACE INTO mark (id, recording, json, sum) VALUES (?, ?, ?, ?)");
    if (mark.id > 0) put.bind(1, mark.id);
    put.bind(2, recording);
    put.bind(3, json);
    put.bind(4, textSum(recording, json));
    put.exec();
}

}  // namespace

Expected<void> RecordingRows::put(const BenchRecording& recording, bool isNew, std::int64_t& id) {
    const std::string json = headText(recording);
    if (isNew) {
        SQLite::Statement insert(m_database, "INSERT INTO recording (json, sum) VALUES (?, 0)");
        insert.bind(1, json);
        insert.exec();
        id = m_database.getLastInsertRowid();
    }
    SQLite::Statement update(m_database, "UPDATE recording SET json = ?, sum = ? WHERE id = ?");
    update.bind(1, json);
    update.bind(2, textSum(id, json));
    update.bind(3, id);
    update.exec();
    return {};
}

Expected<BenchRecording> RecordingRows::begin(const BenchRecording& recording) {
    BenchRecording kept = recording;
    const auto done = changed([&]() -> Expected<void> {
        if (auto put = this->put(kept, true, kept.id); !put) return put;
        for (Track& track : kept.tracks) {
            SQLite::Statement insert(m_database,
                                     "INSERT INTO track (recording, gauge, count, sum) VALUES (?, ?, 0, 0)");
            insert.bind(1, kept.id);
            insert.bind(2, track.gauge);
            insert.exec();
            track.id = m_database.getLastInsertRowid();
            sumTrack(m_database, track.id);
            for (const Description& description : track.descriptions)
                if (auto put = putDescription(m_database, track.id, description); !put) return put;
        }
        for (const TimeMark& mark : kept.marks) putMark(m_database, kept.id, mark);
        return {};
    });
    if (!done) return tl::unexpected(done.error());
    return kept;
}

RecordingRows::Tail RecordingRows::tailOf(std::int64_t track) const {
    if (const auto it = m_tails.find(track); it != m_tails.end()) return it->second;
    Tail tail;
    SQLite::Statement query(m_database, "SELECT time_us, raw, sum FROM tail WHERE track = ? ORDER BY id");
    query.bind(1, track);
    while (query.executeStep()) {
        RecordedSample sample{query.getColumn(0).getInt64(), rawOf(query.getColumn(1))};
        // One that does not fit is left out; problems() names it.
        if (query.getColumn(2).getInt64() == tailSum(track, sample)) tail.push_back(std::move(sample));
    }
    return tail;
}

void RecordingRows::putChunk(std::int64_t track, std::span<const RecordedSample> samples) {
    const ChunkSummary summary = summaryOf(samples);
    const std::string data = packChunk(samples);
    SQLite::Statement put(m_database,
                          "INSERT INTO chunk (track, first_us, last_us, count, least, most, data, sum) VALUES (?, ?, "
                          "?, ?, ?, ?, ?, ?)");
    put.bind(1, track);
    put.bind(2, summary.span.from_us);
    put.bind(3, summary.span.to_us);
    put.bind(4, summary.count);
    if (summary.hasWords()) {
        put.bind(5, summary.least);
        put.bind(6, summary.most);
    }
    put.bindNoCopy(7, data.data(), static_cast<int>(data.size()));
    put.bind(8, chunkSum(track, summary, data));
    put.exec();
}

// A slow gauge loses no more than a quick one when the process dies: what fills no chunk yet stands as rows.
void RecordingRows::appendSamples(const RecordingStep::OfTrack& of, bool isEnd, std::map<std::int64_t, Tail>& tails) {
    Tail open = tailOf(of.track);
    const std::size_t kept = open.size();
    std::span<const RecordedSample> fresh = of.samples;
    std::size_t packed = 0;
    // First what stands open is filled; what follows goes straight into chunks.
    const auto pack = [&](std::span<const RecordedSample> rest) {
        const std::size_t length = chunkLength(rest);
        if (length == 0 || (length == rest.size() && length < kChunkSamples && !isEnd)) return std::size_t{0};
        putChunk(of.track, rest.first(length));
        return length;
    };
    while (!open.empty()) {
        const std::size_t more = std::min(fresh.size(), kChunkSamples - std::min(kChunkSamples, open.size()));
        open.insert(open.end(), fresh.begin(), fresh.begin() + static_cast<std::ptrdiff_t>(more));
        fresh = fresh.subspan(more);
        const std::size_t length = pack(open);
        if (length == 0) break;
        packed += length;
        open.erase(open.begin(), open.begin() + static_cast<std::ptrdiff_t>(length));
    }
    while (open.empty() && !fresh.empty()) {
        const std::size_t length = pack(fresh);
        if (length == 0) break;
        packed += length;
        fresh = fresh.subspan(length);
    }
    open.insert(open.end(), fresh.begin(), fresh.end());
    if (packed > 0 && kept > 0) {
        SQLite::Statement clear(m_database, "DELETE FROM tail WHERE track = ?");
        clear.bind(1, of.track);
        clear.exec();
    }
    SQLite::Statement put(m_database, "INSERT INTO tail (track, time_us, raw, sum) VALUES (?, ?, ?, ?)");
    for (std::size_t i = packed > 0 ? 0 : kept; i < open.size(); ++i) {
        put.bind(1, of.track);
        put.bind(2, open[i].time_us);
        bindRaw(put, 3, open[i].raw);
        put.bind(4, tailSum(of.track, open[i]));
        put.exec();
        put.reset();
    }
    tails[of.track] = std::move(open);
    if (of.samples.empty()) return;
    SQLite::Statement count(m_database,
                            "UPDATE track SET count = count + ?, first_us = min(coalesce(first_us, ?2), ?2), last_us = "
                            "max(coalesce(last_us, ?3), ?3) WHERE id = ?4");
    const auto [first, last] =
        std::minmax_element(of.samples.begin(), of.samples.end(),
                            [](const RecordedSample& a, const RecordedSample& b) { return a.time_us < b.time_us; });
    count.bind(1, static_cast<std::int64_t>(of.samples.size()));
    count.bind(2, first->time_us);
    count.bind(3, last->time_us);
    count.bind(4, of.track);
    count.exec();
    sumTrack(m_database, of.track);
}

Expected<void> RecordingRows::append(std::int64_t recording, const RecordingStep& step) {
    std::map<std::int64_t, Tail> tails;
    const auto change = [&]() -> Expected<void> {
        tails.clear();
        for (const RecordingStep::OfTrack& of : step.samples) appendSamples(of, false, tails);
        for (const auto& [track, description] : step.descriptions)
            if (auto put = putDescription(m_database, track, description); !put) return put;
        for (const TimeMark& mark : step.marks) putMark(m_database, recording, mark);
        if (!step.ended_us) return {};
        auto known = head(recording);
        if (!known) return tl::unexpected(known.error());
        known->ended_us = step.ended_us;
        SQLite::Statement tracks(m_database, "SELECT id FROM track WHERE recording = ?");
        tracks.bind(1, recording);
        while (tracks.executeStep()) {
            const std::int64_t track = tracks.getColumn(0).getInt64();
            for (auto& [id, tail] : tails)
                if (id == track) m_tails[id] = tail;
            appendSamples({track, {}}, true, tails);
        }
        return put(*known, false, recording);
    };
    return changed(change, [&] {
        for (auto& [track, tail] : tails) m_tails[track] = std::move(tail);
        if (step.ended_us) std::erase_if(m_tails, [](const auto& one) { return one.second.empty(); });
    });
}

Expected<void> RecordingRows::removeMark(std::int64_t recording, std::int64_t mark) {
    return changed([&]() -> Expected<void> {
        SQLite::Statement erase(m_database, "DELETE FROM mark WHERE id = ? AND recording = ?");
        erase.bind(1, mark);
        erase.bind(2, recording);
        erase.exec();
        return {};
    });
}

Expected<void> RecordingRows::rename(std::int64_t recording, const std::string& name) {
    return changed([&]() -> Expected<void> {
        auto known = head(recording);
        if (!known) return tl::unexpected(known.error());
        known->name = name;
        return put(*known, false, recording);
    });
}

Expected<void> RecordingRows::remove(std::int64_t recording) {
    return changed([&]() -> Expected<void> {
        for (const char* table : {"chunk", "tail", "description"}) {
            SQLite::Statement erase(
                m_database,
                fmt::format("DELETE FROM {} WHERE track IN (SELECT id FROM track WHERE recording = ?)", table));
            erase.bind(1, recording);
            erase.exec();
        }
        for (const char* statement : {"DELETE FROM track WHERE recording = ?", "DELETE FROM mark WHERE recording = ?",
                                      "DELETE FROM recording WHERE id = ?"}) {
            SQLite::Statement erase(m_database, statement);
            erase.bind(1, recording);
            erase.exec();
        }
        return {};
    });
}

}  // namespace fg
