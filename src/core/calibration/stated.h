#pragma once

#include "path/gauge_spec.h"
#include "units/unit.h"

#include <string>

namespace fg {

/// How the uncertainty of a reference is known.
enum class StatedAs {
    Expanded,  ///< ± U, k = 2: u = U/2
    Limits,    ///< ± a, never more: u = a/√3 (rectangular; JCGM 100:2008, 4.3.7)
    Nearest,   ///< shown to the nearest step: u = step/(2·√3) (F.2.2.1)
    Unchecked  ///< nobody has checked it: not known
};
/// Standard uncertainty of `amount`; 0, not given, for Unchecked.
[[nodiscard]] double standardOf(StatedAs as, double amount);
/// What people state (k = 2) of a standard uncertainty.
[[nodiscard]] constexpr double statedOf(double standard) { return 2 * standard; }
/// "± 0.3 °C (k = 2)", "shown to the nearest 0.5 °C", "nobody has checked it": what a point keeps. `amount` canonical.
[[nodiscard]] std::string statedText(StatedAs as, double amount, const Unit& unit);
/// Whether nobody has checked what a point was compared with.
[[nodiscard]] bool isUnchecked(const CalibrationPoint& point);

/// A value as a person types it with what is known of it: "998 hPa ± 2", U (k = 2) behind ±. Canonical.
struct PlusMinus {
    double value = 0;
    double u = 0;  ///< standard uncertainty; 0: not given
};
/// Errors name `name`: those of readValue() and readDifference(); Range for a ± below 0.
[[nodiscard]] Expected<PlusMinus> readPlusMinus(std::string_view text, const std::string& name, Quantity quantity,
                                                const Unit* unit);

/// A comparison as a person takes it: the reference with what is known of it in this comparison alone, `ofMean` the
/// standard uncertainty of an averaged reading. Canonical; `unit` for the words.
[[nodiscard]] CalibrationPoint pointTaken(double reading, double reference, StatedAs as, double amount, double ofMean,
                                          const Unit& unit);

}  // namespace fg
