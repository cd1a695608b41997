#include "files/output_file.h"

#include "files/file_ops.h"
#include "files/new_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#include <array>
#include <atomic>
#include <cerrno>
#include <cstring>

namespace fg {
namespace fs = std::filesystem;
namespace {

constexpr const char* kExpected = "a file that can be written";

// One output at a time is enough for every verb; a signal handler may read nothing but this.
std::array<char, 4096> unfinishedPath{};

void forget() { unfinishedPath[0] = '\0'; }

void remember(const fs::path& path) {
    const std::string name = path.string();
    if (name.size() >= unfinishedPath.size()) return;
    // The first byte last: a handler that comes between reads an empty name, never half of one.
    forget();
    std::memcpy(unfinishedPath.data() + 1, name.c_str() + 1, name.size());
    std::atomic_signal_fence(std::memory_order_seq_cst);
    unfinishedPath[0] = name[0];
}

/// Where links lead, also to what is not there yet.
fs::path targetOf(fs::path path) {
    constexpr int kMostLinks = 40;  // as the system has it
    std::error_code error;
    for (int links = 0; links < kMostLinks && fs::is_symlink(fs::symlink_status(path, error)); ++links) {
        const fs::path next = fs::read_symlink(path, error);
        if (error) break;
        path = next.is_absolute() ? next : path.parent_path() / next;
    }
    return path;
}

}  // namespace

OutputFile::OutputFile(fs::path target, fs::path unfinished, int descriptor)
    : m_target(std::move(target)), m_unfinished(std::move(unfinished)), m_descriptor(descriptor) {}

Expected<std::unique_ptr<OutputFile>> OutputFile::open(const fs::path& path) {
    const fs::path target = targetOf(path);
    struct stat status {};
    const bool isThere = ::stat(target.c_str(), &status) == 0;
    if (isThere && !S_ISREG(status.st_mode)) {
        const int descriptor = fileOps().open(target.c_str(), O_WRONLY | O_CLOEXEC | O_NOCTTY, 0);
        if (descriptor < 0) return systemError(ErrorCode::Io, path, kExpected);
        return std::unique_ptr<OutputFile>(new OutputFile(target, {}, descriptor));
    }
    if (isThere && ::access(target.c_str(), W_OK) != 0) return systemError(ErrorCode::Io, path, kExpected);
    if (const auto length = checkNameLength(target); !length) return tl::unexpected(length.error());
    const fs::path unfinished = unfinishedName(target);
    // Known before it is there: an interrupt between making the file and noting its name would leave it behind.
    remember(unfinished);
    const int descriptor = fileOps().open(unfinished.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    if (descriptor < 0) {
        forget();
        return systemError(ErrorCode::Io, path, kExpected);
    }
    if (isThere) {
        // The owner can be kept by root and by the owner alone; the permissions always.
        if (::fchown(descriptor, status.st_uid, status.st_gid) != 0) errno = 0;
        if (::fchmod(descriptor, status.st_mode & 07777) != 0) errno = 0;
    }
    return std::unique_ptr<OutputFile>(new OutputFile(target, unfinished, descriptor));
}

OutputFile::~OutputFile() {
    if (m_descriptor >= 0) fileOps().close(m_descriptor);
    if (!m_unfinished.empty()) fileOps().unlink(m_unfinished.c_str());
    forget();
}

bool OutputFile::write(std::string_view bytes) {
    if (m_error == 0 && !writeAll(m_descriptor, bytes)) m_error = errno;
    return m_error == 0;
}

Expected<void> OutputFile::commit() {
    const auto failed = [&] {
        if (m_error != 0) errno = m_error;
        return systemError(ErrorCode::Io, m_target, kExpected);
    };
    if (m_error != 0) return failed();
    const bool isFile = !m_unfinished.empty();
    if (isFile && fileOps().fsync(m_descriptor) != 0) return failed();
    const int descriptor = std::exchange(m_descriptor, -1);
    if (fileOps().close(descriptor) != 0) return failed();
    if (!isFile) return {};
    if (fileOps().rename(m_unfinished.c_str(), m_target.c_str()) != 0) return failed();
    m_unfinished.clear();
    if (!syncFolderOf(m_target)) return failed();
    return {};
}

void OutputFile::removeUnfinished() noexcept {
    if (unfinishedPath[0] != '\0') ::unlink(unfinishedPath.data());
}

}  // namespace fg
