// The circuits between sensor and converter, one drawing for each network of the core's `wiring` room.
#pragma once

#include "circuits/circuit_pen.h"

#include <vector>

namespace fg::gui {

/// A value in the picture that can be edited where it stands.
struct CircuitSpot {
    std::string field;  ///< "wiring.fixed_ohm", "converter.gain"; "wiring.source" is whatever feeds the sensor
    QString name;       ///< for undo steps and screen readers: "R1"
    QString caption;    ///< over the entry
    QString more = {};  ///< beside the caption: "1 %"
    Quantity quantity = Quantity::Resistance;
    QRectF box = {};        ///< in design pixels
    QString zeroText = {};  ///< what 0 means there
};

/// The size of every picture, in design pixels.
inline constexpr double kCircuitWidth = 364, kCircuitHeight = 322;

struct Circuit {
    const char* wiring;  ///< the core's wiring kind
    std::vector<CircuitSpot> (*spots)(const GaugeView& view);
    void (*paint)(CircuitPen& pen, const GaugeView& view);
};

/// The drawing of that network; a plain one for a network that has none of its own.
[[nodiscard]] const Circuit& circuitFor(const std::string& wiring);

}  // namespace fg::gui
