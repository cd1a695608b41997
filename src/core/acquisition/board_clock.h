#pragma once

#include <deque>
#include <optional>

namespace fg {

/// A board's own clock mapped to ours: where its zero lies, how fast it runs, whether it was started anew.
///
/// A line arrives some time after the board wrote its time into it, never before; so the least of (arrival − board
/// time) over a while is nearest to the truth. One such minimum is kept for each ten seconds, and a straight line
/// through those of the last ten minutes gives offset and drift (least squares).
class BoardClock {
  public:
    /// What a time says about the clock besides the time.
    enum class Event {
        None,
        Restart,  ///< it went back: the board was reset
        Wrap      ///< it went back by the length of a 32-bit counter of milliseconds or microseconds
    };

    /// A line with `board_s` arrived at `arrived_s` of our clock. Both in s; ours only rises.
    Event take(double board_s, double arrived_s);

    /// When the last line was measured, on our clock: never after it arrived, never before the one before it.
    [[nodiscard]] double measuredAt_s() const { return m_measured_s; }
    /// How much faster than ours the board's clock runs, 1e-6; nothing before half a minute.
    [[nodiscard]] std::optional<double> drift_ppm() const;

  private:
    struct Least {
        double board_s, offset_s;
    };
    void restart(double board_s, double arrived_s);
    void fit();

    std::deque<Least> m_minima;  // one for each kBucket_s, the newest last
    bool m_isStarted = false;
    double m_before_s = 0;  // board time of the last line, wraps added
    double m_added_s = 0;   // of the wraps so far
    double m_measured_s = 0;
    double m_offset_s = 0, m_slope = 0, m_origin_s = 0;  // offset + slope · (board − origin)
};

}  // namespace fg
