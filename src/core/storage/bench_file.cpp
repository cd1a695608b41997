#include "storage/bench_file.h"

#include "bench/gauge_json.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <array>
#include <cctype>
#include <cerrno>
#include <cstring>
#include <set>

namespace fg {
namespace {

namespace fs = std::filesystem;

constexpr const char* kSchema =
    "CREATE TABLE bench (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
    "CREATE TABLE gauge (id INTEGER PRIMARY KEY, position INTEGER NOT NULL, json TEXT NOT NULL);"
    "INSERT INTO bench VALUES ('next_id', '1');";

tl::unexpected<Error> systemError(ErrorCode code, const fs::path& path, std::string expected) {
    return fail(code, path.string(), std::strerror(errno), std::move(expected));
}

/// The parts of the 100-byte database header that say whose file it is (SQLite file format, section 1.3).
struct Header {
    std::array<unsigned char, 100> bytes{};
    std::size_t length = 0;
    [[nodiscard]] std::uint32_t number(std::size_t at) const {
        return (std::uint32_t{bytes[at]} << 24) | (std::uint32_t{bytes[at + 1]} << 16) |
               (std::uint32_t{bytes[at + 2]} << 8) | bytes[at + 3];
    }
};

/// Looks at the first bytes only, so that a foreign or newer file is never handed to the database.
Expected<void> checkHeader(int descriptor, const fs::path& path) {
    Header header;
    const ssize_t got = ::pread(descriptor, header.bytes.data(), header.bytes.size(), 0);
    if (got < 0) return systemError(ErrorCode::Io, path, "a file that can be read");
    header.length = static_cast<std::size_t>(got);
    if (header.length == 0) return fail(ErrorCode::Foreign, path.string(), "an empty file", "a Fair Gauge bench");
    if (header.length < 16 || std::memcmp(header.bytes.data(), "SQLite format 3", 16) != 0)
        return fail(ErrorCode::Foreign, path.string(), "a file of another kind", "a Fair Gauge bench");
    if (header.length < header.bytes.size())
        return fail(ErrorCode::Damaged, path.string(), fmt::format("a file cut off after {} bytes", header.length),
                    "a whole bench");
    if (header.number(68) != static_cast<std::uint32_t>(BenchFile::kApplicationId))
        return fail(ErrorCode::Foreign, path.string(), "a database of another program", "a Fair Gauge bench");
    const auto version = header.number(60);
    if (version > static_cast<std::uint32_t>(BenchFile::kVersion))
        return fail(ErrorCode::Newer, path.string(), fmt::format("bench version {}", version),
                    fmt::format("at most version {}; a later Fair Gauge wrote this bench", BenchFile::kVersion));
    if (version < 1)
        return fail(ErrorCode::Damaged, path.string(), fmt::format("bench version {}", version),
                    fmt::format("version 1 to {}", BenchFile::kVersion));
    return {};
}

/// SQLite drops all of a process's locks on a file when any descriptor of it is closed. A second attempt by this
/// process must therefore be refused before it opens one.
using FileKey = std::pair<dev_t, ino_t>;
std::set<FileKey>& openFiles() {
    static std::set<FileKey> files;
    return files;
}

Expected<void> writeStep(SQLite::Database& database, const Bench& before, const Bench& after) {
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    for (const BenchGauge& gauge : before.gauges) {
        if (after.find(gauge.id)) continue;
        SQLite::Statement remove(database, "DELETE FROM gauge WHERE id = ?");
        remove.bind(1, gauge.id);
        remove.exec();
    }
    for (std::size_t position = 0; position < after.gauges.size(); ++position) {
        const BenchGauge& gauge = after.gauges[position];
        const bool same = position < before.gauges.size() && before.gauges[position] == gauge;
        if (same) continue;
        SQLite::Statement put(
            database,
            "INSERT INTO gauge (id, position, json) VALUES (?, ?, ?) ON CONFLICT (id) DO UPDATE SET position = "
            "excluded.position, json = excluded.json");
        put.bind(1, gauge.id);
        put.bind(2, static_cast<std::int64_t>(position));
        put.bind(3, writeGauge(gauge.spec));
        put.exec();
    }
    SQLite::Statement next(database, "UPDATE bench SET value = ? WHERE key = 'next_id'");
    next.bind(1, std::to_string(after.nextId));
    next.exec();
    if (!(before.board == after.board)) {
        SQLite::Statement board(database,
                                "INSERT INTO bench (key, value) VALUES ('board', ?) ON CONFLICT (key) DO UPDATE SET "
                                "value = excluded.value");
        board.bind(1, writeBoard(after.board));
        board.exec();
    }
    transaction.commit();
    return {};
}

Error databaseError(const fs::path& path, const SQLite::Exception& error, const char* expected) {
    const int code = error.getErrorCode();
    const bool damaged = code == SQLITE_CORRUPT || code == SQLITE_NOTADB;
    return {damaged ? ErrorCode::Damaged : ErrorCode::Io, path.string(), error.what(), expected};
}

Expected<Bench> readBench(SQLite::Database& database, const fs::path& path) {
    Bench bench;
    SQLite::Statement next(database, "SELECT value FROM bench WHERE key = 'next_id'");
    if (next.executeStep()) bench.nextId = next.getColumn(0).getInt64();
    SQLite::Statement board(database, "SELECT value FROM bench WHERE key = 'board'");
    if (board.executeStep()) {
        auto read = readBoard(board.getColumn(0).getString(), path.string() + ": board");
        if (!read) return tl::unexpected(read.error());
        bench.board = std::move(*read);
    }
    SQLite::Statement rows(database, "SELECT id, json FROM gauge ORDER BY position, id");
    while (rows.executeStep()) {
        const std::int64_t id = rows.getColumn(0).getInt64();
        auto spec = readGauge(rows.getColumn(1).getString(), fmt::format("{}, gauge {}", path.string(), id));
        if (!spec) return tl::unexpected(spec.error());
        bench.gauges.push_back({id, std::move(*spec)});
    }
    return bench;
}

/// Opens a descriptor on what is a bench by its name, kind and header.
Expected<int> openBench(const fs::path& path, struct stat& status) {
    if (::stat(path.c_str(), &status) != 0)
        return systemError(errno == ENOENT ? ErrorCode::Missing : ErrorCode::Io, path, "a bench file");
    if (!S_ISREG(status.st_mode))
        return fail(ErrorCode::Foreign, path.string(),
                    S_ISDIR(status.st_mode) ? "a folder" : "something that is no file", "a Fair Gauge bench");
    if (openFiles().count({status.st_dev, status.st_ino}) > 0)
        return fail(ErrorCode::Busy, path.string(), "a bench that is open already", "one that is open nowhere else");
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (descriptor < 0) return systemError(ErrorCode::Io, path, "a file that can be read");
    if (const auto header = checkHeader(descriptor, path); !header)
        return ::close(descriptor), tl::unexpected(header.error());
    return descriptor;
}

/// A path as SQLite's URI file names have it.
std::string uriOf(const fs::path& path) {
    std::string uri = "file:";
    for (const char each : path.string()) {
        const auto byte = static_cast<unsigned char>(each);
        if (std::isalnum(byte) || each == '/' || each == '.' || each == '-' || each == '_')
            uri += each;
        else
            uri += fmt::format("%{:02X}", byte);
    }
    return uri;
}

/// "ok", or what is wrong. The statement must be gone before the database can be closed.
std::string quickCheck(SQLite::Database& database) {
    SQLite::Statement check(database, "PRAGMA quick_check(1)");
    return check.executeStep() ? check.getColumn(0).getString() : "no answer";
}

void prepare(SQLite::Database& database) {
    database.exec("PRAGMA journal_mode = WAL");
    database.exec("PRAGMA synchronous = FULL");
}

/// A bench of an earlier version is kept beside the file as it was, then brought up to date. Version 2 knows what the
/// gauges hang on, a row that version 1 does not have.
Expected<void> migrate(SQLite::Database& database, const fs::path& path) {
    const int version = database.execAndGet("PRAGMA user_version").getInt();
    if (version >= BenchFile::kVersion) return {};
    fs::path kept;
    for (int number = 1; kept.empty() || fs::exists(kept); ++number)
        kept =
            path.parent_path() / fmt::format("{} (version {}{}){}", path.stem().string(), version,
                                             number > 1 ? fmt::format(", {}", number) : "", path.extension().string());
    SQLite::Statement copy(database, "VACUUM INTO ?");
    copy.bind(1, kept.string());
    copy.exec();
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    database.exec(fmt::format("PRAGMA user_version = {}", BenchFile::kVersion));
    transaction.commit();
    return {};
}

}  // namespace

/// The advisory lock that says "open here", held on a descriptor of its own.
class BenchFile::Lock {
  public:
    static Expected<std::unique_ptr<Lock>> take(int descriptor, const fs::path& path) {
        struct stat status {};
        if (::fstat(descriptor, &status) != 0) return systemError(ErrorCode::Io, path, "a file that can be read");
        if (::flock(descriptor, LOCK_EX | LOCK_NB) != 0)
            return fail(ErrorCode::Busy, path.string(), "a bench that is open in another window",
                        "one that is open nowhere else");
        return std::unique_ptr<Lock>(new Lock(descriptor, {status.st_dev, status.st_ino}));
    }
    ~Lock() {
        openFiles().erase(m_key);
        ::close(m_descriptor);
    }
    Lock(const Lock&) = delete;
    Lock& operator=(const Lock&) = delete;

