#include "uncertainty/kernels.h"

#include "sensors/ntc_beta.h"
#include "sensors/platinum.h"
#include "sensors/power_law.h"
#include "wiring/divider.h"

#include <array>

namespace fg {
namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

template <class Made>
double forwardOf(const Made& made, double x) {
    return made ? made->forward(x) : kNaN;
}

const std::array kSensors{
    SensorKernel{"ntc-beta",
                 {"r25_ohm", "beta_K", "t0_degC"},
                 {0, 0, 25},
                 [](const double* p, const SensorContext&, double x) {
                     const double t0_K = p[2] + kKelvinAt0degC, t_K = x + kKelvinAt0degC;
                     return p[0] > 0 && p[1] > 0 && t0_K > 0 && t_K > 0
                                ? NtcBeta::resistance_ohm(p[0], p[1], 1 / t0_K, t_K)
                                : kNaN;
                 }},
    SensorKernel{"platinum",
                 {"r0_ohm"},
                 {0},
                 [](const double* p, const SensorContext& c, double x) {
                     return forwardOf(Platinum::make(p[0], c.range), x);
                 }},
    SensorKernel{"photoresistor",
                 {"r10_ohm", "gamma"},
                 {0, 0},
                 [](const double* p, const SensorContext& c, double x) {
                     return forwardOf(PowerLaw::make(p[0], p[1], c.range), x);
                 }},
};

const std::array kWirings{
    WiringKernel{"divider",
                 {"fixed_ohm", "lead_ohm", "parallel_ohm"},
                 [](const double* p, bool low, double source_V, double signal) {
                     const SensorSide side = low ? SensorSide::Low : SensorSide::High;
                     if (p[1] != 0 || p[2] != 0)
                         return forwardOf(Divider::make(side, p[0], source_V, {p[1], p[2]}), signal);
                     return p[0] > 0 && source_V > 0 ? Divider::tap_V(side, signal, p[0], source_V) : kNaN;
                 }},
    WiringKernel{"direct", {}, [](const double*, bool, double, double signal) { return signal; }},
};

}  // namespace

const SensorKernel* findSensorKernel(std::string_view family) {
    for (const SensorKernel& kernel : kSensors)
        if (kernel.family == family) return &kernel;
    return nullptr;
}

const WiringKernel* findWiringKernel(std::string_view kind) {
    for (const WiringKernel& kernel : kWirings)
        if (kernel.kind == kind) return &kernel;
    return nullptr;
}

}  // namespace fg
