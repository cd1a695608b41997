#pragma once

#include <vector>
#include "catalogue/catalogue.h"
#include "path/analog_path.h"
#include "wiring/preferred_values.h"

namespace fg {

/// What the resistors around a sensor are chosen for.
enum class DividerAim {
    Resolution,  ///< most codes per unit at the worst place of the span
    Linearity    ///< the tap's voltage nearest to a straight line over the span
};

/// What is wanted of the resistor that is looked for.
struct SensorDividerWish {
    Series series = Series::E12;
    double tolerance = 0.01;        ///< of the resistor, relative
    double selfHeatingLimit_K = 0;  ///< most the sensor may warm itself anywhere on the span; 0: no limit. Needs
                                    ///< dissipation_W_per_K in the gauge
    std::size_t most = 8;           ///< how many options to return
    DividerAim aim = DividerAim::Resolution;
};

/// One standard value and what it gives.
struct SensorDividerOption {
    double fixed_ohm = 0;
    double parallel_ohm = 0;   ///< linearising resistor across the sensor; 0: none
    double worstCounts = 0;    ///< fewest codes per unit of the reading anywhere on the span, the resistor at the worse
                               ///< end of its tolerance
    double worstAt = 0;        ///< where that is, in the reading's unit
    double middleCounts = 0;   ///< codes per unit in the middle of the span, nominal
    double rangeUsed = 0;      ///< 0 … 1 of the codes, nominal
    double selfHeating_K = 0;  ///< most on the span, nominal; 0 when no dissipation constant is known
    double straightness =
        0;  ///< ± how far the reading would be off if the tap's voltage were taken for a straight line, in its unit
    bool tooWarm = false;    ///< above the limit: ranked after all others
    double lossToFirst = 0;  ///< 0 … 1 of the first option's worst counts
};

/// Ranks the standard resistors for the gauge's divider, its cable and linearising resistor as they are: by the fewest
/// codes per unit anywhere on the wanted span (the best worst case, not the best middle), or by straightness. The
/// search runs from a hundredth of the sensor's smallest to a hundred times its largest resistance on the span. Errors:
/// those of AnalogPath::build; Unsupported when the gauge has no divider with a resistive sensor.
[[nodiscard]] Expected<std::vector<SensorDividerOption>> sizeSensorDivider(const GaugeSpec& spec,
                                                                           const Catalogue& catalogue,
                                                                           const SensorDividerWish& wish);

/// The same for the linearising resistor across the sensor, with R1 as it is; none at all is one of the options. From a
/// stiff source only R1 ∥ Rp decides how straight it is, so Rp is for an R1 that is there already; where R1 can be
/// chosen, sizeSensorDivider() for linearity gives the same line with more volts.
[[nodiscard]] Expected<std::vector<SensorDividerOption>> sizeLinearisingResistor(const GaugeSpec& spec,
                                                                                 const Catalogue& catalogue,
                                                                                 const SensorDividerWish& wish);

}  // namespace fg
