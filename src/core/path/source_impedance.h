#pragma once

#include "path/analog_path.h"

namespace fg {

/// What the converter's pin looks into at a value of the measurand (canonical), in Ω: divider (cable and linearising
/// resistor included), attenuator and load. 0 for every other network, whose source is not known. Source: Thévenin's
/// theorem, the source's own impedance taken as 0.
[[nodiscard]] double sourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path, double world);

/// The largest of it over the wanted span: its two ends, since it is monotonic in the sensor.
[[nodiscard]] double worstSourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path);

}  // namespace fg
