// Room `sources`: where lines come from while time passes: a serial port, the simulated bench, a recording played
// again, files of the kernel. All of them give bytes of the line protocol, so that nothing behind them differs.
#pragma once

#include "catalogue/catalogue.h"
#include "units/error.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace fg {

/// Something that lines come from. It never waits: whoever asks says what time it is.
class Source {
  public:
    virtual ~Source() = default;

    /// "Simulated bench", "/dev/ttyUSB0, 115200 baud".
    [[nodiscard]] virtual std::string name() const = 0;

    /// Bytes, and when they came.
    struct Piece {
        double at_s = 0;
        std::string bytes;
    };
    struct Given {
        std::vector<Piece> pieces = {};
        bool isAtEnd = false;      ///< nothing will come any more
        std::string problem = {};  ///< what is wrong with it now; empty when it works
    };
    /// What came since the last call; `now_s` of a clock that begins at 0 with the source and only rises.
    [[nodiscard]] virtual Given take(double now_s) = 0;

    /// How long nothing is to be expected, s of the same clock; at most some tenths of a second.
    [[nodiscard]] virtual double quietFor_s(double now_s) const = 0;

    /// How fast its clock is to run: above 1 for what is played faster than it was.
    [[nodiscard]] virtual double speed() const { return 1; }
    /// What its clock's zero was, where it plays what was: microseconds since 1970-01-01T00:00:00Z.
    [[nodiscard]] virtual std::optional<std::int64_t> origin_us() const { return std::nullopt; }
    /// A file descriptor that becomes readable when something is there; −1: none.
    [[nodiscard]] virtual int descriptor() const { return -1; }
};

/// What a source is called on the command line, and opened:
/// `sim[@SPEED]` the simulated bench, workshop seconds a second (10);
/// `serial:PATH[@BAUD]` a serial port (115200);
/// `replay:FILE[@SPEED]` a recording's CSV, once, so many times as fast as it was (1 … 1000);
/// `sysfs:DIR` a folder of kernel files, or one that stands in for it.
/// Errors: Unknown for another kind; Range for a speed or a rate that cannot be; Io for what cannot be opened.
[[nodiscard]] Expected<std::unique_ptr<Source>> openSource(const std::string& text, const Catalogue& catalogue);

/// The single ones. `demo` is the folder with board.json. `speed` above 0.
[[nodiscard]] Expected<std::unique_ptr<Source>> simulatedSource(const std::string& demo, double speed,
                                                                const Catalogue& catalogue);
[[nodiscard]] Expected<std::unique_ptr<Source>> serialSource(const std::string& path, unsigned baud);
[[nodiscard]] Expected<std::unique_ptr<Source>> sysfsSource(const std::string& folder);

}  // namespace fg
