#pragma once

#include "path/analog_path.h"

namespace fg {

/// What the converter's pin sees at most while the measurand goes through the wanted span.
struct PinVoltage {
    double most_V = 0;  ///< V; 0 where the path carries no voltage
    double at = 0;      ///< measurand there, canonical
    double least_V = 0;
};
[[nodiscard]] PinVoltage worstPin(const GaugeSpec& spec, const AnalogPath& path);

}  // namespace fg
