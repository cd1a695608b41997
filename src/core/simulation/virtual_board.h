#pragma once

#include "path/analog_path.h"
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

/// A microcontroller board that measures the workshop and sends lines (docs/line-protocol.md).
class VirtualBoard {
  public:
    explicit VirtualBoard(std::vector<VirtualChannel> channels, std::uint32_t seed = 1);

    /// Lets `seconds` of workshop time pass, measures every channel once and gives the line, newline included: "t=12.500 pot=2155
    /// air=233\n".
    [[nodiscard]] std::string measure(double seconds);

    [[nodiscard]] const Workshop& workshop() const { return m_workshop; }

  private:
    std::vector<VirtualChannel> m_channels;
    Workshop m_workshop;
    double m_elapsed_s = 0;
    boost::random::mt19937 m_random;
};

/// Reads the board from `board.json` of a demo folder: for each channel its gauge file and what differs from it in the real hardware.
[[nodiscard]] Expected<std::vector<VirtualChannel>> readVirtualBoard(const std::string& folder, const Catalogue& catalogue);

}  // namespace fg
