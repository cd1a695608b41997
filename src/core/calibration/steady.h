#pragma once

#include <deque>
#include <optional>

namespace fg {

/// Watches the readings of a gauge until they are steady, and averages them from then on.
///
/// Steady: over the last `window` seconds the straight line through the readings moves by less than their own scatter,
/// or than `fine`. The average is of that window; its standard uncertainty counts neighbours that are alike (series.h).
class SteadyWatch {
  public:
    /// `window` in s, above 0; `fine`: a movement that does not matter, canonical (one code).
    explicit SteadyWatch(double window_s = 20, double fine = 0) : m_window_s(window_s), m_fine(fine) {}

    /// A reading at `time_s`, which only rises; NaN starts anew.
    void take(double time_s, double reading);
    void restart();

    struct State {
        double covered_s = 0;  ///< how much of the window is there
        bool isSteady = false;
        double steadyFor_s = 0;   ///< since when, at least
        double mean = 0;          ///< canonical
        double meanStandard = 0;  ///< its standard uncertainty
        double slope = 0;         ///< a second
        std::size_t count = 0;
    };
    /// Nothing with fewer than three readings.
    [[nodiscard]] std::optional<State> state() const;
    [[nodiscard]] double window_s() const { return m_window_s; }

  private:
    struct Read {
        double time_s, reading;
    };
    double m_window_s, m_fine;
    std::deque<Read> m_read;
    std::optional<double> m_steadySince;
};

}  // namespace fg
