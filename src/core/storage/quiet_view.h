#pragma once

#include "units/error.h"

#include <filesystem>
#include <memory>

namespace SQLite {
class Database;
}

namespace fg {

/// A bench file opened for reading so that nothing of it, and nothing beside it, is touched.
///
/// Where a process died in the middle of a change, what is needed to take that back stands beside the file; then a copy
/// of them all in a temporary folder is brought to rest and read. Its database is for one thread at a time.
class QuietView {
  public:
    /// `isAlone`: no other process has it open. SQLite::Exception passes through; errors: Io of the copy.
    [[nodiscard]] static Expected<std::unique_ptr<QuietView>> open(const std::filesystem::path& path, bool isAlone);
    ~QuietView();
    QuietView(const QuietView&) = delete;
    QuietView& operator=(const QuietView&) = delete;
    [[nodiscard]] SQLite::Database& database() { return *m_database; }

  private:
    QuietView();
    std::unique_ptr<SQLite::Database> m_database;
    std::filesystem::path m_copyFolder;  ///< empty: the file itself is read
};

}  // namespace fg
