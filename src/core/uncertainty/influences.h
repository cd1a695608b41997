#pragma once

#include "path/analog_path.h"
#include "sensors/family.h"

#include <vector>

namespace fg {

/// A parameter of the gauge that has a tolerance, ready to be moved. Internal to the room.
struct Influence {
    Stage stage = Stage::Sensor;
    ParameterSpec spec;
    double value = 0;
    double limit = 0;  ///< ±, in the parameter's own unit
};

/// What a gauge's reading depends on besides the measurand.
struct Influences {
    std::vector<Influence> parameters;
    std::optional<double> sensorAccuracy;  ///< ±, canonical; the part's own statement at this value
    double error_LSB = 0;                  ///< ± of the converter, in codes
    double noise_LSB = 0;                  ///< rms of the converter, in codes
    double signalTolerance = 0;            ///< ±, canonical: of points or a table, as it shows in the reading
    SelfHeating selfHeating;               ///< corrected in the reading; its uncertainty remains
    double correction = 0;                 ///< expanded (k = 2), canonical; of one whose points are not known
};

[[nodiscard]] Influences influencesAt(const GaugeSpec& spec, const AnalogPath& nominal, const Catalogue& catalogue,
                                      double world);

}  // namespace fg
