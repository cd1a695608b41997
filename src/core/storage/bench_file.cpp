#include "storage/bench_file.h"

#include "files/file_ops.h"
#include "files/new_file.h"
#include "storage/open_files.h"
#include "storage/quiet_view.h"
#include "storage/recording_rows.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <array>
#include <cerrno>
#include <cstring>

namespace fg {
namespace {

namespace fs = std::filesystem;

constexpr int kWait_ms = 2000;
constexpr const char* kIntact = "an intact bench; the file is left as it is. “fgauge bench salvage” reads what is left";

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

Error databaseError(const fs::path& path, const SQLite::Exception& error, const char* expected) {
    const int code = error.getErrorCode();
    const bool damaged = code == SQLITE_CORRUPT || code == SQLITE_NOTADB;
    return {damaged ? ErrorCode::Damaged : ErrorCode::Io, path.string(), error.what(), expected};
}

/// Where links lead: what stands beside a bench stands beside the file itself.
fs::path realPath(const fs::path& path) {
    std::error_code error;
    const fs::path real = fs::canonical(path, error);
    return error ? path : real;
}

/// Opens a descriptor on what is a bench by its name, kind and header.
Expected<int> openBench(const fs::path& path, struct stat& status) {
    if (::stat(path.c_str(), &status) != 0)
        return systemError(errno == ENOENT ? ErrorCode::Missing : ErrorCode::Io, path, "a bench file");
    if (!S_ISREG(status.st_mode))
        return fail(ErrorCode::Foreign, path.string(),
                    S_ISDIR(status.st_mode) ? "a folder" : "something that is no file", "a Fair Gauge bench");
    if (OpenFiles::here().has({status.st_dev, status.st_ino}))
        return fail(ErrorCode::Busy, path.string(), "a bench that is open already", "one that is open nowhere else");
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (descriptor < 0) return systemError(ErrorCode::Io, path, "a file that can be read");
    if (const auto header = checkHeader(descriptor, path); !header) {
        ::close(descriptor);
        return tl::unexpected(header.error());
    }
    return descriptor;
}

/// Reads the whole without touching anything; `isAlone`: no other process has it open.
Expected<StoredBench> readQuietly(const fs::path& path, bool isAlone) {
    const auto view = QuietView::open(path, isAlone);
    if (!view) return tl::unexpected(view.error());
    const std::string verdict = rows::structureForOpening((*view)->database());
    if (verdict != "ok") return fail(ErrorCode::Damaged, path.string(), verdict, kIntact);
    return rows::read((*view)->database(), path.string());
}

/// Does no other process have it open? Takes the lock for a moment.
bool isAlone(int descriptor) {
    if (fileOps().flock(descriptor, LOCK_SH | LOCK_NB) != 0) return errno != EWOULDBLOCK;
    fileOps().flock(descriptor, LOCK_UN);
    return true;
}

/// A bench to be looked at: where it really is, and whether no other process has it open.
struct SeenBench {
    fs::path path;
    bool isAlone = true;
};

Expected<SeenBench> seeBench(const fs::path& given) {
    SeenBench seen{realPath(given)};
    struct stat status {};
    const auto opened = openBench(seen.path, status);
    if (!opened) return tl::unexpected(opened.error());
    seen.isAlone = isAlone(*opened);
    ::close(*opened);
    return seen;
}

/// With recordings in it that nobody wants copied to be looked at.
bool isLong(const fs::path& path) {
    constexpr std::uintmax_t kLong = 64 << 20;
    std::error_code error;
    return fs::file_size(path, error) > kLong && !error;
}

/// What a process that died had begun is taken back in place, as the database does with its first look.
void finishChange(const fs::path& path) {
    const SQLite::Database database(path.string(), SQLite::OPEN_READWRITE, kWait_ms);
    (void)database.tableExists("bench");
}

void prepare(SQLite::Database& database) {
    // One file after every change; a power cut just after the journal was taken away brings it not back.
    database.exec("PRAGMA journal_mode = DELETE");
    database.exec("PRAGMA synchronous = EXTRA");
}

Expected<void> copyInto(SQLite::Database& database, const fs::path& path) {
    if (const auto length = checkNameLength(path); !length) return length;
    std::error_code error;
    if (fs::exists(fs::symlink_status(path, error)))
        return fail(ErrorCode::Range, path.string(), "a file that is there already", "a new name");
    const fs::path unfinished = unfinishedName(path);
    try {
        SQLite::Statement copy(database, "VACUUM INTO ?");
        copy.bind(1, unfinished.string());
        copy.exec();
    } catch (const SQLite::Exception& failure) {
        fs::remove(unfinished, error);
        return tl::unexpected(databaseError(path, failure, "a place that can be written"));
    }
    // The copy itself is not synchronised by the database.
    const int descriptor = fileOps().open(unfinished.c_str(), O_RDWR | O_CLOEXEC, 0);
    const bool isSafe = descriptor >= 0 && fileOps().fsync(descriptor) == 0;
    const auto failure = systemError(ErrorCode::Io, path, "a place that can be written");
    if (descriptor >= 0) fileOps().close(descriptor);
    if (!isSafe) {
        fs::remove(unfinished, error);
        return failure;
    }
    return nameNewFile(unfinished, path);
}

/// A bench of an earlier version is kept beside the file as it was, then brought up to date.
Expected<void> migrate(SQLite::Database& database, const fs::path& path) {
    const int version = database.execAndGet("PRAGMA user_version").getInt();
    if (version >= BenchFile::kVersion) return {};
    fs::path kept;
    std::error_code error;
    for (int number = 1; kept.empty() || fs::exists(kept, error); ++number)
        kept =
            path.parent_path() / fmt::format("{} (version {}{}){}", path.stem().string(), version,
                                             number > 1 ? fmt::format(", {}", number) : "", path.extension().string());
    if (const auto copied = copyInto(database, kept); !copied) return copied;
    rows::bringUpToDate(database);
    return {};
}

}  // namespace

/// The advisory lock that says "open here", held on a descriptor of its own.
class BenchFile::Lock {
  public:
    static Expected<std::unique_ptr<Lock>> take(int descriptor, const fs::path& path) {
        struct stat status {};
        if (::fstat(descriptor, &status) != 0) return systemError(ErrorCode::Io, path, "a file that can be read");
        const bool isHeld = fileOps().flock(descriptor, LOCK_EX | LOCK_NB) == 0;
        if (!isHeld && errno == EWOULDBLOCK)
            return fail(ErrorCode::Busy, path.string(), "a bench that is open in another window",
                        "one that is open nowhere else");
        // Some file systems know no locks; the bench can be used all the same, in one window only.
        return std::unique_ptr<Lock>(new Lock(descriptor, {status.st_dev, status.st_ino}, isHeld));
    }
    ~Lock() {
        OpenFiles::here().remove(m_key);
        ::close(m_descriptor);
    }
    Lock(const Lock&) = delete;
    Lock& operator=(const Lock&) = delete;
    [[nodiscard]] bool isHeld() const { return m_isHeld; }
    [[nodiscard]] FileKey key() const { return m_key; }

