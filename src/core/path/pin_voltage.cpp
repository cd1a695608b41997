#include "path/pin_voltage.h"

#include <algorithm>

namespace fg {

PinVoltage worstPin(const GaugeSpec& spec, const AnalogPath& path) {
    constexpr int kSteps = 64;  // outputs need not be monotonic
    PinVoltage worst;
    if (!path.converter().isAdc()) return worst;
    const Interval span = spec.spanCanonical();
    for (int i = 0; i <= kSteps; ++i) {
        const double world = span.low + span.width() * i / kSteps;
        const double pin_V = path.wiring().forward(path.signalAt(world));
        if (i == 0 || pin_V < worst.least_V) worst.least_V = pin_V;
        if (pin_V > worst.most_V) {
            worst.most_V = pin_V;
            worst.at = world;
        }
    }
    return worst;
}

}  // namespace fg
