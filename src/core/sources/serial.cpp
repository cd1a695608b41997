#include "sources/source.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <termios.h>
#include <unistd.h>
#include <array>
#include <cerrno>
#include <cstring>

namespace fg {
namespace {

/// The constant of a baud rate, as termios names it; nothing for one it does not have.
std::optional<speed_t> speedOf(unsigned baud) {
    switch (baud) {
        case 300:
            return B300;
        case 1200:
            return B1200;
        case 2400:
            return B2400;
        case 4800:
            return B4800;
        case 9600:
            return B9600;
        case 19200:
            return B19200;
        case 38400:
            return B38400;
        case 57600:
            return B57600;
        case 115200:
            return B115200;
        case 230400:
            return B230400;
        case 460800:
            return B460800;
        case 500000:
            return B500000;
        case 921600:
            return B921600;
        case 1000000:
            return B1000000;
        case 2000000:
            return B2000000;
        default:
            return std::nullopt;
    }
}

/// A line that goes away is tried again every two seconds.
class SerialPort final : public Source {
  public:
    SerialPort(std::string path, unsigned baud, speed_t speed)
        : m_path(std::move(path)), m_baud(baud), m_speed(speed) {}
    ~SerialPort() override { close(); }
    std::string name() const override { return fmt::format("{}, {} baud", m_path, m_baud); }
    int descriptor() const override { return m_descriptor; }

    /// Opens it: 8 bits, no parity, no translation.
    bool open() {
        m_descriptor = ::open(m_path.c_str(), O_RDONLY | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
        termios settings{};
        if (m_descriptor < 0 || ::tcgetattr(m_descriptor, &settings) != 0) return lose();
        ::cfmakeraw(&settings);
        settings.c_cflag |= CLOCAL | CREAD;
        ::cfsetispeed(&settings, m_speed);
        ::cfsetospeed(&settings, m_speed);
        if (::tcsetattr(m_descriptor, TCSANOW, &settings) != 0) return lose();
        m_problem.clear();
        return true;
    }
    [[nodiscard]] const std::string& problem() const { return m_problem; }

    Given take(double now_s) override {
        constexpr double kRetry_s = 2;
        if (m_descriptor < 0 && now_s >= m_next_s && !open()) m_next_s = now_s + kRetry_s;
        Given given;
        // A flood is taken in pieces, so that whoever asked stays awake.
        constexpr std::size_t kMostAtOnce = 1 << 16;
        std::array<char, 4096> buffer;
        std::string bytes;
        while (m_descriptor >= 0 && bytes.size() < kMostAtOnce) {
            const ssize_t got = ::read(m_descriptor, buffer.data(), buffer.size());
            if (got > 0) {
                bytes.append(buffer.data(), static_cast<std::size_t>(got));
                continue;
            }
            if (got < 0 && errno == EINTR) continue;
            if (got < 0 && errno == EAGAIN) break;
            if (got == 0) errno = EIO;  // the other end hung up
            lose();
            m_next_s = now_s + kRetry_s;
        }
        if (!bytes.empty()) given.pieces.push_back({now_s, std::move(bytes)});
        given.problem = m_problem;
        return given;
    }
    double quietFor_s(double) const override { return 0.1; }

  private:
    bool lose() {
        m_problem = fmt::format("{}: {}", m_path, errno == ENOTTY ? "no serial port" : std::strerror(errno));
        close();
        return false;
    }
    void close() {
        if (m_descriptor >= 0) ::close(m_descriptor);
        m_descriptor = -1;
    }

    std::string m_path;
    unsigned m_baud;
    speed_t m_speed;
    int m_descriptor = -1;
    double m_next_s = 0;
    std::string m_problem;
};

}  // namespace

Expected<std::unique_ptr<Source>> serialSource(const std::string& path, unsigned baud) {
    const auto speed = speedOf(baud);
    if (!speed)
        return fail(ErrorCode::Range, "serial port", std::to_string(baud), "a usual baud rate: 9600, 57600, 115200 …");
    auto port = std::make_unique<SerialPort>(path, baud, *speed);
    if (!port->open()) return fail(ErrorCode::Io, path, port->problem(), "a serial port that can be opened");
    return port;
}

}  // namespace fg
