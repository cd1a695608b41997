#include "storage/bench_rows.h"

#include "bench/gauge_json.h"
#include "bench/linked_inputs.h"
#include "storage/recording_rows.h"
#include "storage/row_sum.h"

#include <fmt/format.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <algorithm>
#include <optional>

namespace fg::rows {
namespace {

std::int64_t sumOf(std::int64_t id, std::int64_t position, std::string_view json) {
    return RowSum().add(id).add(position).add(json).value();
}

std::optional<std::string> valueOf(SQLite::Database& database, const char* key) {
    SQLite::Statement query(database, "SELECT value FROM bench WHERE key = ?");
    query.bind(1, key);
    return query.executeStep() ? std::optional(query.getColumn(0).getString()) : std::nullopt;
}

void setValue(SQLite::Database& database, const char* key, const std::string& value) {
    SQLite::Statement put(database,
                          "INSERT INTO bench (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = "
                          "excluded.value");
    put.bind(1, key);
    put.bind(2, value);
    put.exec();
}

/// Since version 4.
bool hasJournal(SQLite::Database& database) { return database.tableExists("entry"); }

constexpr const char* kJournal =
    "CREATE TABLE entry (id INTEGER PRIMARY KEY, json TEXT NOT NULL, sum INTEGER NOT NULL);";

/// Of everything: the sums of the gauges and of the journal's entries, and what stands beside them. Tells a missing
/// one.
std::string wholeSum(SQLite::Database& database) {
    RowSum sum;
    const auto addRows = [&](const char* question) {
        SQLite::Statement query(database, question);
        while (query.executeStep()) sum.add(query.getColumn(0).getInt64()).add(query.getColumn(1).getInt64());
    };
    addRows("SELECT id, sum FROM gauge ORDER BY id");
    if (hasJournal(database)) addRows("SELECT id, sum FROM entry ORDER BY id");
    for (const char* key : {"next_id", "board"}) sum.add(valueOf(database, key).value_or(""));
    return std::to_string(sum.value());
}

void putGauge(SQLite::Database& database, std::int64_t id, std::int64_t position, const std::string& json) {
    SQLite::Statement put(database,
                          "INSERT INTO gauge (id, position, json, sum) VALUES (?, ?, ?, ?) ON CONFLICT (id) DO UPDATE "
                          "SET position = excluded.position, json = excluded.json, sum = excluded.sum");
    put.bind(1, id);
    put.bind(2, position);
    put.bind(3, json);
    put.bind(4, sumOf(id, position, json));
    put.exec();
}

/// The text of a gauge, which must read back as the same gauge.
Expected<std::string> textOf(const BenchGauge& gauge) {
    std::string json = writeGauge(gauge.spec);
    const auto back = readGauge(json, "“" + gauge.spec.name + "”");
    if (back && *back == gauge.spec) return json;
    return fail(ErrorCode::Unsupported, "“" + gauge.spec.name + "”",
                back ? "a value that a file cannot hold" : back.error().message(),
                "a gauge that can be read again; nothing was stored");
}

/// Checksums, which came with version 3.
void addSums(SQLite::Database& database) {
    database.exec("ALTER TABLE gauge ADD COLUMN sum INTEGER NOT NULL DEFAULT 0");
    struct Row {
        std::int64_t id, sum;
    };
    std::vector<Row> sums;
    SQLite::Statement query(database, "SELECT id, position, json FROM gauge");
    while (query.executeStep())
        sums.push_back(
            {query.getColumn(0).getInt64(),
             sumOf(query.getColumn(0).getInt64(), query.getColumn(1).getInt64(), query.getColumn(2).getString())});
    query.reset();
    for (const Row& row : sums) {
        SQLite::Statement put(database, "UPDATE gauge SET sum = ? WHERE id = ?");
        put.bind(1, row.sum);
        put.bind(2, row.id);
        put.exec();
    }
}

std::int64_t sumOf(std::int64_t id, std::string_view json) { return RowSum().add(id).add(json).value(); }

Expected<void> putEntry(SQLite::Database& database, const JournalEntry& entry) {
    const std::string json = writeEntry(entry);
    auto back = readEntry(json, "entry of the journal");
    if (back) back->id = entry.id;
    if (!back || !(*back == entry))
        return fail(ErrorCode::Unsupported, "journal",
                    back ? "a value that a file cannot hold" : back.error().message(),
                    "an entry that can be read again; nothing was stored");
    SQLite::Statement put(database,
                          "INSERT INTO entry (id, json, sum) VALUES (?, ?, ?) ON CONFLICT (id) DO UPDATE SET json = "
                          "excluded.json, sum = excluded.sum");
    put.bind(1, entry.id);
    put.bind(2, json);
    put.bind(3, sumOf(entry.id, json));
    put.exec();
    return {};
}

/// What differs between two journals, stored.
Expected<void> writeJournal(SQLite::Database& database, const Journal& before, const Journal& after) {
    for (const Journal::Entry& entry : before.entries()) {
        if (after.find(entry->id)) continue;
        SQLite::Statement remove(database, "DELETE FROM entry WHERE id = ?");
        remove.bind(1, entry->id);
        remove.exec();
    }
    for (const Journal::Entry& entry : after.entries()) {
        const Journal::Entry old = before.find(entry->id);
        if (old == entry || (old && *old == *entry)) continue;
        if (const auto put = putEntry(database, *entry); !put) return put;
    }
    return {};
}

void readJournal(SQLite::Database& database, const std::string& file, StoredBench& stored) {
    std::vector<JournalEntry> entries;
    SQLite::Statement query(database, "SELECT id, json, sum FROM entry ORDER BY id");
    while (query.executeStep()) {
        const std::int64_t id = query.getColumn(0).getInt64();
        const std::string json = query.getColumn(1).getString();
        const std::string where = fmt::format("{}, entry {} of the journal", file, id);
        auto entry = readEntry(json, where);
        if (entry && query.getColumn(2).getInt64() != sumOf(id, json))
            entry =
                fail(ErrorCode::Damaged, where, "a checksum that does not fit its text", "an entry as it was stored");
        if (!entry) {
            stored.unread.push_back({id, json, entry.error()});
            continue;
        }
        entry->id = id;
        entries.push_back(std::move(*entry));
    }
    stored.bench.journal = Journal(std::move(entries));
}

}  // namespace

void layOut(SQLite::Database& database, int applicationId) {
    SQLite::Transaction transaction(database);
    database.exec(fmt::format("PRAGMA application_id = {}; PRAGMA user_version = {};", applicationId, kVersion));
    database.exec(
        "CREATE TABLE bench (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
        "CREATE TABLE gauge (id INTEGER PRIMARY KEY, position INTEGER NOT NULL, json TEXT NOT NULL, sum INTEGER NOT "
        "NULL);"
        "INSERT INTO bench VALUES ('next_id', '1');");
    database.exec(kJournal);
    RecordingRows::layOut(database);
    setValue(database, "sum", wholeSum(database));
    transaction.commit();
}

void bringUpToDate(SQLite::Database& database) {
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    if (database.execAndGet("PRAGMA user_version").getInt() < 3) addSums(database);
    if (!hasJournal(database)) database.exec(kJournal);
    if (!database.tableExists("recording")) RecordingRows::layOut(database);
    setValue(database, "sum", wholeSum(database));
    database.exec(fmt::format("PRAGMA user_version = {}", kVersion));
    transaction.commit();
}

Expected<StoredBench> read(SQLite::Database& database, const std::string& file) {
    const bool hasSums = database.execAndGet("PRAGMA user_version").getInt() >= 3;
    StoredBench stored;
    Bench& bench = stored.bench;
    if (hasSums && valueOf(database, "sum") != wholeSum(database))
        return fail(ErrorCode::Damaged, file, "a checksum of the whole that does not fit",
                    "an intact bench; the file is left as it is. “fgauge bench salvage” reads what is left");
    if (const auto next = valueOf(database, "next_id")) bench.nextId = std::atoll(next->c_str());
    if (const auto text = valueOf(database, "board")) {
        auto board = readBoard(*text, file + ": board");
        if (!board) return tl::unexpected(board.error());
        bench.board = std::move(*board);
    }
    SQLite::Statement query(database, hasSums ? "SELECT id, json, position, sum FROM gauge ORDER BY position, id"
                                              : "SELECT id, json, position, 0 FROM gauge ORDER BY position, id");
    while (query.executeStep()) {
        const std::int64_t id = query.getColumn(0).getInt64();
        const std::string json = query.getColumn(1).getString();
        const std::string where = fmt::format("{}, gauge {}", file, id);
        bench.nextId = std::max(bench.nextId, id + 1);
        if (hasSums && query.getColumn(3).getInt64() != sumOf(id, query.getColumn(2).getInt64(), json)) {
            stored.unread.push_back(
                {id,
                 json,
                 {ErrorCode::Damaged, where, "a checksum that does not fit its text", "a gauge as it was stored"}});
            continue;
        }
        if (auto spec = readGauge(json, where))
            bench.gauges.push_back({id, std::move(*spec)});
        else
            stored.unread.push_back({id, json, spec.error()});
    }
    if (hasJournal(database)) readJournal(database, file, stored);
    settleInputs(bench);
    return stored;
}

Expected<void> write(SQLite::Database& database, const Bench& before, const Bench& after) {
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    for (const BenchGauge& gauge : before.gauges) {
        if (after.find(gauge.id)) continue;
        SQLite::Statement remove(database, "DELETE FROM gauge WHERE id = ?");
        remove.bind(1, gauge.id);
        remove.exec();
    }
    for (std::size_t position = 0; position < after.gauges.size(); ++position) {
        const BenchGauge& gauge = after.gauges[position];
        if (position < before.gauges.size() && before.gauges[position] == gauge) continue;
        const auto text = textOf(gauge);
        if (!text) return tl::unexpected(text.error());
        putGauge(database, gauge.id, static_cast<std::int64_t>(position), *text);
    }
    if (const auto journal = writeJournal(database, before.journal, after.journal); !journal) return journal;
    setValue(database, "next_id", std::to_string(after.nextId));
    if (!(before.board == after.board)) {
        const std::string text = writeBoard(after.board);
        const auto back = readBoard(text, "board");
        if (!back || !(*back == after.board))
            return fail(ErrorCode::Unsupported, "board",
                        back ? "a value that a file cannot hold" : back.error().message(),
                        "a board that can be read again; nothing was stored");
        setValue(database, "board", text);
    }
    setValue(database, "sum", wholeSum(database));
    transaction.commit();
    return {};
}

std::string structureOf(SQLite::Database& database) {
    SQLite::Statement check(database, "PRAGMA integrity_check(1)");
    return check.executeStep() ? check.getColumn(0).getString() : "no answer";
}

std::string structureForOpening(SQLite::Database& database) {
    constexpr int kSmall_pages = 4096;
    if (database.execAndGet("PRAGMA page_count").getInt() <= kSmall_pages) return structureOf(database);
    for (const char* table : {"bench", "gauge", "entry", "recording", "track", "description", "mark"}) {
        if (!database.tableExists(table)) continue;
        SQLite::Statement check(database, fmt::format("PRAGMA integrity_check({})", table));
        const std::string verdict = check.executeStep() ? check.getColumn(0).getString() : "no answer";
        if (verdict != "ok") return verdict;
    }
    return "ok";
}

}  // namespace fg::rows
