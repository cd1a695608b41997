#pragma once

#include "units/error.h"

#include <filesystem>
#include <string>

namespace fg {

/// A file, a pipe or a device that is read from its beginning, never mapped: what changes or shrinks meanwhile is an
/// error at worst.
class InputFile {
  public:
    /// "-" is the standard input. `expected`: what it should be, "a CSV file". Errors: Io for a folder, for what is not
    /// there or may not be read.
    [[nodiscard]] static Expected<InputFile> open(const std::filesystem::path& path, std::string_view expected);
    InputFile(InputFile&& other) noexcept;
    InputFile& operator=(InputFile&&) = delete;
    ~InputFile();

    /// Up to `count` bytes; 0 at the end. Error: Io, also for a pipe into which nothing comes for 10 s.
    [[nodiscard]] Expected<std::size_t> read(char* bytes, std::size_t count);

  private:
    InputFile(int descriptor, std::string name, std::string expected);
    int m_descriptor;
    bool m_isPatient = false;  ///< the standard input may take its time
    std::string m_name, m_expected;
};

}  // namespace fg
