#pragma once

#include "acquisition/board_clock.h"
#include "acquisition/line_reader.h"

#include <map>

namespace fg {

/// A raw value with its channel and the time it was measured.
struct Sample {
    std::uint32_t channel = 0;  ///< see Feed::channelName()
    double time_s =
        0;  ///< on our clock: when it was measured, as far as the board's own clock tells, else when it came
    Raw raw;
};

/// Bytes of a board to samples. Keeps everything: what a line said comes out once and in order, nothing is thrown away
/// for something newer. Not for two threads at once.
class Feed {
  public:
    /// The samples that these bytes completed; they came at `now_s` of our clock, which only rises.
    [[nodiscard]] std::vector<Sample> take(std::string_view bytes, double now_s);

    /// The transport was interrupted; see LineReader::interrupt().
    void interrupt() { m_reader.interrupt(); }

    /// Channels have numbers from 0 on, in the order in which they first came.
    [[nodiscard]] const std::vector<std::string>& channelNames() const { return m_names; }
    /// The unit that a channel's readings were last written with; empty: it brings raw values. By channel number.
    [[nodiscard]] const std::vector<std::string>& channelUnits() const { return m_units; }
    [[nodiscard]] const LineReader& reader() const { return m_reader; }
    /// Null until a line brings the board's own time.
    [[nodiscard]] const BoardClock* clock() const { return m_hasClock ? &m_clock : nullptr; }
    [[nodiscard]] std::uint64_t restarts() const { return m_restarts; }
    [[nodiscard]] std::uint64_t wraps() const { return m_wraps; }

  private:
    std::uint32_t channelOf(const std::string& name);

    LineReader m_reader;
    BoardClock m_clock;
    bool m_hasClock = false;
    std::uint64_t m_restarts = 0, m_wraps = 0;
    std::map<std::string, std::uint32_t, std::less<>> m_channels;
    std::vector<std::string> m_names, m_units;
};

}  // namespace fg
