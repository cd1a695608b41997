// Room `storage`: the bench file, one SQLite database.
#pragma once

#include "storage/bench_rows.h"

#include <filesystem>
#include <memory>
#include <mutex>

namespace SQLite {
class Database;
}

namespace fg {

class RecordingRows;
class RecordingStore;

/// What a look at a bench file shows.
struct BenchHealth {
    std::string structure;        ///< "ok", or what the database says of its pages
    std::size_t readable = 0;     ///< gauges
    std::vector<Error> problems;  ///< gauges that cannot be read, or why nothing can
    [[nodiscard]] bool isSound() const { return problems.empty() && structure == "ok"; }
};

/// The bench file `*.fairgauge`. Format: docs/bench-file.md.
///
/// May be used from several threads. One process has it open at a time (an advisory lock on the file, dropped by the
/// system when the process dies). Every write() is one transaction with a rollback journal and full synchronisation:
/// what it returned as written stands in the one file, and survives kill -9 and power loss.
class BenchFile final : public BenchSink {
  public:
    static constexpr std::int32_t kApplicationId = 0x46474247;  ///< "FGBG" in the database header
    static constexpr int kVersion = rows::kVersion;             ///< schema, in user_version

    /// A new bench file, there as a whole or not at all. Errors: Range when something is there already or the name is
    /// too long; Io; Unsupported for content that could not be read again.
    [[nodiscard]] static Expected<std::shared_ptr<BenchFile>> create(const std::filesystem::path& path,
                                                                     const Bench& content = {});

    /// Opens an existing one. Missing, Io, Foreign (not a bench file), Newer, Damaged, ReadOnly or Busy (open
    /// elsewhere) are errors that leave the file and its folder as they were. A bench of an earlier version is kept
    /// beside it as it was. Gauges that cannot be read are in unread(), and stay in the file.
    [[nodiscard]] static Expected<std::shared_ptr<BenchFile>> open(const std::filesystem::path& path);

    /// The bench of a file that stays as it is, and that may be open in another process at the same time: nothing is
    /// written, migrated or left beside it. Errors as of open(), but for ReadOnly; Busy only where this process itself
    /// has it open.
    [[nodiscard]] static Expected<StoredBench> look(const std::filesystem::path& path);

    /// The recordings of a file that stays as it is: reading only, as look(). Errors of look().
    [[nodiscard]] static Expected<std::unique_ptr<RecordingStore>> lookAtRecordings(const std::filesystem::path& path);

    /// The same for a file that may be damaged. Errors: those of a file that is no bench at all.
    [[nodiscard]] static Expected<BenchHealth> check(const std::filesystem::path& path);

    ~BenchFile() override;
    BenchFile(const BenchFile&) = delete;
    BenchFile& operator=(const BenchFile&) = delete;

    /// The bench as stored, without what cannot be read.
    [[nodiscard]] Expected<Bench> read() const;
    [[nodiscard]] const std::vector<UnreadGauge>& unread() const { return m_unread; }

    /// Missing when the file was deleted, moved or replaced while it was open: then nothing under its name has the
    /// change. Unsupported for what could not be read again; Io with the system's reason.
    [[nodiscard]] Expected<void> write(const Bench& before, const Bench& after) override;

    /// A complete copy under another name, written beside it first and then put in place. Error when that name is
    /// taken.
    [[nodiscard]] Expected<void> saveCopy(const std::filesystem::path& path) const;

    /// What was recorded. It may be used from other threads; lives as long as the file.
    [[nodiscard]] RecordingStore& recordings();

    [[nodiscard]] const std::filesystem::path& path() const { return m_path; }
    /// False on a file system without locks: nothing keeps another window from opening it too.
    [[nodiscard]] bool isLocked() const;

  private:
    class Lock;
    BenchFile(std::filesystem::path path, std::unique_ptr<Lock> lock, std::unique_ptr<SQLite::Database> database);
    [[nodiscard]] Expected<void> isStillThere() const;

    std::filesystem::path m_path;
    std::unique_ptr<Lock> m_lock;  // before the database: it must be released after it
    std::unique_ptr<SQLite::Database> m_database;
    mutable std::mutex m_guard;  // of the database: what is recorded comes from another thread
    std::unique_ptr<RecordingRows> m_recordings;
    std::vector<UnreadGauge> m_unread;
    mutable std::optional<Bench> m_opened;  ///< what stood in it, until that is asked for or changed
};

}  // namespace fg
