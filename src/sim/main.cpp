// fair-gauge-sim: the virtual board of the simulated bench, sending its lines on a pseudo-terminal as a board does on a
// serial port.

#include "simulation/register_bus.h"
#include "simulation/virtual_board.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>
#include <array>
#include <cerrno>
#include <CLI/CLI.hpp>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <thread>

namespace {

volatile std::sig_atomic_t stopWanted = 0;

/// The board's end of a pseudo-terminal in raw mode; the other end is a serial port to whoever opens it.
struct Terminal {
    int descriptor = -1;
    int keptOpen = -1;  // the far end, so that bytes are not lost between two listeners
    std::string path;
};

fg::Expected<Terminal> openTerminal() {
    Terminal terminal;
    terminal.descriptor = ::posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    const bool ready =
        terminal.descriptor >= 0 && ::grantpt(terminal.descriptor) == 0 && ::unlockpt(terminal.descriptor) == 0;
    const char* name = ready ? ::ptsname(terminal.descriptor) : nullptr;
    if (!name) return fg::fail(fg::ErrorCode::Io, "pseudo-terminal", std::strerror(errno), "one that can be opened");
    terminal.path = name;
    terminal.keptOpen = ::open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
    termios settings{};
    if (::tcgetattr(terminal.keptOpen, &settings) == 0) {
        ::cfmakeraw(&settings);
        ::tcsetattr(terminal.keptOpen, TCSANOW, &settings);
    }
    return terminal;
}

/// Writes what the line takes; a listener that does not read loses the newest bytes, as on a real line.
void send(int descriptor, std::string_view text) {
    while (!text.empty()) {
        const ssize_t written = ::write(descriptor, text.data(), text.size());
        if (written <= 0) return;
        text.remove_prefix(static_cast<std::size_t>(written));
    }
}

/// Where a symbolic link leads; empty for anything else.
std::string targetOf(const std::string& link) {
    std::array<char, 4096> target{};
    const ssize_t size = ::readlink(link.c_str(), target.data(), target.size());
    return size > 0 ? std::string(target.data(), static_cast<std::size_t>(size)) : std::string();
}

/// A link of that name to the terminal. An earlier link of ours, to a pseudo-terminal, is replaced; nothing else ever
/// is.
fg::Expected<void> makeLink(const std::string& link, const std::string& terminal) {
    if (targetOf(link).starts_with("/dev/pts/")) ::unlink(link.c_str());
    if (::symlink(terminal.c_str(), link.c_str()) == 0) return {};
    return fg::fail(fg::ErrorCode::Io, link, errno == EEXIST ? "something else of that name" : std::strerror(errno),
                    "a name for the link to the terminal");
}

/// Answers register requests until the other end goes away: from the terminal, or from standard input to standard
/// output.
void serveBus(fg::RegisterBus& bus, int in, int out, double speed) {
    std::string partial;
    auto before = std::chrono::steady_clock::now();
    while (!stopWanted) {
        pollfd waiting{in, POLLIN, 0};
        if (::poll(&waiting, 1, 100) < 0 && errno != EINTR) return;
        const auto now = std::chrono::steady_clock::now();
        bus.advance(speed * std::chrono::duration<double>(now - before).count());
        before = now;
        if (!(waiting.revents & (POLLIN | POLLHUP))) continue;
        std::array<char, 512> buffer{};
        const ssize_t got = ::read(in, buffer.data(), buffer.size());
        if (got == 0 || (got < 0 && errno != EAGAIN && errno != EINTR)) return;
        if (got > 0) partial.append(buffer.data(), static_cast<std::size_t>(got));
        for (std::size_t end; (end = partial.find('\n')) != std::string::npos; partial.erase(0, end + 1))
            send(out, bus.answer(partial.substr(0, end)) + "\n");
        if (partial.size() > 4096) partial.clear();
    }
}

}  // namespace

int main(int argc, char** argv) {
    CLI::App program{"Plays the workshop's simulated board on a pseudo-terminal.", "fair-gauge-sim"};
    std::string folder, link;
    double rate_Hz = 4, speed = 10;
    std::uint64_t count = 0;
    std::uint32_t seed = 1;
    bool toStdout = false, asBus = false;
    program.add_option("--board", folder, "folder with board.json and its gauges; default: the shipped demo");
    program.add_option("--rate", rate_Hz, "lines a second")->check(CLI::Range(0.01, 1000.0))->capture_default_str();
    program.add_option("--speed", speed, "workshop seconds per real second")
        ->check(CLI::Range(0.0, 10000.0))
        ->capture_default_str();
    program.add_option("--count", count, "stop after so many lines; 0: never");
    program.add_option("--seed", seed, "of the noise")->capture_default_str();
    program.add_option("--link", link, "also make a symbolic link of this name to the terminal");
    program.add_flag("--stdout", toStdout, "write to standard output instead of a terminal");
    program.add_flag("--bus", asBus,
                     "answer register reads and writes of the board's digital parts instead of sending lines");
    program.set_version_flag("--version", "fair-gauge-sim " FAIRGAUGE_VERSION);
    CLI11_PARSE(program, argc, argv);

    const auto folders = fg::Catalogue::standardFolders();
    const fg::Catalogue catalogue = fg::Catalogue::read(folders);
    if (folder.empty()) folder = (folders.front() / "demo").string();
    const auto parts = fg::readVirtualBoard(folder, catalogue);
    if (!parts) {
        fmt::print(stderr, "fair-gauge-sim: {}\n", parts.error().message());
        return 2;
    }
    fg::VirtualBoard board(*parts, catalogue, seed);

    int descriptor = STDOUT_FILENO;
    std::string terminalPath;
    if (!toStdout) {
        const auto terminal = openTerminal();
        if (!terminal) {
            fmt::print(stderr, "fair-gauge-sim: {}\n", terminal.error().message());
            return 2;
        }
        descriptor = terminal->descriptor;
        fmt::print("{}\n", terminal->path);
        std::fflush(stdout);
        if (!link.empty())
            if (const auto made = makeLink(link, terminal->path); !made) {
                fmt::print(stderr, "fair-gauge-sim: {}\n", made.error().message());
                return 2;
            }
        terminalPath = terminal->path;
    }
    const auto stop = [](int) { stopWanted = 1; };
    std::signal(SIGINT, stop);
    std::signal(SIGTERM, stop);
    std::signal(SIGPIPE, SIG_IGN);
    if (asBus) {
        fg::RegisterBus bus(parts->devices, catalogue, seed);
        serveBus(bus, toStdout ? STDIN_FILENO : descriptor, descriptor, speed);
    }
    for (std::uint64_t line = 0; !asBus && !stopWanted && (count == 0 || line < count); ++line) {
        send(descriptor, board.measure(line == 0 ? 0 : speed / rate_Hz));
        std::this_thread::sleep_for(std::chrono::duration<double>(1 / rate_Hz));
    }
    if (!link.empty() && targetOf(link) == terminalPath) ::unlink(link.c_str());
    return 0;
}
