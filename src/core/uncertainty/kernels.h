#pragma once

#include "sensors/family.h"
#include "wiring/kind.h"

namespace fg {

/// A formula run with other parameters each time, without building anything on the way. `p` are the values of `ids` in
/// order.
struct SensorKernel {
    std::string_view family;
    std::vector<std::string> ids;
    std::vector<double> otherwise;  ///< for ids that neither gauge nor part gives
    double (*forward)(const double* p, const SensorContext& context, double x);
};

struct WiringKernel {
    std::string_view kind;
    std::vector<std::string> ids;
    double (*forward)(const double* p, bool sensorToGround, double source_V, double signal);
};

/// Null for families and kinds that have none: they are built anew for each draw, which is slower and gives the same.
[[nodiscard]] const SensorKernel* findSensorKernel(std::string_view family);
[[nodiscard]] const WiringKernel* findWiringKernel(std::string_view kind);

}  // namespace fg
