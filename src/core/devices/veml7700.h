#pragma once

namespace fg {

/// What one count of the VEML7700 at gain 2 and 800 ms is worth, as older editions of its data sheet state it; newer
/// ones state 0.0042 lx (the decoder's option "base_lx"). Internal to the room.
inline constexpr double kVemlBase_lx = 0.0036;

/// lx a count: halving the gain or the time doubles it (VEML7700 application note, designing into an application).
[[nodiscard]] constexpr double vemlStep_lx(double base_lx, double gain, double integration_ms) {
    return base_lx * (2 / gain) * (800 / integration_ms);
}

}  // namespace fg
