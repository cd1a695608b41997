// Room `storage`: the bench file, one SQLite database.
#pragma once

#include "bench/document.h"

#include <filesystem>
#include <memory>

namespace SQLite {
class Database;
}

namespace fg {

/// The bench file `*.fairgauge`. Format: docs/bench-file.md.
///
/// One process has it open at a time (an advisory lock on the file, dropped by the system when the process dies). Every
/// write() is one transaction in write-ahead mode with full synchronisation, so what it returned as written survives
/// kill -9 and power loss.
class BenchFile final : public BenchSink {
  public:
    static constexpr std::int32_t kApplicationId = 0x46474247;  ///< "FGBG" in the database header
    static constexpr int kVersion = 2;                          ///< schema, in user_version

    /// A new, empty bench file. Error when something is there already.
    [[nodiscard]] static Expected<std::shared_ptr<BenchFile>> create(const std::filesystem::path& path);

    /// Opens an existing one. Missing, Io, Foreign (not a bench file), Newer, Damaged, ReadOnly or Busy (open
    /// elsewhere) are errors that leave the file as it was.
    [[nodiscard]] static Expected<std::shared_ptr<BenchFile>> open(const std::filesystem::path& path);

    /// The bench of a file that stays as it is, and that may be open in another process at the same time: nothing is
    /// written, migrated or left beside it. Errors as of open(), but for ReadOnly; Busy only where this process itself
    /// has it open.
    [[nodiscard]] static Expected<Bench> look(const std::filesystem::path& path);

    ~BenchFile() override;
    BenchFile(const BenchFile&) = delete;
    BenchFile& operator=(const BenchFile&) = delete;

    /// The bench as stored. A gauge that cannot be read is an error naming it.
    [[nodiscard]] Expected<Bench> read() const;

    [[nodiscard]] Expected<void> write(const Bench& before, const Bench& after) override;

    /// A complete copy under another name, written beside it first and then put in place. Error when that name is
    /// taken.
    [[nodiscard]] Expected<void> saveCopy(const std::filesystem::path& path) const;

    [[nodiscard]] const std::filesystem::path& path() const { return m_path; }

  private:
    class Lock;
    BenchFile(std::filesystem::path path, std::unique_ptr<Lock> lock, std::unique_ptr<SQLite::Database> database);

    std::filesystem::path m_path;
    std::unique_ptr<Lock> m_lock;  // before the database: it must be released after it
    std::unique_ptr<SQLite::Database> m_database;
};

}  // namespace fg
