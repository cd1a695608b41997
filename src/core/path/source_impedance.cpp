#include "path/source_impedance.h"

#include "wiring/kind.h"

#include <algorithm>

namespace fg {

double sourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path, double world) {
    const WiringKind* kind = findWiringKind(spec.wiring.kind);
    if (!kind || !kind->sourceImpedance_ohm) return 0;
    return kind->sourceImpedance_ohm(spec.wiring.parameters, path.signalAt(world));
}

double worstSourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path) {
    const Interval span = spec.spanCanonical();
    return std::max(sourceImpedance_ohm(spec, path, span.low), sourceImpedance_ohm(spec, path, span.high));
}

}  // namespace fg
