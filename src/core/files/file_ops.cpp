#include "files/file_ops.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>
#include <cstdio>
#include <string>

namespace fg {

FileOps systemFileOps() {
    return {[](const char* path, int flags, mode_t mode) { return ::open(path, flags, mode); },
            [](int descriptor, const void* bytes, std::size_t count) { return ::write(descriptor, bytes, count); },
            [](int descriptor) { return ::fsync(descriptor); },
            [](int descriptor) { return ::close(descriptor); },
            [](int descriptor, const char* path) {
                const std::string name = "/proc/self/fd/" + std::to_string(descriptor);
                return ::linkat(AT_FDCWD, name.c_str(), AT_FDCWD, path, AT_SYMLINK_FOLLOW);
            },
            [](const char* from, const char* to) { return ::link(from, to); },
            [](const char* from, const char* to) { return ::rename(from, to); },
            [](const char* from, const char* to) {
                return ::renameat2(AT_FDCWD, from, AT_FDCWD, to, RENAME_NOREPLACE);
            },
            [](const char* path) { return ::unlink(path); },
            [](int descriptor, int operation) { return ::flock(descriptor, operation); }};
}

FileOps& fileOps() {
    static FileOps ops = systemFileOps();
    return ops;
}

}  // namespace fg
