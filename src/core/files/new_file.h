#pragma once

#include "units/error.h"

#include <filesystem>
#include <string_view>

namespace fg {

/// Writes a new file: complete under its name or not there at all, whatever stops it; never over another.
/// Errors: Range where the name is taken or too long, Io with the system's reason.
[[nodiscard]] Expected<void> writeNewFile(const std::filesystem::path& path, std::string_view bytes);

/// Gives a finished file beside it the name `path`, without replacing anything; works on file systems without links.
/// The unfinished one is removed when that fails. Errors as above.
[[nodiscard]] Expected<void> nameNewFile(const std::filesystem::path& finished, const std::filesystem::path& path);

/// A name beside `path` that no other process uses, for what is not finished yet: hidden, ending in ".part".
[[nodiscard]] std::filesystem::path unfinishedName(const std::filesystem::path& path);

/// A name that leaves room for the endings of files beside it. Error: Range.
[[nodiscard]] Expected<void> checkNameLength(const std::filesystem::path& path);

/// The error of the operation that just failed, by errno.
[[nodiscard]] tl::unexpected<Error> systemError(ErrorCode code, const std::filesystem::path& path,
                                                std::string expected);

/// Writes all of it; false with errno.
[[nodiscard]] bool writeAll(int descriptor, std::string_view bytes);

/// Makes the names in the folder of `path` last through a power cut; false with errno.
bool syncFolderOf(const std::filesystem::path& path);

}  // namespace fg
