#pragma once

namespace fg {

/// One conductor of 0.22 mm²: annealed copper, 0.017241 Ω·mm²/m at 20 °C (IEC 60028).
inline constexpr double kWire_ohm_per_m = 0.0784;

/// Between two conductors of a usual signal cable, where nobody has measured it.
inline constexpr double kCable_F_per_m = 100e-12;

}  // namespace fg