  private:
    Lock(int descriptor, FileKey key) : m_descriptor(descriptor), m_key(key) { openFiles().insert(key); }
    int m_descriptor;
    FileKey m_key;
};

BenchFile::BenchFile(fs::path path, std::unique_ptr<Lock> lock, std::unique_ptr<SQLite::Database> database)
    : m_path(std::move(path)), m_lock(std::move(lock)), m_database(std::move(database)) {}

BenchFile::~BenchFile() = default;

Expected<std::shared_ptr<BenchFile>> BenchFile::create(const fs::path& path) {
    // O_EXCL: of two programs creating the same file, one gets it.
    const int descriptor = ::open(path.c_str(), O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    if (descriptor < 0)
        return systemError(errno == EEXIST ? ErrorCode::Range : ErrorCode::Io, path,
                           "a new file in a folder that can be written");
    auto lock = Lock::take(descriptor, path);
    if (!lock) return tl::unexpected(lock.error());
    try {
        auto database = std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READWRITE, 2000);
        SQLite::Transaction transaction(*database);
        database->exec(fmt::format("PRAGMA application_id = {}; PRAGMA user_version = {};", kApplicationId, kVersion));
        database->exec(kSchema);
        transaction.commit();
        prepare(*database);
        return std::shared_ptr<BenchFile>(new BenchFile(path, std::move(*lock), std::move(database)));
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, "a bench that can be created"));
    }
}

