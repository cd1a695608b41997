#pragma once

namespace fg::physical {

inline constexpr double kZero_K = 273.15;    ///< 0 °C in K, by definition
inline constexpr double kGravity = 9.80665;  ///< standard gravity in m/s², by definition (3rd CGPM, 1901)
inline constexpr double kVapour = 461.5;     ///< specific gas constant of water vapour in J/(kg·K)

/// The standard atmosphere up to 11 km. Source: ISO 2533:1975, 2.1 and table 1.
inline constexpr double kSeaLevel_Pa = 101325, kSeaLevel_K = 288.15, kLapse_K_m = 0.0065;
/// Specific gas constant of dry air in J/(kg·K), same source.
inline constexpr double kAir = 287.05287;
/// g/(L·R): the exponent of the pressure in the lowest layer, 5.25588.
inline constexpr double kExponent = kGravity / (kLapse_K_m * kAir);

}  // namespace fg::physical
