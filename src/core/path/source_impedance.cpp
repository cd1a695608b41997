#include "path/source_impedance.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

double parallel(double a, double b) {
    if (std::isinf(a)) return b;
    return std::isinf(b) ? a : a * b / (a + b);
}

}  // namespace

double sourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path, double world) {
    const Parameters& wiring = spec.wiring.parameters;
    if (spec.wiring.kind == "divider") {
        double branch = path.signalAt(world) + wiring.numberOr("lead_ohm", 0);
        if (const double across = wiring.numberOr("parallel_ohm", 0); across > 0) branch = parallel(branch, across);
        return parallel(branch, wiring.numberOr("fixed_ohm", 0));
    }
    if (spec.wiring.kind == "attenuator")
        return parallel(wiring.numberOr("top_ohm", 0), wiring.numberOr("bottom_ohm", 0));
    if (spec.wiring.kind == "load") return wiring.numberOr("load_ohm", 0);
    return 0;
}

double worstSourceImpedance_ohm(const GaugeSpec& spec, const AnalogPath& path) {
    const Interval span = spec.spanCanonical();
    return std::max(sourceImpedance_ohm(spec, path, span.low), sourceImpedance_ohm(spec, path, span.high));
}

}  // namespace fg
