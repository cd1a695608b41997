// Room `files`: what is done to files of the system: new files complete or not at all, outputs that replace what they
// were told to, bounded input. Every operation goes through one table, which tests replace.
#pragma once

#include <sys/types.h>
#include <cstddef>

namespace fg {

/// The system calls that write. Each as its manual page has it: negative with errno on failure.
struct FileOps {
    int (*open)(const char* path, int flags, mode_t mode);
    ssize_t (*write)(int descriptor, const void* bytes, std::size_t count);
    int (*fsync)(int descriptor);
    int (*close)(int descriptor);
    int (*linkDescriptor)(int descriptor, const char* path);  ///< a name for a file that has none (O_TMPFILE)
    int (*link)(const char* from, const char* to);
    int (*rename)(const char* from, const char* to);
    int (*renameToFree)(const char* from, const char* to);  ///< refuses (EEXIST) to replace
    int (*unlink)(const char* path);
    int (*flock)(int descriptor, int operation);
};

/// The table in use; a test may change it and must put it back.
[[nodiscard]] FileOps& fileOps();
[[nodiscard]] FileOps systemFileOps();

}  // namespace fg
