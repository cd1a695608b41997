#include "units/input_file.h"

#include <fcntl.h>
#include <poll.h>
#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <cstring>
#include <utility>

namespace fg {
namespace {

constexpr int kLongestWait_ms = 10000;

}  // namespace

InputFile::InputFile(int descriptor, std::string name, std::string expected)
    : m_descriptor(descriptor), m_name(std::move(name)), m_expected(std::move(expected)) {}

InputFile::InputFile(InputFile&& other) noexcept
    : m_descriptor(std::exchange(other.m_descriptor, -1)),
      m_isPatient(other.m_isPatient),
      m_name(std::move(other.m_name)),
      m_expected(std::move(other.m_expected)) {}

InputFile::~InputFile() {
    if (m_descriptor > STDERR_FILENO) ::close(m_descriptor);
}

Expected<InputFile> InputFile::open(const std::filesystem::path& path, std::string_view expected) {
    const std::string name = path.string(), wanted = std::string(expected) + " that can be read";
    if (name == "-") {
        InputFile input(STDIN_FILENO, "standard input", wanted);
        input.m_isPatient = true;
        return input;
    }
    // Without waiting: a pipe that nothing writes to must not hold the program.
    const int descriptor = ::open(name.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY);
    if (descriptor < 0) return fail(ErrorCode::Io, name, std::strerror(errno), wanted);
    InputFile input(descriptor, name, wanted);
    struct stat status {};
    if (::fstat(descriptor, &status) == 0 && S_ISDIR(status.st_mode))
        return fail(ErrorCode::Io, name, "a folder", wanted);
    return input;
}

Expected<std::size_t> InputFile::read(char* bytes, std::size_t count) {
    while (true) {
        const ssize_t got = ::read(m_descriptor, bytes, count);
        if (got >= 0) return static_cast<std::size_t>(got);
        if (errno == EINTR) continue;
        if (errno != EAGAIN) return fail(ErrorCode::Io, m_name, std::strerror(errno), m_expected);
        pollfd waiting{m_descriptor, POLLIN, 0};
        const int ready = ::poll(&waiting, 1, m_isPatient ? -1 : kLongestWait_ms);
        if (ready == 0) return fail(ErrorCode::Io, m_name, "a pipe into which nothing comes", m_expected);
        if (ready < 0 && errno != EINTR) return fail(ErrorCode::Io, m_name, std::strerror(errno), m_expected);
    }
}

}  // namespace fg
