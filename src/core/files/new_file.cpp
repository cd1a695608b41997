#include "files/new_file.h"

#include "files/file_ops.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>
#include <atomic>
#include <cerrno>
#include <cstring>

namespace fg {
namespace fs = std::filesystem;
namespace {

// 255 bytes is the longest name on the usual file systems; "-journal" and the name of an unfinished copy are longer
// than the name itself.
constexpr std::size_t kLongestName = 220;

fs::path folderOf(const fs::path& path) { return path.has_parent_path() ? path.parent_path() : fs::path("."); }

bool isUnsupported(int error) {
    return error == EOPNOTSUPP || error == EPERM || error == ENOSYS || error == EINVAL || error == EISDIR ||
           error == ENOTSUP;
}

tl::unexpected<Error> newFileError(const fs::path& path) {
    return systemError(errno == EEXIST ? ErrorCode::Range : ErrorCode::Io, path,
                       "a new file in a folder that can be written");
}

bool writeAndSync(int descriptor, std::string_view bytes) {
    return writeAll(descriptor, bytes) && fileOps().fsync(descriptor) == 0;
}

}  // namespace

tl::unexpected<Error> systemError(ErrorCode code, const fs::path& path, std::string expected) {
    return fail(code, path.string(), std::strerror(errno), std::move(expected));
}

bool writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t written = fileOps().write(descriptor, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR) continue;
        if (written == 0) errno = EIO;
        if (written <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

bool syncFolderOf(const fs::path& path) {
    const int folder = fileOps().open(folderOf(path).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC, 0);
    if (folder < 0) return false;
    // Some file systems cannot sync a folder and say so; that is all they can do.
    const bool synced = fileOps().fsync(folder) == 0 || isUnsupported(errno);
    fileOps().close(folder);
    return synced;
}

Expected<void> checkNameLength(const fs::path& path) {
    const std::size_t length = path.filename().string().size();
    if (length <= kLongestName) return {};
    return fail(ErrorCode::Range, path.string(), fmt::format("a name of {} bytes", length),
                fmt::format("one of at most {}", kLongestName));
}

fs::path unfinishedName(const fs::path& path) {
    static std::atomic<unsigned> number{0};
    return folderOf(path) / fmt::format(".{}.{}-{}.part", path.filename().string(), ::getpid(), ++number);
}

Expected<void> nameNewFile(const fs::path& finished, const fs::path& path) {
    FileOps& ops = fileOps();
    if (ops.link(finished.c_str(), path.c_str()) == 0) {
        ops.unlink(finished.c_str());
    } else if (!isUnsupported(errno) || ops.renameToFree(finished.c_str(), path.c_str()) != 0) {
        // FAT and network shares know neither links nor a rename that refuses to replace: look first, then rename.
        const bool looksFirst = isUnsupported(errno) && ::access(path.c_str(), F_OK) != 0 && errno == ENOENT;
        if (!looksFirst || ops.rename(finished.c_str(), path.c_str()) != 0) {
            if (::access(path.c_str(), F_OK) == 0) errno = EEXIST;
            const auto error = newFileError(path);
            ops.unlink(finished.c_str());
            return error;
        }
    }
    if (!syncFolderOf(path)) return systemError(ErrorCode::Io, path, "a folder that keeps the new name");
    return {};
}

Expected<void> writeNewFile(const fs::path& path, std::string_view bytes) {
    if (const auto length = checkNameLength(path); !length) return length;
    FileOps& ops = fileOps();
    // A file without a name leaves nothing behind when the process dies.
    const int nameless = ops.open(folderOf(path).c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0666);
    if (nameless >= 0) {
        const bool named = writeAndSync(nameless, bytes) && ops.linkDescriptor(nameless, path.c_str()) == 0;
        const int error = errno;
        ops.close(nameless);
        errno = error;
        if (named && !syncFolderOf(path)) return systemError(ErrorCode::Io, path, "a folder that keeps the new name");
        if (named) return {};
        if (!isUnsupported(error) && error != ENOENT) return newFileError(path);
    } else if (!isUnsupported(errno)) {
        return newFileError(path);
    }
    const fs::path unfinished = unfinishedName(path);
    const int descriptor = ops.open(unfinished.c_str(), O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    if (descriptor < 0) return newFileError(path);
    const bool written = writeAndSync(descriptor, bytes);
    const int error = errno;
    const bool closed = ops.close(descriptor) == 0;
    if (written && closed) return nameNewFile(unfinished, path);
    if (!written) errno = error;
    const auto failure = newFileError(path);
    ops.unlink(unfinished.c_str());
    return failure;
}

}  // namespace fg
