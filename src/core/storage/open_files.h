#pragma once

#include <sys/types.h>
#include <mutex>
#include <set>
#include <utility>

namespace fg {

/// A file by its device and its number there, whatever it is called.
using FileKey = std::pair<dev_t, ino_t>;

/// The bench files that this process has open. SQLite drops all of a process's locks on a file when any descriptor of
/// it is closed: a second attempt by this process must therefore be refused before it opens one. For any thread.
class OpenFiles {
  public:
    /// Of this process.
    [[nodiscard]] static OpenFiles& here() {
        static OpenFiles files;
        return files;
    }
    [[nodiscard]] bool has(const FileKey& key) {
        const std::lock_guard lock(m_guard);
        return m_files.count(key) > 0;
    }
    void add(const FileKey& key) {
        const std::lock_guard lock(m_guard);
        m_files.insert(key);
    }
    void remove(const FileKey& key) {
        const std::lock_guard lock(m_guard);
        m_files.erase(key);
    }

  private:
    std::mutex m_guard;
    std::set<FileKey> m_files;
};

}  // namespace fg