Expected<Bench> BenchFile::look(const fs::path& path) {
    struct stat status {};
    const auto opened = openBench(path, status);
    if (!opened) return tl::unexpected(opened.error());
    ::close(*opened);
    try {
        // Without a write-ahead log nobody has it open: then its pages can be read as they stand, and no log is begun
        // for that.
        std::error_code error;
        const bool isOpenElsewhere = fs::exists(path.string() + "-wal", error);
        SQLite::Database database(uriOf(path) + (isOpenElsewhere ? "" : "?immutable=1"),
                                  SQLite::OPEN_READONLY | SQLite::OPEN_URI, 2000);
        const std::string verdict = quickCheck(database);
        if (verdict != "ok")
            return fail(ErrorCode::Damaged, path.string(), verdict, "an intact bench; the file is left as it is");
        return readBench(database, path);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, "an intact bench; the file is left as it is"));
    }
}

Expected<std::shared_ptr<BenchFile>> BenchFile::open(const fs::path& path) {
    struct stat status {};
    const auto opened = openBench(path, status);
    if (!opened) return tl::unexpected(opened.error());
    const int descriptor = *opened;
    // Permission bits count even for root, whom access() lets write everything.
    const bool anyoneMayWrite = (status.st_mode & (S_IWUSR | S_IWGRP | S_IWOTH)) != 0;
    if (!anyoneMayWrite || ::access(path.c_str(), W_OK) != 0 ||
        ::access(path.has_parent_path() ? path.parent_path().c_str() : ".", W_OK) != 0) {
        ::close(descriptor);
        return fail(ErrorCode::ReadOnly, path.string(), "a file or folder that may not be written",
                    "one that may: every change is saved as it is made. Copy the bench elsewhere first");
    }
    auto lock = Lock::take(descriptor, path);
    if (!lock) return ::close(descriptor), tl::unexpected(lock.error());
    try {
        auto database = std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READWRITE, 2000);
        const std::string verdict = quickCheck(*database);
        if (verdict != "ok")
            return fail(ErrorCode::Damaged, path.string(), verdict, "an intact bench; the file is left as it is");
        if (const auto migrated = migrate(*database, path); !migrated) return tl::unexpected(migrated.error());
        prepare(*database);
        auto file = std::shared_ptr<BenchFile>(new BenchFile(path, std::move(*lock), std::move(database)));
        if (const auto readable = file->read(); !readable) return tl::unexpected(readable.error());
        return file;
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, "an intact bench; the file is left as it is"));
    }
}

Expected<Bench> BenchFile::read() const {
    try {
        return readBench(*m_database, m_path);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(m_path, error, "an intact bench"));
    }
}

Expected<void> BenchFile::write(const Bench& before, const Bench& after) {
    try {
        return writeStep(*m_database, before, after);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(m_path, error, "a disk that takes the change"));
    }
}

Expected<void> BenchFile::saveCopy(const fs::path& path) const {
    std::error_code error;
    if (fs::exists(path, error))
        return fail(ErrorCode::Range, path.string(), "a file that is there already", "a new name");
    const fs::path partial = path.string() + ".part";
    fs::remove(partial, error);
    try {
        SQLite::Statement copy(*m_database, "VACUUM INTO ?");
        copy.bind(1, partial.string());
        copy.exec();
    } catch (const SQLite::Exception& failure) {
        fs::remove(partial, error);
        return tl::unexpected(databaseError(path, failure, "a place that can be written"));
    }
    // link + unlink instead of rename: a file that appeared meanwhile is not overwritten.
    if (::link(partial.c_str(), path.c_str()) != 0) {
        const auto failure = systemError(ErrorCode::Io, path, "a new name");
        fs::remove(partial, error);
        return failure;
    }
    fs::remove(partial, error);
    return {};
}

}  // namespace fg
