#pragma once

#include "units/error.h"

#include <filesystem>
#include <memory>
#include <string_view>

namespace fg {

/// An output that takes the place of an earlier file only when it is whole.
///
/// Links are followed to the file they name. An ordinary file that is there keeps its permissions and, where the system
/// allows it, its owner. Devices, pipes and sockets are no files to be replaced: they are written to as they are.
/// Destroyed before commit(), or interrupted (removeUnfinished()), it leaves nothing and the earlier file as it was.
class OutputFile {
  public:
    /// Errors: Io, with the system's reason; Range for a name that is too long.
    [[nodiscard]] static Expected<std::unique_ptr<OutputFile>> open(const std::filesystem::path& path);
    ~OutputFile();
    OutputFile(const OutputFile&) = delete;
    OutputFile& operator=(const OutputFile&) = delete;

    /// False when it could not be written: commit() says why.
    bool write(std::string_view bytes);
    /// Stores it for good (synchronised) and puts it in place.
    [[nodiscard]] Expected<void> commit();

    /// Removes what unfinished outputs of this process stand on the disk. May be called in a signal handler.
    static void removeUnfinished() noexcept;

  private:
    OutputFile(std::filesystem::path target, std::filesystem::path unfinished, int descriptor);

    std::filesystem::path m_target;
    std::filesystem::path m_unfinished;  ///< empty: written in place
    int m_descriptor;
    int m_error = 0;
};

}  // namespace fg
