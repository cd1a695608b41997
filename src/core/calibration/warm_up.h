#pragma once

#include "calibration/steady.h"
#include "units/unit.h"

#include <optional>
#include <string>

namespace fg {

/// The readings of a chip from its cold start on: how far it warms itself above where it began.
class WarmUp {
  public:
    /// A reading at `time_s` after power came; times only rise. Canonical.
    void take(double time_s, double reading);

    struct State {
        double first = 0, firstAt_s = 0;  ///< the reading nearest to the cold start
        double rise = 0;                  ///< above it: steady mean, or the last reading
        double after_s = 0;
        bool isSteady = false;
        double slope = 0;  ///< a second
    };
    [[nodiscard]] std::optional<State> state() const;
    /// That in words.
    [[nodiscard]] std::string text(const Unit& unit) const;

  private:
    static constexpr double kWindow_s = 60;
    SteadyWatch m_watch{kWindow_s};
    std::optional<State> m_state;
};

}  // namespace fg
