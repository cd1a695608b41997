#pragma once

#include "path/analog_path.h"
#include "registers/register_map.h"
#include "simulation/workshop.h"

#include <boost/random/mersenne_twister.hpp>
#include <string>
#include <vector>

namespace fg {

/// One analog channel of the virtual board: real hardware, a little off its nominal values, with noise.
struct VirtualChannel {
    std::string name;      ///< channel in the lines it sends
    std::string world;     ///< which value of the workshop it measures
    AnalogPath hardware;   ///< with the true component values
    double noise_LSB = 0;  ///< standard deviation at the converter
};

/// A digital part on the board's bus: what it measures of the workshop, and with how much noise.
struct VirtualDevice {
    std::string name;  ///< channel in the lines it sends
    const Device* device = nullptr;
    DeviceOptions options;
    RawData calibration;  ///< its own coefficients
    struct Sense {
        std::string reading, world;
        double noise = 0;  ///< standard deviation, canonical
    };
    std::vector<Sense> senses;
    std::string part = {};            ///< its designation
    unsigned address = 0;             ///< on the two-wire bus; 0 for parts of other lines
    std::vector<Setting> setup = {};  ///< what the board writes into its registers when it starts
};

/// The bytes a device sends for the workshop as it is: its measured blocks in order. A value beyond what it can say
/// saturates it: its largest raw number, as the part would send it.
[[nodiscard]] std::vector<std::uint8_t> measuredFrame(const VirtualDevice& device, const Workshop& workshop,
                                                      boost::random::mt19937& random);

/// What a board carries.
struct VirtualParts {
    std::vector<VirtualChannel> channels;
    std::vector<VirtualDevice> devices;
};

class RegisterDevice;

/// A microcontroller board that measures the workshop and sends lines (docs/line-protocol.md). Its digital parts are
/// asked at register level: set up when it starts, commanded where they need it, read when the line is made. A part
/// that does not acknowledge has no place in that line.
class VirtualBoard {
  public:
    VirtualBoard(VirtualParts parts, const Catalogue& catalogue, std::uint32_t seed = 1);
    ~VirtualBoard();
    VirtualBoard(VirtualBoard&&) noexcept;

    /// Lets `seconds` of workshop time pass, measures every channel once and gives the line, newline included:
    /// "t=12.500 pot=2155 air=233\n".
    [[nodiscard]] std::string measure(double seconds);

    [[nodiscard]] const Workshop& workshop() const { return m_workshop; }

  private:
    VirtualParts m_parts;
    std::vector<RegisterDevice> m_devices;
    Workshop m_workshop;
    double m_elapsed_s = 0;
    boost::random::mt19937 m_random;
};

/// Reads the board from `board.json` of a demo folder: for each analog channel its gauge file and what differs from it
/// in the real hardware; for each digital part its designation, channel, options, coefficients and what it senses.
[[nodiscard]] Expected<VirtualParts> readVirtualBoard(const std::string& folder, const Catalogue& catalogue);

}  // namespace fg