  private:
    Lock(int descriptor, FileKey key, bool isHeld) : m_descriptor(descriptor), m_key(key), m_isHeld(isHeld) {
        OpenFiles::here().add(key);
    }
    int m_descriptor;
    FileKey m_key;
    bool m_isHeld;
};

BenchFile::BenchFile(fs::path path, std::unique_ptr<Lock> lock, std::unique_ptr<SQLite::Database> database)
    : m_path(std::move(path)),
      m_lock(std::move(lock)),
      m_database(std::move(database)),
      m_recordings(
          std::make_unique<RecordingRows>(*m_database, m_guard, m_path.string(), [this] { return isStillThere(); })) {}

BenchFile::~BenchFile() = default;

RecordingStore& BenchFile::recordings() { return *m_recordings; }

namespace {

/// Keeps open what it reads.
class QuietRecordings final : public RecordingStore {
  public:
    QuietRecordings(std::unique_ptr<QuietView> view, const fs::path& path)
        : m_view(std::move(view)), m_rows(m_view->database(), m_guard, path.string(), [path]() -> Expected<void> {
              return fail(ErrorCode::ReadOnly, path.string(), "a bench that is only looked at",
                          "one that was opened for writing");
          }) {}
    Expected<std::vector<BenchRecording>> recordings(std::vector<Error>* unread) const override {
        // Before version 5 there were none.
        if (!m_view->database().tableExists("recording")) return std::vector<BenchRecording>();
        return m_rows.recordings(unread);
    }
    Expected<BenchRecording> begin(const BenchRecording& recording) override { return m_rows.begin(recording); }
    Expected<void> append(std::int64_t recording, const RecordingStep& step) override {
        return m_rows.append(recording, step);
    }
    Expected<void> removeMark(std::int64_t recording, std::int64_t mark) override {
        return m_rows.removeMark(recording, mark);
    }
    Expected<void> rename(std::int64_t recording, const std::string& name) override {
        return m_rows.rename(recording, name);
    }
    Expected<void> remove(std::int64_t recording) override { return m_rows.remove(recording); }
    Expected<std::vector<ChunkSummary>> summaries(std::int64_t track, TimeSpan span) const override {
        return m_rows.summaries(track, span);
    }
    Expected<void> read(std::int64_t track, TimeSpan span, const Take& take) const override {
        return m_rows.read(track, span, take);
    }

  private:
    std::unique_ptr<QuietView> m_view;
    mutable std::mutex m_guard;
    RecordingRows m_rows;
};

}  // namespace

Expected<std::unique_ptr<RecordingStore>> BenchFile::lookAtRecordings(const fs::path& given) {
    const auto seen = seeBench(given);
    if (!seen) return tl::unexpected(seen.error());
    const auto& [path, alone] = *seen;
    try {
        auto view = QuietView::open(path, alone);
        if (!view) return tl::unexpected(view.error());
        return std::make_unique<QuietRecordings>(std::move(*view), path);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, kIntact));
    }
}

