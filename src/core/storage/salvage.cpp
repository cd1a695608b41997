#include "storage/salvage.h"

#include "bench/gauge_json.h"
#include "storage/quiet_view.h"
#include "storage/recording_rows.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <algorithm>
#include <set>

namespace fg {
namespace fs = std::filesystem;
namespace {

/// Where the object that begins there ends, by its braces outside of texts; the beginning when it does not.
std::size_t endOfObject(std::string_view bytes, std::size_t begin) {
    constexpr std::size_t kLongest = 1 << 20;
    int depth = 0;
    bool inText = false;
    for (std::size_t i = begin; i < std::min(bytes.size(), begin + kLongest); ++i) {
        const char c = bytes[i];
        if (inText) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                inText = false;
        } else if (c == '"') {
            inText = true;
        } else if (c == '{') {
            ++depth;
        } else if (c == '}' && --depth == 0) {
            return i + 1;
        }
    }
    return begin;
}

class Salvage {
  public:
    /// Row by row, each by itself: a broken page takes only its own.
    void rows(SQLite::Database& database) {
        std::int64_t id = 0;
        constexpr int kMostFailures = 1000;
        for (int failures = 0; failures < kMostFailures;) {
            try {
                SQLite::Statement next(database, "SELECT id, json FROM gauge WHERE id > ? ORDER BY id LIMIT 1");
                next.bind(1, id);
                if (!next.executeStep()) break;
                id = next.getColumn(0).getInt64();
                take(id, next.getColumn(1).getString());
            } catch (const SQLite::Exception&) {
                ++failures;
                ++id;
            }
        }
        entries(database);
        try {
            SQLite::Statement board(database, "SELECT value FROM bench WHERE key = 'board'");
            if (board.executeStep())
                if (auto read = readBoard(board.getColumn(0).getString(), "board"))
                    m_stored.bench.board = std::move(*read);
        } catch (const SQLite::Exception&) {
            // What the gauges hang on is lost; the gauges are what counts.
        }
    }

    /// What can be read of the journal.
    void entries(SQLite::Database& database) {
        try {
            SQLite::Statement next(database, "SELECT id, json FROM entry ORDER BY id");
            while (next.executeStep()) {
                auto entry = readEntry(next.getColumn(1).getString(), "an entry of the journal");
                if (!entry) continue;
                entry->id = next.getColumn(0).getInt64();
                m_stored.bench.journal.add(std::move(*entry));
            }
        } catch (const SQLite::Exception&) {
            // What stands behind the broken page is lost, or the bench has no journal.
        }
    }

    /// Gauges whose text stands in one piece in the bytes.
    void bytes(std::string_view bytes) {
        constexpr std::string_view kFirstField = "\"fairgauge\"";
        for (std::size_t at = bytes.find(kFirstField); at != std::string_view::npos;
             at = bytes.find(kFirstField, at + 1)) {
            const std::size_t begin = bytes.substr(0, at).find_last_not_of(" \n");
            if (begin == std::string_view::npos || bytes[begin] != '{') continue;
            if (const std::size_t end = endOfObject(bytes, begin); end > begin)
                take(0, std::string(bytes.substr(begin, end - begin)));
        }
    }

    Expected<StoredBench> result(const fs::path& path) {
        if (m_stored.bench.gauges.empty() && m_stored.unread.empty())
            return fail(ErrorCode::Missing, path.string(), "no gauge", "at least one that can be read");
        return std::move(m_stored);
    }

  private:
    void take(std::int64_t id, const std::string& json) {
        auto spec = readGauge(json, fmt::format("gauge {}", id));
        Bench& bench = m_stored.bench;
        if (!spec) {
            if (id > 0 && m_ids.insert(id).second) m_stored.unread.push_back({id, json, spec.error()});
            return;
        }
        // An older text of a gauge may still stand in a page that is free now: the row counts, not that.
        const bool isKnown = std::any_of(bench.gauges.begin(), bench.gauges.end(), [&](const BenchGauge& one) {
            return one.spec == *spec || (id == 0 && one.spec.name == spec->name);
        });
        if (id == 0 && isKnown) return;
        if (id == 0 || !m_ids.insert(id).second) id = bench.nextId;
        bench.gauges.push_back({id, std::move(*spec)});
        bench.nextId = std::max(bench.nextId, id + 1);
    }

    StoredBench m_stored;
    std::set<std::int64_t> m_ids;
};

}  // namespace

Expected<StoredBench> salvage(const fs::path& path) {
    const auto bytes = readTextFile(path, "a bench file");
    // One with long recordings is read row by row alone.
    if (!bytes && bytes.error().code != ErrorCode::Range) return tl::unexpected(bytes.error());
    Salvage found;
    try {
        if (const auto view = QuietView::open(path, true)) found.rows((*view)->database());
    } catch (const SQLite::Exception&) {
        // No database any more: its bytes are left.
    }
    if (bytes) found.bytes(*bytes);
    return found.result(path);
}

std::vector<Error> salvageRecordings(const fs::path& path, RecordingStore& into) {
    try {
        const auto view = QuietView::open(path, true);
        if (!view) return {view.error()};
        if (!(*view)->database().tableExists("recording")) return {};
        std::mutex guard;
        return RecordingRows((*view)->database(), guard, path.string(), {}).salvageInto(into);
    } catch (const SQLite::Exception& error) {
        // No database any more: nobody can tell whether there were recordings.
        if (error.getErrorCode() == SQLITE_NOTADB) return {};
        return {{ErrorCode::Damaged, path.string(), error.what(), "recordings that can be read"}};
    }
}

}  // namespace fg
