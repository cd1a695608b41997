#pragma once

#include "formula/recorded.h"

namespace fg {

/// What one count of the VEML7700 at gain 2 and 800 ms is worth, as older editions of its data sheet state it; newer
/// ones state 0.0042 lx (the decoder's option "base_lx"). Internal to the room.
inline constexpr double kVemlBase_lx = 0.0036;

/// lx a count: halving the gain or the time doubles it (VEML7700 application note, designing into an application).
template <class N>
[[nodiscard]] N vemlStep_lx(const N& base_lx, const N& gain, const N& integration_ms) {
    return base_lx * (2.0 / gain) * (800.0 / integration_ms);
}

}  // namespace fg
