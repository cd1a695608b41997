// What the tests of storage share.
#pragma once

#include "bench/gauge_json.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <filesystem>

namespace fg::test {

/// A bench as version 2 wrote it: no checksums, changes in a second file. docs/bench-file.md, earlier versions.
inline void writeVersion2(const std::filesystem::path& path, const Bench& bench) {
    SQLite::Database database(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    database.exec("PRAGMA application_id = 1179075143; PRAGMA user_version = 2; PRAGMA journal_mode = WAL;");
    database.exec(
        "CREATE TABLE bench (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
        "CREATE TABLE gauge (id INTEGER PRIMARY KEY, position INTEGER NOT NULL, json TEXT NOT NULL);"
        "INSERT INTO bench VALUES ('next_id', '7');");
    for (const BenchGauge& gauge : bench.gauges) {
        SQLite::Statement put(database, "INSERT INTO gauge VALUES (?, ?, ?)");
        put.bind(1, gauge.id);
        put.bind(2, gauge.id);
        put.bind(3, writeGauge(gauge.spec));
        put.exec();
    }
}

}  // namespace fg::test