bool BenchFile::isLocked() const { return m_lock->isHeld(); }

Expected<std::shared_ptr<BenchFile>> BenchFile::create(const fs::path& path, const Bench& content) {
    try {
        SQLite::Database fresh(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        rows::layOut(fresh, kApplicationId);
        if (const auto written = rows::write(fresh, {}, content); !written) return tl::unexpected(written.error());
        sqlite3_int64 size = 0;
        const std::unique_ptr<unsigned char, void (*)(void*)> bytes(
            sqlite3_serialize(fresh.getHandle(), "main", &size, 0), sqlite3_free);
        if (!bytes) return fail(ErrorCode::Io, path.string(), "no memory", "room for a bench");
        const auto stored =
            writeNewFile(path, {reinterpret_cast<const char*>(bytes.get()), static_cast<std::size_t>(size)});
        if (!stored) return tl::unexpected(stored.error());
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, "a bench that can be created"));
    }
    return open(path);
}

Expected<StoredBench> BenchFile::look(const fs::path& given) {
    const auto seen = seeBench(given);
    if (!seen) return tl::unexpected(seen.error());
    const auto& [path, alone] = *seen;
    try {
        return readQuietly(path, alone);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, kIntact));
    }
}

Expected<BenchHealth> BenchFile::check(const fs::path& given) {
    const auto seen = seeBench(given);
    if (!seen) return tl::unexpected(seen.error());
    const auto& [path, alone] = *seen;
    BenchHealth health;
    try {
        const auto view = QuietView::open(path, alone);
        if (!view) return tl::unexpected(view.error());
        health.structure = rows::structureOf((*view)->database());
        const auto stored = rows::read((*view)->database(), path.string());
        if (!stored) {
            health.problems.push_back(stored.error());
        } else {
            health.readable = stored->bench.gauges.size();
            for (const UnreadGauge& gauge : stored->unread) health.problems.push_back(gauge.why);
            if ((*view)->database().tableExists("recording")) {
                std::mutex guard;
                const RecordingRows rows((*view)->database(), guard, path.string(), {});
                for (Error& problem : rows.problems()) health.problems.push_back(std::move(problem));
            }
        }
    } catch (const SQLite::Exception& error) {
        health.problems.push_back(databaseError(path, error, "pages that can be read"));
    }
    return health;
}

Expected<std::shared_ptr<BenchFile>> BenchFile::open(const fs::path& given) {
    const fs::path path = realPath(given);
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
    if (!lock) {
        ::close(descriptor);
        return tl::unexpected(lock.error());
    }
    try {
        if (isLong(path)) finishChange(path);
        // All of it is read before anything is opened for writing: what is refused stays untouched.
        auto stored = readQuietly(path, true);
        if (!stored) return tl::unexpected(stored.error());
        // m_guard lets one thread in at a time.
        auto database =
            std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_NOMUTEX, kWait_ms);
        prepare(*database);
        if (const auto migrated = migrate(*database, path); !migrated) return tl::unexpected(migrated.error());
        auto file = std::shared_ptr<BenchFile>(new BenchFile(path, std::move(*lock), std::move(database)));
        file->m_unread = std::move(stored->unread);
        file->m_opened = std::move(stored->bench);
        return file;
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(path, error, kIntact));
    }
}

Expected<Bench> BenchFile::read() const {
    const std::lock_guard lock(m_guard);
    if (m_opened) {
        Bench opened = std::move(*m_opened);
        m_opened.reset();
        return opened;
    }
    try {
        auto stored = rows::read(*m_database, m_path.string());
        if (!stored) return tl::unexpected(stored.error());
        return std::move(stored->bench);
    } catch (const SQLite::Exception& error) {
        return tl::unexpected(databaseError(m_path, error, "an intact bench"));
    }
}

Expected<void> BenchFile::isStillThere() const {
    struct stat status {};
    const bool isThere = ::stat(m_path.c_str(), &status) == 0;
    if (isThere && FileKey{status.st_dev, status.st_ino} == m_lock->key()) return {};
    return fail(ErrorCode::Missing, m_path.string(),
                isThere ? "another file under its name" : "no file: it was deleted or moved",
                "the bench that was opened; save the work under a new name");
}

Expected<void> BenchFile::write(const Bench& before, const Bench& after) {
    if (const auto there = isStillThere(); !there) return there;
    try {
        const std::lock_guard lock(m_guard);
        m_opened.reset();
        if (const auto written = rows::write(*m_database, before, after); !written) return written;
    } catch (const SQLite::Exception& error) {
        if (const auto there = isStillThere(); !there) return there;
        return tl::unexpected(databaseError(m_path, error, "a disk that takes the change"));
    }
    return isStillThere();
}

Expected<void> BenchFile::saveCopy(const fs::path& path) const {
    const std::lock_guard lock(m_guard);
    return copyInto(*m_database, path);
}

}  // namespace fg
